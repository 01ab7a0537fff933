import type { Act } from '../../../core/rules/rule.ts';
import {
  LevelRuleContent,
  levelRuleSentence,
  levelRuleVocabulary,
} from '../../../core/protection/rules/level-rule.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { lensLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { RULES } from '../links.ts';
import { useLevelRule, useLevelRuleNames } from '../use-protection.ts';

/** A rule that sets a level where a lens holds. */
export function LevelRuleSheet({ id }: { readonly id: string }) {
  const rule = useLevelRule(id);
  const names = useLevelRuleNames();
  const mayRun = useMay('protection.run');
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the rule" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={LevelRuleContent}
      sentence={levelRuleSentence(names)}
      vocabulary={levelRuleVocabulary(names)}
      detail={({ lens }) => (
        <>
          Where several rules hold, the strongest level wins ·{' '}
          <a href={lensLink(lensText(lens))}>Look at the items it holds for</a>
        </>
      )}
      means={{
        draft: 'it sets nothing; the soundings tell what it would',
        rehearsing: 'counted beside the others, and sets nothing',
        inForce: 'weighed with the others whenever levels are set',
        stopped: 'it is not weighed; what it set stands',
      }}
      done={DONE_WORDS}
      edit="protection.edit"
      force="protection.put-in-force"
      list={RULES}
      actions={
        mayRun && (
          <Button onClick={() => setQuery({ new: 'run', rule: id }, 'push')}>Set levels backwards …</Button>
        )
      }
    />
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: it is counted, and sets nothing.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: it is weighed from now on. Set levels backwards for what is held already.',
  pause: 'Paused: what it set stands.',
  resume: 'In force again.',
  retire: 'Retired: what it set stands. It can be taken up again.',
  reopen: 'A draft again.',
};
