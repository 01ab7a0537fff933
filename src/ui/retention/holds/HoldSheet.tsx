import type { Act } from '../../../core/rules/rule.ts';
import { HoldContent, holdSentence, holdVocabulary } from '../../../core/retention/holds/hold.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import { lensLink } from '../../holdings/offers.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { HOLDS } from '../links.ts';
import { useHold, useRetentionNames } from '../use-retention.ts';

/** What stays, whatever else is said. */
export function HoldSheet({ id }: { readonly id: string }) {
  const rule = useHold(id);
  const names = useRetentionNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the hold" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={HoldContent}
      sentence={holdSentence(names, [])}
      vocabulary={holdVocabulary(names)}
      detail={({ lens }) => (
        <>
          It beats every rule and every law, and takes in what comes later ·{' '}
          <a href={lensLink(lensText(lens))}>Look at the items</a>
        </>
      )}
      means={{
        draft: 'it holds nothing yet',
        rehearsing: 'it holds nothing yet',
        inForce: 'what it covers stays, whatever else is said',
        stopped: 'released: rules decide again',
      }}
      done={DONE_WORDS}
      acts={{ rehearse: null, pause: null, 'put in force': 'Place it', retire: 'Release it' }}
      edit="retention.hold"
      force="retention.hold"
      list={HOLDS}
    />
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: it holds nothing yet.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'It holds, from this moment on.',
  pause: '',
  resume: 'It holds again.',
  retire: 'Released: rules decide again.',
  reopen: 'A draft again.',
};
