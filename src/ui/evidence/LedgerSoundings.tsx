import { useQuery } from '@tanstack/react-query';
import type * as evidenceVerifyApi from '../../pages/api/evidence/verify.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { setQuery, useDeskLocation } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { numberWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { CopyText } from '../parts/CopyText.tsx';
import { GroundList } from '../parts/Explanation.tsx';
import { SoundingsSection } from '../parts/SoundingsSection.tsx';
import { Failure } from '../parts/states.tsx';
import { useLedgerState } from './LedgerSheet.tsx';
import css from './evidence.module.css';

export function LedgerSoundings() {
  const { query } = useDeskLocation();
  const asked = query.get('verify') === 'now';
  const first = useLedgerState();
  const verified = useQuery({
    queryKey: ['verify'],
    queryFn: () => request<AnswerOf<typeof evidenceVerifyApi.POST>>('POST', '/api/evidence/verify', {}),
    enabled: asked,
    staleTime: 0,
    gcTime: 0,
  });
  const state = first.data?.state;
  return (
    <>
      <SoundingsSection title="Soundings · is it whole?">
        {!asked && (
          <>
            <p>Every tree and the chain of heads can be recomputed from what is stored now.</p>
            <Button kind="primary" className={css['gap']} onClick={() => setQuery({ verify: 'now' })}>
              Verify it now
            </Button>
          </>
        )}
        {asked && verified.isFetching && <p role="status">Recomputing every tree …</p>}
        {asked && verified.isError && (
          <Failure error={verified.error} onRetry={() => void verified.refetch()} />
        )}
        {asked && verified.data && !verified.isFetching && (
          <div role="status">
            <GroundList
              grounds={
                verified.data.ok
                  ? [
                      {
                        mark: '✓',
                        words: `In order: ${numberWords(verified.data.entries)} entries in ${numberWords(verified.data.trees)} trees`,
                      },
                      { mark: '✓', words: 'No entry was edited, dropped or moved since it was sealed' },
                      {
                        mark: '✓',
                        words: `${numberWords(verified.data.records)} consent records and sweep reports are as they were recorded`,
                      },
                    ]
                  : [{ mark: '◆', words: verified.data.why ?? 'Not in order' }]
              }
            />
            <Button className={css['gap']} onClick={() => void verified.refetch()}>
              Verify again
            </Button>
          </div>
        )}
      </SoundingsSection>
      {state?.head && (
        <SoundingsSection title="The head">
          <p>
            Note this somewhere else, such as in the minutes. It is what shows, later, that nothing before it
            was rewritten.
          </p>
          <CopyText label="Head of the ledger" text={state.head} />
          <p className={css['dim']}>Sealed {state.sealedAt && whenWords(state.sealedAt)}</p>
        </SoundingsSection>
      )}
      <SoundingsSection title="Checked by someone outside">
        <p>The export is one file. Anyone with a copy of Yare Warden checks it without a database:</p>
        <CopyText label="Command" text="./yare verify-ledger FILE --head HEX" />
      </SoundingsSection>
    </>
  );
}
