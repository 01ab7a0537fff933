import { useState, type ReactNode } from 'react';
import type { Vocabulary } from '../../core/rules/change.ts';
import { openActs, versionInForce, type Act, type Stage } from '../../core/rules/rule.ts';
import type { ListedVersion, Rule } from '../../server/rules/rule-store.ts';
import { request, RequestError } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';
import type { Draft } from '../desk/use-draft.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from './Button.tsx';
import { ConflictDialog } from './ConflictDialog.tsx';
import { StageBar } from './StageBar.tsx';
import css from './RuleFrame.module.css';

export interface RuleWithVersions<T> extends Rule<T> {
  /** What the draft changes in the newest version, in words. */
  readonly changes: readonly string[];
  readonly versions: readonly ListedVersion[];
}

interface RuleFrameProps<T> {
  /** What the rule is called in sentences. */
  readonly what: string;
  readonly vocabulary: Vocabulary;
  /** Endpoints `move` and `take-back` stand below it. */
  readonly path: string;
  readonly rule: RuleWithVersions<T>;
  readonly draft: Draft<T>;
  readonly means: React.ComponentProps<typeof StageBar>['means'];
  /** What is told once an act is done. */
  readonly done: Readonly<Record<Act['act'], string>>;
  readonly mayEdit: boolean;
  readonly mayForce: boolean;
  /** The rule itself. */
  readonly children: ReactNode;
  /** Between the rule and its versions. */
  readonly below?: ReactNode;
}

/** A rule with its state, what can be done with it, its draft’s changes and its versions. */
export function RuleFrame<T>({
  what,
  vocabulary,
  path,
  rule,
  draft,
  means,
  done,
  mayEdit,
  mayForce,
  children,
  below,
}: RuleFrameProps<T>) {
  const [refused, setRefused] = useState<RequestError | undefined>();
  const [busy, setBusy] = useState(false);
  const ask = async (work: () => Promise<unknown>) => {
    setBusy(true);
    setRefused(undefined);
    try {
      await work();
    } catch (e) {
      if (e instanceof RequestError) setRefused(e);
    } finally {
      setBusy(false);
    }
  };
  const act = (one: Act['act']): Promise<void> =>
    ask(async () => {
      await request('POST', `${path}/move`, { act: one, revision: draft.revision });
      const back = undoOf(one);
      tell(done[one], back ? { undo: () => act(back) } : {});
    });
  const takeBack = (version: number) =>
    ask(async () => {
      await request('POST', `${path}/take-back`, { version, revision: draft.revision });
      tell(`Version ${version} is back in the draft. Put it in force to use it.`);
    });
  const changed = rule.changes.length > 0 || rule.lastVersion === 0;
  const overForce = versionInForce(rule.stage) !== undefined && rule.stage.state !== 'rehearsing';
  return (
    <>
      <StageBar
        stage={rule.stage}
        means={means}
        acts={
          mayForce
            ? actsOf(rule.stage, changed).map((a) => ({
                act: a,
                words: a === 'put in force' && overForce ? 'Put the changes in force' : ACT_WORDS[a],
                primary: a === 'put in force' || a === 'resume',
              }))
            : []
        }
        onAct={(a) => void act(a)}
        busy={busy || draft.saving !== 'saved'}
      />
      {refused && (
        <div role="alert" className={css['refused']}>
          <p>◆ {refused.message}</p>
          {refused.refusal.fields.map((f) => (
            <p key={f.message}>{f.message}</p>
          ))}
        </div>
      )}
      {draft.error && (
        <p role="alert" className={css['trouble']}>
          ◆ Not saved: {draft.error.refusal.fields.map((f) => f.message).join(' ') || draft.error.message}
        </p>
      )}
      {children}
      {mayEdit && (
        <div className={css['bar']}>
          <span role="status" className={css['dim']}>
            {draft.saving === 'saved'
              ? `Saved · edited ${whenWords(rule.editedAt)}${rule.editedBy ? ` by ${rule.editedBy}` : ''}`
              : draft.error
                ? 'Not saved'
                : 'Saving …'}
          </span>
          {draft.undo && <Button onClick={draft.undo}>Undo</Button>}
        </div>
      )}
      {below}
      {rule.changes.length > 0 && (
        <section className={css['history']}>
          <h2>What the draft changes in version {rule.lastVersion}</h2>
          <ul className={css['changes']}>
            {rule.changes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </section>
      )}
      {rule.versions.length > 0 && (
        <section className={css['history']}>
          <h2>Versions</h2>
          <ul className={css['versions']}>
            {rule.versions.map((v) => (
              <li key={v.version}>
                <b>Version {v.version}</b> {whenWords(v.madeAt)}
                {v.madeBy && ` · ${v.madeBy}`}{' '}
                {v.changes.length > 0 && <span className={css['dim']}>· {v.changes.join('; ')}</span>}
                {mayEdit && v.version !== rule.lastVersion && (
                  <Button kind="quiet" onClick={() => void takeBack(v.version)}>
                    Take it back
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {draft.conflict && (
        <ConflictDialog
          what={what}
          vocabulary={vocabulary}
          conflict={draft.conflict}
          mine={draft.content}
          onSettle={draft.settle}
        />
      )}
    </>
  );
}

const ACT_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearse it',
  'end rehearsal': 'End the rehearsal',
  'put in force': 'Put it in force',
  pause: 'Pause it',
  resume: 'Put it back in force',
  retire: 'Retire it',
  reopen: 'Take it up again as a draft',
};

/** Putting in force is offered only when there is something new to put in force. */
function actsOf(stage: Stage, changed: boolean): readonly Act['act'][] {
  return openActs(stage).filter((a) =>
    stage.state === 'in force' && (a === 'rehearse' || a === 'put in force') ? changed : true,
  );
}

function undoOf(act: Act['act']): Act['act'] | undefined {
  switch (act) {
    case 'rehearse':
      return 'end rehearsal';
    case 'pause':
      return 'resume';
    case 'resume':
      return 'pause';
    default:
      return undefined;
  }
}
