import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { isOpen, type AlertAct, type StepKind } from '../../../core/protection/alerts/alert.ts';
import { OUTCOME_WORDS } from '../../../core/protection/lookouts/watch-lines.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useHandlingNames } from '../handling/use-handling.ts';
import { alertLink, raiserLink } from '../links.ts';
import { EndDialog, type Noted } from './EndDialog.tsx';
import { KeyLink } from './KeyLink.tsx';
import { actOn, useAlert, type ViewedAlert } from './use-alerts.ts';
import css from '../protection.module.css';

/** One alert: whose acts they are and why that matters, what to do about it, the acts, and what happened since. */
export function AlertSheet({ id }: { readonly id: string }) {
  const alert = useAlert(id);
  const client = useQueryClient();
  const [noting, setNoting] = useState<Noted>();
  const mayReport = useMay('cases.incidents');
  if (alert.isError && !alert.data)
    return <Failure error={alert.error} onRetry={() => void alert.refetch()} />;
  if (!alert.data) return <Loading what="the alert" />;
  const a = alert.data;
  const put = async (does: AlertAct) => {
    client.setQueryData(['alert', id], await actOn(a.id, does));
    await client.invalidateQueries({ queryKey: ['alerts'] });
    tell(SAID[does.act]);
  };
  const quick = (does: AlertAct) => void put(does).catch(tellFailure);
  const open = isOpen(a.state);
  return (
    <>
      <SheetHead
        title={a.name}
        detail={
          <>
            Alert {a.id} · {a.severity} severity · about {a.category} · raised {whenWords(a.raisedAt)} by
            version {a.version} of <a href={raiserLink(a)}>its {a.byKind}</a>
          </>
        }
        actions={
          <>
            {a.state === 'new' && (
              <Button kind="primary" onClick={() => quick({ act: 'look into' })}>
                Look into it
              </Button>
            )}
            {open && <Button onClick={() => setNoting('solve')}>Solved</Button>}
            {open && <Button onClick={() => setNoting('set aside')}>Set aside</Button>}
            {!open && <Button onClick={() => setNoting('open again')}>Open again</Button>}
            <Button onClick={() => setNoting('note')}>Note</Button>
            {mayReport && (
              <a
                href={`/cases/incidents?new=incident&kind=other&title=${encodeURIComponent(`${a.name}, alert ${a.id}`)}`}
              >
                It is an incident
              </a>
            )}
          </>
        }
      />
      <p className={css['answer']}>
        {a.state === 'new' && <span className={css['mark']}>◆ </span>}
        <KeyLink of={a.key} />: {a.because}
      </p>
      <Sentence label="It is">
        {a.state === 'solved' ? '✓ solved' : a.state === 'set aside' ? 'set aside: it was none' : a.state}
        {a.note && `: “${a.note}”`}, and{' '}
        <Slot
          label="Whose it is"
          words={a.assigned ? `${a.assigned}’s` : 'nobody’s yet'}
          fixed={!open}
          edit={{
            kind: 'choice',
            value: String(a.assignedTo ?? ''),
            options: [
              { value: '', words: 'nobody’s' },
              ...a.assignees.map((w) => ({ value: String(w.id), words: w.name })),
            ],
            set: (to) => quick({ act: 'assign', to: to === '' ? null : Number(to) }),
          }}
        />
        .
      </Sentence>
      <Sentence label="Before">
        {a.before.raised === 0
          ? 'it was never raised for them.'
          : `it was raised ${a.before.raised === 1 ? 'once' : countWords(a.before.raised, 'time')} for them${a.before.setAside > 0 ? `; ${a.before.setAside === a.before.raised ? 'that was' : `${a.before.setAside} were`} set aside` : ''}.`}
      </Sentence>
      {a.ofOneCause.length > 0 && (
        <Sentence label="One cause">
          with{' '}
          {a.ofOneCause.map((o, i) => (
            <span key={o.id}>
              {i > 0 && ', '}
              <a href={alertLink(o.id)}>
                {o.name} ({o.key.split('@')[0]})
              </a>
            </span>
          ))}
          .
        </Sentence>
      )}
      <Acts alert={a} />
      <Timeline alert={a} />
      {noting && <EndDialog does={noting} send={put} onClose={() => setNoting(undefined)} />}
    </>
  );
}

const SAID: Readonly<Record<AlertAct['act'], string>> = {
  'look into': 'You look into it.',
  solve: 'It is solved.',
  'set aside': 'It is set aside, and counts as none.',
  'open again': 'It is open again.',
  note: 'It stands in the timeline.',
  assign: 'They have it now.',
};

/** What was done, each act opening to why it was decided so. */
function Acts({ alert: { events, acts, key } }: { readonly alert: ViewedAlert }) {
  const names = useHandlingNames();
  const maySee = useMay('protection.activity');
  const { query } = useDeskLocation();
  const opened = query.get('event');
  const several = events.some(({ event: e }) => e.person !== key);
  return (
    <>
      <h2 className={css['heading']}>What was done</h2>
      {events.length < acts && (
        <p className={css['note']}>
          The last {events.length} of {countWords(acts, 'act')}; what is kept no longer is not shown.
        </p>
      )}
      <table className={css['table']} aria-label="What was done">
        <thead>
          <tr>
            <th scope="col">When</th>
            {several && <th scope="col">Person</th>}
            <th scope="col">Did</th>
            <th scope="col">What</th>
            <th scope="col">Found</th>
            <th scope="col">Decided</th>
          </tr>
        </thead>
        <tbody>
          {events.map(({ event: e }) => (
            <tr key={e.at + e.id} data-opened={opened === e.id || undefined}>
              <td>
                {maySee ? (
                  <button
                    type="button"
                    className={css['linkButton']}
                    onClick={() => setQuery({ event: e.id, at: e.at }, 'push')}
                  >
                    {whenWords(e.at)}
                  </button>
                ) : (
                  whenWords(e.at)
                )}
              </td>
              {several && <td>{e.person.split('@')[0]}</td>}
              <td>{e.change ? e.change.action : e.channel ? `${e.act} · ${e.channel}` : e.act}</td>
              <td className={css['name']}>
                {e.item ? e.item.name || 'text' : e.change ? `${e.change.object} ${e.change.id}` : '–'}
              </td>
              <td>
                {e.findings
                  .slice(0, 2)
                  .map((f) => `${f.matches} ${names?.items.value('data', f.detector) ?? f.detector}`)
                  .join(', ') || '–'}
              </td>
              <td>
                {OUTCOME_WORDS[e.outcome]}
                {e.answer && ` · ${e.answer}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const STEP: Readonly<Record<StepKind, string>> = {
  raised: 'Raised',
  again: 'Again',
  told: 'Told by',
  'not told': 'Nobody was told',
  'look into': 'Looked into',
  solve: 'Solved',
  'set aside': 'Set aside',
  'open again': 'Opened again',
  note: 'Noted',
  assign: 'Given to',
};

function Timeline({ alert: { steps, tellAt } }: { readonly alert: ViewedAlert }) {
  return (
    <>
      <h2 className={css['heading']}>Since then</h2>
      <ol className={css['day']} aria-label="Since then">
        {steps.map((s, i) => (
          <li key={`${s.at} ${i}`}>
            <time dateTime={s.at}>{whenWords(s.at)}</time> <b>{STEP[s.kind]}</b>
            {s.kind === 'told' || s.kind === 'assign' ? ' ' : s.words && ': '}
            {s.words}
            {s.by && <span className={css['place']}> · {s.by}</span>}
          </li>
        ))}
        {tellAt && (
          <li>
            <span className={css['note']}>○ Told {whenWords(tellAt)}, when quiet hours are over.</span>
          </li>
        )}
      </ol>
    </>
  );
}
