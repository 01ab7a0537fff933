import { useQuery } from '@tanstack/react-query';
import type * as evidenceProofApi from '../../pages/api/evidence/proof.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { X } from 'lucide-react';
import { verifyEntry } from '../../core/evidence/ledger.ts';
import { setQuery } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { numberWords, whenWords } from '../desk/words.ts';
import { GroundList } from '../parts/Explanation.tsx';
import { SoundingsSection } from '../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import css from './evidence.module.css';

/** One entry and its path to the sealed head, recomputed here in the browser. */
export function EntrySoundings({ id }: { readonly id: string }) {
  const opened = useQuery({
    queryKey: ['entry', id],
    queryFn: () => request<AnswerOf<typeof evidenceProofApi.GET>>('GET', `/api/evidence/proof?id=${id}`),
  });
  if (opened.isError) return <Failure error={opened.error} onRetry={() => void opened.refetch()} />;
  if (!opened.data) return <Loading what="the entry" />;
  const { entry, proof } = opened.data;
  const verified = proof ? verifyEntry(proof) : false;
  return (
    <article>
      <SoundingsSection title={`Entry ${numberWords(Number(entry.id))}`}>
        <div className={css['opened']}>
          <h3>{entry.action}</h3>
          <button type="button" aria-label="Close the entry" onClick={() => setQuery({ entry: null })}>
            <X size={15} aria-hidden />
          </button>
        </div>
        <p>
          {whenWords(entry.at)} · {entry.object} {entry.objectId}
        </p>
        <pre className={css['json']} tabIndex={0} aria-label="Detail">
          {JSON.stringify(entry.detail, null, 2)}
        </pre>
      </SoundingsSection>
      <SoundingsSection title="Proof">
        {proof ? (
          <>
            <GroundList
              grounds={[
                {
                  mark: verified ? '✓' : '◆',
                  words: verified
                    ? `Its path of ${proof.path.length} hashes leads to the root of tree ${proof.tree.number}`
                    : 'Its path does not lead to the sealed root: the entry or the tree was changed',
                },
                {
                  mark: '✓',
                  words: `Sealed ${whenWords(proof.tree.sealedAt)} with ${numberWords(proof.tree.size - 1)} others`,
                },
              ]}
            />
            <p className={css['hash']}>
              Head <code>{proof.tree.head}</code>
            </p>
            <a
              href={`data:application/json,${encodeURIComponent(JSON.stringify(proof, null, 2))}`}
              download={`entry-${entry.id}.json`}
            >
              Export this entry with its proof
            </a>
          </>
        ) : (
          <p>○ Waiting to be sealed, which happens every few seconds.</p>
        )}
      </SoundingsSection>
    </article>
  );
}
