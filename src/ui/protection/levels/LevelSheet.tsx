import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { LevelContent } from '../../../core/protection/levels/level-content.ts';
import { levelSentence, levelVocabulary } from '../../../core/protection/levels/level-sentence.ts';
import type { Act } from '../../../core/rules/rule.ts';
import type { ListedLevel } from '../../../server/protection/levels/levels.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { NameSlot } from '../../rules/NameSlot.tsx';
import { RuleFrame, rulePath } from '../../rules/RuleFrame.tsx';
import { RemoveDraft } from '../../rules/RemoveDraft.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { draftFaults } from '../../rules/draft-faults.ts';
import { useDraft } from '../../rules/use-draft.ts';
import { LEVELS } from '../links.ts';
import { useLevel, useLevels } from '../use-protection.ts';
import { LevelPreview } from './LevelPreview.tsx';
import { TryLevel } from './TryLevel.tsx';
import css from '../protection.module.css';

/** A level: what it means, what it looks like on a page, and where it may be used. */
export function LevelSheet({ id }: { readonly id: string }) {
  const level = useLevel(id);
  const levels = useLevels();
  if (level.isError && !level.data)
    return <Failure error={level.error} onRetry={() => void level.refetch()} />;
  if (!level.data || !levels.data) return <Loading what="the level" />;
  return <LevelEditor level={level.data} levels={levels.data} />;
}

function LevelEditor({
  level,
  levels,
}: {
  readonly level: RuleView<LevelContent>;
  readonly levels: readonly ListedLevel[];
}) {
  const mayEdit = useMay('protection.edit');
  const mayForce = useMay('protection.put-in-force');
  const draft = useDraft(rulePath(level), level);
  const [trying, setTrying] = useState(false);
  const { content, set } = draft;
  const wrong = draftFaults(LevelContent, draft);
  return (
    <>
      <SheetHead
        title={
          <span className={css['named']}>
            <span className={css['swatch']} style={{ background: content.colour }} aria-hidden />
            <NameSlot
              name={content.name}
              set={(name) => set({ ...content, name })}
              fixed={!mayEdit}
              error={wrong(['name'])}
              most={80}
            />
          </span>
        }
        detail={<Place id={String(level.key)} levels={levels} mayMove={mayForce} />}
        actions={
          <>
            {mayEdit && level.lastVersion === 0 && (
              <RemoveDraft rule={level} name={content.name} revision={draft.revision} to={LEVELS} />
            )}
            {mayEdit && <Button onClick={() => setTrying(true)}>Try it on a file</Button>}
          </>
        }
      />
      <RuleFrame
        what="level"
        vocabulary={levelVocabulary()}
        rule={level}
        draft={draft}
        means={{
          draft: 'nobody is offered it, and no rule sets it',
          rehearsing: 'rules can be rehearsed with it; nothing is stamped',
          inForce: 'rules set it, and people choose it',
          stopped: 'what carries it keeps it; nothing new is given it',
        }}
        done={DONE_WORDS}
        mayEdit={mayEdit}
        mayForce={mayForce}
      >
        <div className={css['columns']}>
          <div>
            <RuleSentence
              sentence={levelSentence(content)}
              content={content}
              set={set}
              fixed={!mayEdit}
              error={wrong}
            />
          </div>
          <LevelPreview content={content} />
        </div>
      </RuleFrame>
      {trying && <TryLevel id={String(level.key)} name={content.name} onClose={() => setTrying(false)} />}
    </>
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: nothing is stamped with it.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force':
    'In force: rules set it from now on. What carries an older version keeps that until it is set anew.',
  pause: 'Paused: what carries it keeps it.',
  resume: 'In force again.',
  retire: 'Retired: it stays readable on what carries it. It can be taken up again.',
  reopen: 'A draft again.',
};

/** Where it stands among the others, and moving it there. */
function Place({
  id,
  levels,
  mayMove,
}: {
  readonly id: string;
  readonly levels: readonly ListedLevel[];
  readonly mayMove: boolean;
}) {
  const at = levels.findIndex((l) => l.id === id);
  const order = useMutation({
    mutationFn: (strongestFirst: readonly string[]) =>
      request('POST', '/api/protection/levels/order', { strongestFirst }),
    onError: tellFailure,
  });
  const move = (by: -1 | 1) => {
    const ids = levels.map((l) => l.id);
    const before = [...ids];
    ids.splice(at + by, 0, ...ids.splice(at, 1));
    order.mutate(ids, {
      onSuccess: () =>
        tell('What wins where several rules hold has changed with it.', { undo: () => order.mutate(before) }),
    });
  };
  const [above, below] = [levels[at - 1], levels[at + 1]];
  const words =
    [below && `Above ${below.name}`, above && `${below ? 'below' : 'Below'} ${above.name}`]
      .filter(Boolean)
      .join(', ') || 'The only one there is';
  return (
    <>
      {words}
      {mayMove && above && (
        <>
          {' · '}
          <button type="button" className={css['linkButton']} onClick={() => move(-1)}>
            Make it stronger
          </button>
        </>
      )}
      {mayMove && below && (
        <>
          {' · '}
          <button type="button" className={css['linkButton']} onClick={() => move(1)}>
            Make it weaker
          </button>
        </>
      )}
    </>
  );
}
