import {
  PublicationContent,
  publicationSentence,
  publicationVocabulary,
  type PublicationNames,
} from '../../../core/protection/publishing/publication.ts';
import type { Act } from '../../../core/rules/rule.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { draftFaults } from '../../rules/draft-faults.ts';
import { NameSlot } from '../../rules/NameSlot.tsx';
import { RemoveDraft } from '../../rules/RemoveDraft.tsx';
import { RuleFrame, rulePath } from '../../rules/RuleFrame.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { useDraft } from '../../rules/use-draft.ts';
import { PUBLISHED } from '../links.ts';
import { usePublication, usePublicationNames } from '../use-publishing.ts';

/** Who is offered which levels. */
export function PublicationSheet({ id }: { readonly id: string }) {
  const rule = usePublication(id);
  const names = usePublicationNames();
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data || !names.data) return <Loading what="the publication" />;
  return <PublicationEditor rule={rule.data} names={names.data} />;
}

function PublicationEditor({
  rule,
  names,
}: {
  readonly rule: RuleView<PublicationContent>;
  readonly names: PublicationNames;
}) {
  const mayEdit = useMay('protection.edit');
  const mayForce = useMay('protection.put-in-force');
  const draft = useDraft(rulePath(rule), rule);
  const { content, set } = draft;
  const wrong = draftFaults(PublicationContent, draft);
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
        detail="Levels of all publications that are for somebody are offered to them; the nearest says in what order"
        actions={
          mayEdit &&
          rule.lastVersion === 0 && (
            <RemoveDraft rule={rule} name={content.name} revision={draft.revision} to={PUBLISHED} />
          )
        }
      />
      <RuleFrame
        what="publication"
        vocabulary={publicationVocabulary(names)}
        rule={rule}
        draft={draft}
        means={{
          draft: 'nobody is offered anything by it',
          rehearsing: 'counted, and nobody is offered anything by it',
          inForce: 'people choose from it in their programs',
          stopped: 'nobody is offered anything by it; what carries a level keeps it',
        }}
        done={DONE_WORDS}
        mayEdit={mayEdit}
        mayForce={mayForce}
      >
        <RuleSentence
          sentence={publicationSentence(names)}
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
  rehearse: 'Rehearsing: it is counted, and nobody sees it.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: people are offered these levels when they next ask for them.',
  pause: 'Paused: nobody is offered these levels by it.',
  resume: 'In force again.',
  retire: 'Retired: nobody is offered these levels by it. It can be taken up again.',
  reopen: 'A draft again.',
};
