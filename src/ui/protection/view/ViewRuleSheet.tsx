import {
  ViewRuleContent,
  viewRuleSentence,
  viewRuleVocabulary,
} from '../../../core/protection/view/view-rule.ts';
import type { Act } from '../../../core/rules/rule.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { ACTIVITY } from '../links.ts';
import { useViewRule, useWatchNames } from './use-view.ts';

/** What is kept in view, for how long. */
export function ViewRuleSheet({ id }: { readonly id: string }) {
  const rule = useViewRule(id);
  const names = useWatchNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the rule" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={ViewRuleContent}
      sentence={viewRuleSentence(names)}
      vocabulary={viewRuleVocabulary(names)}
      detail={() => 'Where several rules hold, the one that keeps an act the longest wins'}
      means={{
        draft: 'nothing is kept otherwise; what it would change is told beside it',
        rehearsing: 'counted beside it, and nothing is kept otherwise',
        inForce: 'it holds for what is told from now on',
        stopped: 'what it kept stays for as long as it said',
      }}
      done={DONE_WORDS}
      edit="protection.watch"
      force="protection.watch"
      list={ACTIVITY}
      actions={<a href={ACTIVITY}>Activity</a>}
    />
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: nothing is kept otherwise.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: it holds for what is told from now on.',
  pause: 'Paused: kinds say again how long acts are kept.',
  resume: 'In force again.',
  retire: 'Retired. What it kept stays for as long as it said.',
  reopen: 'A draft again.',
};
