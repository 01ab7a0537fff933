import type { ReactNode } from 'react';
import type { z } from 'zod';
import type { Vocabulary } from '../../core/rules/change.ts';
import type { Sentence } from '../../core/rules/sentence.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { useMay } from '../desk/account-context.ts';
import { SheetHead } from '../parts/SheetHead.tsx';
import { draftFaults } from './draft-faults.ts';
import { NameSlot } from './NameSlot.tsx';
import { RemoveDraft } from './RemoveDraft.tsx';
import { RuleFrame, rulePath } from './RuleFrame.tsx';
import { RuleSentence } from './RuleSentence.tsx';
import { useDraft } from './use-draft.ts';

interface SentenceSheetProps<T> {
  readonly rule: RuleView<T>;
  /** What is put in force. */
  readonly schema: z.ZodType<T>;
  /** One whose parts depend on what it says, from its draft. */
  readonly sentence: Sentence | ((content: T) => Sentence);
  readonly vocabulary: Vocabulary;
  /** Below its name. */
  readonly detail: (content: T) => ReactNode;
  readonly means: React.ComponentProps<typeof RuleFrame>['means'];
  readonly done: React.ComponentProps<typeof RuleFrame>['done'];
  readonly acts?: React.ComponentProps<typeof RuleFrame>['acts'];
  /** Permissions to change it, and to put it in force. */
  readonly edit: Parameters<typeof useMay>[0];
  readonly force: Parameters<typeof useMay>[0];
  /** Where one goes once its draft is removed. */
  readonly list: string;
  /** What else can be done with it. */
  readonly actions?: ReactNode;
  /** Below the sentence. */
  readonly below?: (content: T, set: (content: T) => void) => ReactNode;
}

/** The sheet of a rule that has a name and is a sentence, and nothing besides. */
export function SentenceSheet<T extends { readonly name: string }>({
  rule,
  schema,
  sentence,
  vocabulary,
  detail,
  means,
  done,
  acts,
  edit,
  force,
  list,
  actions,
  below,
}: SentenceSheetProps<T>) {
  const mayEdit = useMay(edit);
  const mayForce = useMay(force);
  const draft = useDraft(rulePath(rule), rule);
  const { content, set } = draft;
  const wrong = draftFaults(schema, draft);
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
        detail={detail(content)}
        actions={
          <>
            {mayEdit && rule.lastVersion === 0 && (
              <RemoveDraft rule={rule} name={content.name} revision={draft.revision} to={list} />
            )}
            {actions}
          </>
        }
      />
      <RuleFrame
        what={rule.object}
        vocabulary={vocabulary}
        rule={rule}
        draft={draft}
        means={means}
        done={done}
        acts={acts}
        mayEdit={mayEdit}
        mayForce={mayForce}
      >
        <RuleSentence
          sentence={typeof sentence === 'function' ? sentence(content) : sentence}
          content={content}
          set={set}
          fixed={!mayEdit}
          error={wrong}
        />
        {below?.(content, set)}
      </RuleFrame>
    </>
  );
}
