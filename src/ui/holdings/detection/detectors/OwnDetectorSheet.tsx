import { useEffect } from 'react';
import type { Act } from '../../../../core/rules/rule.ts';
import { detectorVocabulary } from '../../../../core/holdings/detection/detector/detector-vocabulary.ts';
import { KIND_WORDS, type OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { useMay } from '../../../desk/account-context.ts';
import { go } from '../../../desk/location.ts';
import { useDraft } from '../../../rules/use-draft.ts';
import { Button } from '../../../parts/Button.tsx';
import { RemoveDraft } from '../../../rules/RemoveDraft.tsx';
import { RuleFrame, rulePath } from '../../../rules/RuleFrame.tsx';
import { SheetHead } from '../../../parts/SheetHead.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { DETECTORS } from '../../links.ts';
import { draftInHand } from './draft-in-hand.ts';
import { LearnedPanel } from '../learned/LearnedPanel.tsx';
import { LikenessPanel } from '../likeness/LikenessPanel.tsx';
import { PatternSentences } from '../pattern/PatternSentences.tsx';
import { RosterPanel } from '../roster/RosterPanel.tsx';
import type { OpenedOwn } from './opened-own.ts';
import { UsedBy } from './UsedBy.tsx';
import { useDetectorName } from './use-detectors.ts';
import css from '../../holdings.module.css';

const DONE: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: what it finds is shown apart, and counts for nothing yet.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: everything is read with it from now on.',
  pause: 'Paused: nothing is read with it.',
  resume: 'In force again.',
  retire: 'Retired: nothing is read with it. It can be taken up again.',
  reopen: 'A draft again.',
};

/** A detector of one’s own, of any kind, under edit. */
export function OwnDetectorSheet({ of }: { readonly of: OpenedOwn }) {
  const id = String(of.key);
  const mayEdit = useMay('holdings.edit');
  const nameOf = useDetectorName();
  const draft = useDraft<OwnDetector>(rulePath(of), of);
  const { content, set, before } = draft;
  useEffect(() => {
    draftInHand.set({
      content,
      before,
      lastVersion: of.lastVersion,
      copiedFrom: of.copiedFrom,
      set: mayEdit ? set : undefined,
    });
    // `set` is made anew at each render and means the same as long as the content does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [content, before, of.lastVersion, of.copiedFrom, mayEdit]);
  useEffect(() => () => draftInHand.set(undefined), []);
  const error = (field: string) =>
    draft.error?.refusal.fields.find((f) => f.field === field || f.field === `content.${field}`)?.message;
  return (
    <>
      <SheetHead
        title={
          <Slot
            label="Name"
            words={content.name}
            error={error('name')}
            fixed={!mayEdit}
            edit={{
              kind: 'text',
              most: 120,
              value: content.name,
              check: (t) => (t.trim() === '' ? 'Give it a name.' : ''),
              set: (name) => set({ ...content, name: name.trim() }),
            }}
          />
        }
        actions={
          <>
            {content.kind === 'pattern' && (
              <Button onClick={() => location.assign(`/api/holdings/detectors/export?id=${id}`)}>
                Export
              </Button>
            )}
            {mayEdit && of.lastVersion === 0 && (
              <RemoveDraft
                rule={of}
                name={content.name}
                revision={draft.revision}
                also={of.texts.length > 0 ? `, and the ${of.texts.length} texts it was made from` : ''}
                to={DETECTORS}
              />
            )}
            <Button onClick={() => go(DETECTORS)}>All detectors</Button>
          </>
        }
        detail={
          <>
            <span className={css['id']}>{id}</span> · {KIND_WORDS[content.kind]}
            {of.copiedFrom && ` · began as a copy of ${nameOf(of.copiedFrom)}`}
            {' · '}
            <Slot
              label="What it is for"
              words={content.about || (mayEdit ? '' : '—')}
              fixed={!mayEdit}
              edit={{
                kind: 'text',
                long: true,
                most: 2000,
                value: content.about,
                set: (about) => set({ ...content, about }),
              }}
            />
          </>
        }
      />
      <RuleFrame
        what="detector"
        vocabulary={detectorVocabulary}
        rule={of}
        draft={draft}
        means={{
          draft: 'read with in trials only',
          rehearsing: 'what it finds is shown apart',
          inForce: 'everything is read with it',
          stopped: 'nothing is read with it',
        }}
        done={DONE}
        mayEdit={mayEdit}
        mayForce={useMay('holdings.put-in-force')}
        below={<UsedBy uses={of.usedBy} />}
      >
        {content.kind === 'pattern' ? (
          <PatternSentences content={content} set={set} fixed={!mayEdit} error={error} />
        ) : content.kind === 'roster' ? (
          <RosterPanel of={of} content={content} set={set} fixed={!mayEdit} saving={draft.saving} />
        ) : content.kind === 'likeness' ? (
          <LikenessPanel of={of} content={content} set={set} fixed={!mayEdit} />
        ) : (
          <LearnedPanel of={of} content={content} set={set} fixed={!mayEdit} />
        )}
      </RuleFrame>
    </>
  );
}
