import type { Act } from '../../../core/rules/rule.ts';
import {
  LawBoundContent,
  lawBoundSentence,
  lawBoundVocabulary,
  type LawBoundDraft,
} from '../../../core/retention/rules/law-bound.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { LAW } from '../links.ts';
import { useLawBound, useRetentionNames } from '../use-retention.ts';

/** How long the law asks to keep something, at least or at most. */
export function LawSheet({ id }: { readonly id: string }) {
  const rule = useLawBound(id);
  const names = useRetentionNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the bound" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={LawBoundContent as never}
      sentence={(content: LawBoundDraft) => lawBoundSentence(names, content)}
      vocabulary={lawBoundVocabulary(names)}
      detail={() => 'No rule leaves it, whatever it says; where two cross, the longer minimum counts'}
      means={{
        draft: 'no rule is kept to it',
        rehearsing: 'no rule is kept to it yet',
        inForce: 'every rule is kept to it',
        stopped: 'no rule is kept to it',
      }}
      done={DONE_WORDS}
      edit="retention.edit"
      force="retention.put-in-force"
      list={LAW}
    />
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: no rule is kept to it yet.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: every rule is kept to it.',
  pause: 'Paused: no rule is kept to it.',
  resume: 'In force again.',
  retire: 'Retired: no rule is kept to it. It can be taken up again.',
  reopen: 'A draft again.',
};
