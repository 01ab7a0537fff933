import type { Act } from '../../../core/rules/rule.ts';
import {
  LevelRuleContent,
  levelRuleSentence,
  levelRuleVocabulary,
  type LevelRuleNames,
} from '../../../core/protection/rules/level-rule.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { lensLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { NameSlot } from '../../rules/NameSlot.tsx';
import { RuleFrame, rulePath } from '../../rules/RuleFrame.tsx';
import { RemoveDraft } from '../../rules/RemoveDraft.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { draftFaults } from '../../rules/draft-faults.ts';
import { useDraft } from '../../rules/use-draft.ts';
import { RULES } from '../links.ts';
import { useLevelRule, useLevelRuleNames } from '../use-protection.ts';

/** A rule that sets a level where a lens holds. */
export function LevelRuleSheet({ id }: { readonly id: string }) {
  const rule = useLevelRule(id);
  const names = useLevelRuleNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names) return <Loading what="the rule" />;
  return <LevelRuleEditor rule={rule.data} names={names} />;
}

function LevelRuleEditor({
  rule,
  names,
}: {
  readonly rule: RuleView<LevelRuleContent>;
  readonly names: LevelRuleNames;
}) {
  const mayEdit = useMay('protection.edit');
  const mayForce = useMay('protection.put-in-force');
  const mayRun = useMay('protection.run');
  const draft = useDraft(rulePath(rule), rule);
  const { content, set } = draft;
  const wrong = draftFaults(LevelRuleContent, draft);
  return (
    <>
      <SheetHead
        title={
          <NameSlot
            name={content.name}
            set={(name) => set({ ...content, name })}
            fixed={!mayEdit}
            error={wrong(['name'])}
          />
        }
        detail={
          <>
            Where several rules hold, the strongest level wins ·{' '}
            <a href={lensLink(lensText(content.lens))}>Look at the items it holds for</a>
          </>
        }
        actions={
          <>
            {mayEdit && rule.lastVersion === 0 && (
              <RemoveDraft rule={rule} name={content.name} revision={draft.revision} to={RULES} />
            )}
            {mayRun && (
              <Button onClick={() => setQuery({ new: 'run', rule: String(rule.key) }, 'push')}>
                Set levels backwards …
              </Button>
            )}
          </>
        }
      />
      <RuleFrame
        what="level rule"
        vocabulary={levelRuleVocabulary(names)}
        rule={rule}
        draft={draft}
        means={{
          draft: 'it sets nothing; the soundings tell what it would',
          rehearsing: 'counted beside the others, and sets nothing',
          inForce: 'weighed with the others whenever levels are set',
          stopped: 'it is not weighed; what it set stands',
        }}
        done={DONE_WORDS}
        mayEdit={mayEdit}
        mayForce={mayForce}
      >
        <RuleSentence
          sentence={levelRuleSentence(names)}
          content={content}
          set={set}
          fixed={!mayEdit}
          error={wrong}
        />
      </RuleFrame>
    </>
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
