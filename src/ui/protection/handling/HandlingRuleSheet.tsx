import type { Act } from '../../../core/rules/rule.ts';
import {
  HandlingRuleContent,
  handlingRuleSentence,
  handlingVocabulary,
} from '../../../core/protection/handling/handling-rule.ts';
import { Failure, Loading } from '../../parts/states.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { HANDLING } from '../links.ts';
import { MendList } from './MendList.tsx';
import { ReplayTable } from './ReplayTable.tsx';
import { useHandlingNames, useHandlingRule } from './use-handling.ts';

/** What may be done with data in motion. */
export function HandlingRuleSheet({ id }: { readonly id: string }) {
  const rule = useHandlingRule(id);
  const names = useHandlingNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the rule" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={HandlingRuleContent}
      sentence={(content) => handlingRuleSentence(content, names)}
      vocabulary={handlingVocabulary(rule.data.content, names)}
      detail={() => 'Where several rules hold, the strictest decides; the others are recorded beside it'}
      means={{
        draft: 'edits touch nobody; what it would have done is told beside it',
        rehearsing: 'counted on every device, nobody is asked',
        inForce: 'decided on every device that has taken it',
        stopped: 'devices forget it with their next rules',
      }}
      done={DONE_WORDS}
      edit="protection.edit"
      force="protection.put-in-force"
      list={HANDLING}
      below={(content, set) => (
        <>
          <MendList id={id} revision={rule.data.revision} content={content} set={set} />
          <ReplayTable id={id} revision={rule.data.revision} />
        </>
      )}
    />
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: devices count it, and ask nobody.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: devices decide by it once they take their next rules.',
  pause: 'Paused: devices let go of it with their next rules.',
  resume: 'In force again.',
  retire: 'Retired. It can be taken up again.',
  reopen: 'A draft again.',
};
