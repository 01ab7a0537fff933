import { useState, type ReactNode } from 'react';
import type { Vocabulary } from '../../core/rules/change.ts';
import { openActs, versionInForce, type Act, type Stage } from '../../core/rules/rule.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { request, RequestError } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { lazyPart } from '../parts/lazy-part.tsx';
import { ApprovalPanel } from './ApprovalPanel.tsx';
import { ApprovalPolicy } from './ApprovalPolicy.tsx';
import { ConflictDialog } from './ConflictDialog.tsx';
import { PastEdits } from './PastEdits.tsx';
import { StageBar } from './StageBar.tsx';
import type { Draft } from './use-draft.ts';
import css from './RuleFrame.module.css';

/** Where the endpoints of a rule are. */
export function rulePath({ object, key }: Pick<RuleView<unknown>, 'object' | 'key'>): string {
  return `/api/rules/${encodeURIComponent(object)}/${encodeURIComponent(key)}`;
}

interface RuleFrameProps<T> {
  /** What the rule is called in sentences. */
  readonly what: string;
  readonly vocabulary: Vocabulary;
  readonly rule: RuleView<T>;
  readonly draft: Draft<T>;
  readonly means: React.ComponentProps<typeof StageBar>['means'];
  /** What is told once an act is done. */
  readonly done: Readonly<Record<Act['act'], string>>;
  /** What acts are called where that is something else; null for one that there is not. */
  readonly acts?: Readonly<Partial<Record<Act['act'], string | null>>> | undefined;
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
  rule,
  draft,
  means,
  done,
  acts = {},
  mayEdit,
  mayForce,
  children,
  below,
}: RuleFrameProps<T>) {
  const nameOf = (one: Act['act']) => acts[one] ?? ACT_WORDS[one];
  const path = rulePath(rule);
  const [asking, setAsking] = useState(false);
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
  const isAgreed = rule.approval?.state === 'agreed' && rule.approval.version === rule.lastVersion;
  const asks = rule.needed > 0 && !(isAgreed && rule.changes.length === 0);
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
  const waits = rule.approval?.state === 'open' && rule.approval.version === rule.lastVersion && !changed;
  const overForce = versionInForce(rule.stage) !== undefined && rule.stage.state !== 'rehearsing';
  return (
    <>
      <StageBar
        stage={rule.stage}
        means={means}
        acts={
          mayForce
            ? actsOf(rule.stage, changed)
                .filter((a) => acts[a] !== null && !(a === 'put in force' && waits))
                .map((a) => ({
                  act: a,
                  words:
                    a !== 'put in force'
                      ? nameOf(a)
                      : asks
                        ? 'Ask for it to be in force …'
                        : overForce
                          ? 'Put the changes in force'
                          : nameOf(a),
                  primary: a === 'put in force' || a === 'resume',
                }))
            : []
        }
        onAct={(a) => (a === 'put in force' && asks ? setAsking(true) : void act(a))}
        busy={busy || draft.saving !== 'saved'}
      />
      <ApprovalPanel rule={rule} path={path} mayForce={mayForce} />
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
      {draft.revision > 0 && (
        <PastEdits
          path={path}
          summary="Every edit of it"
          revision={draft.revision}
          act={
            mayEdit && draft.saving === 'saved'
              ? {
                  words: 'Take this edit back',
                  do: async (revision) => {
                    await request('POST', `${path}/undo`, { revision });
                    tell('Taken back, out of the draft.');
                  },
                }
              : undefined
          }
        />
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
      <ApprovalPolicy object={rule.object} />
      {asking && (
        <AskDialog rule={rule} path={path} revision={draft.revision} onClose={() => setAsking(false)} />
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

const AskDialog = lazyPart('who could agree', async () => (await import('./AskDialog.tsx')).AskDialog);

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
