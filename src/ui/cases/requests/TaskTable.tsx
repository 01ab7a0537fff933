import { useState } from 'react';
import { dayText } from '../../../core/text/day.ts';
import type { RequestTask } from '../../../server/cases/requests/tasks/tasks.ts';
import type { TaskAct } from '../../../server/cases/requests/tasks/tasks.ts';
import { useMay } from '../../desk/account-context.ts';
import { tell } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { daysUntil } from './RequestRegister.tsx';
import { useTaskPeople } from './use-requests.ts';
import css from '../cases.module.css';

/** What owners of systems have to do, by when, and what came of it. */
export function TaskTable({
  tasks,
  onAct,
  title = 'What owners do',
  href,
}: {
  readonly tasks: readonly RequestTask[];
  readonly onAct: (task: number, does: TaskAct) => Promise<unknown>;
  readonly title?: string;
  /** Where one is looked at. */
  readonly href?: (task: RequestTask) => string;
}) {
  const [acting, setActing] = useState<{ readonly task: RequestTask; readonly act: 'done' | 'hand on' }>();
  const may = useMay('cases.task');
  return (
    <>
      <h2 className={css['heading']}>{title}</h2>
      <table className={css['table']} aria-label={title}>
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Who</th>
            <th scope="col">Due</th>
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          {tasks.map((t) => (
            <tr key={t.id}>
              <td>{href ? <a href={href(t)}>{t.what}</a> : t.what}</td>
              <td>{t.owner ?? 'nobody'}</td>
              <td>
                {t.doneAt === null && daysUntil(t.dueOn) < 0 ? (
                  <span className={css['mark']}>◆ {dayText(t.dueOn)}</span>
                ) : (
                  dayText(t.dueOn)
                )}
              </td>
              <td>
                {t.doneAt !== null ? (
                  `✓ ${t.outcome}${t.doneBy ? `, ${t.doneBy}` : ''}`
                ) : may ? (
                  <span className={css['tight']}>
                    <Button onClick={() => setActing({ task: t, act: 'done' })}>Done</Button>
                    <Button onClick={() => setActing({ task: t, act: 'hand on' })}>Hand on</Button>
                  </span>
                ) : (
                  `○ open${t.nudgedOn ? ', those above were told' : t.remindedOn ? ', reminded' : ''}`
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {acting && (
        <TaskDialog
          {...acting}
          send={(does) => onAct(acting.task.id, does)}
          onClose={() => setActing(undefined)}
        />
      )}
    </>
  );
}

function TaskDialog({
  task,
  act,
  send: put,
  onClose,
}: {
  readonly task: RequestTask;
  readonly act: 'done' | 'hand on';
  readonly send: (does: TaskAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [words, setWords] = useState('');
  const [to, setTo] = useState('');
  const people = useTaskPeople();
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={act === 'done' ? 'Done' : 'Hand it on'}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put(act === 'done' ? { act, outcome: words } : { act, to: Number(to) });
          tell(act === 'done' ? 'It is done.' : 'It is theirs now.');
          onClose();
        })
      }
      act={act === 'done' ? 'It is done' : 'Hand it on'}
      busy={busy}
      disabled={act === 'hand on' && to === ''}
      refused={error('does.outcome', 'to') ? undefined : refused?.message}
    >
      <p>{task.what}</p>
      {act === 'done' ? (
        <Field label="What you found or did" error={error('does.outcome')}>
          <textarea
            autoFocus
            rows={3}
            maxLength={500}
            value={words}
            placeholder="Looked through October: they are in no picture."
            onChange={(e) => setWords(e.target.value)}
          />
        </Field>
      ) : (
        <Field label="To" error={error('to', 'does.to')}>
          <select autoFocus value={to} onChange={(e) => setTo(e.target.value)}>
            <option value="">…</option>
            {(people.data ?? []).map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </Field>
      )}
    </DialogForm>
  );
}
