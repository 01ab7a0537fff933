import { useQuery } from '@tanstack/react-query';
import type * as dayApi from '../../../pages/api/protection/handling/[id]/day.ts';
import type { Replayed } from '../../../core/protection/handling/rehearsal.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, dayWords, timeWords, whenWords } from '../../desk/words.ts';
import { Dialog } from '../../parts/Dialog.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { eventLink } from '../links.ts';
import { useHandlingNames, useHandlingOutlook } from './use-handling.ts';
import css from '../protection.module.css';

const WOULD = { record: 'recorded', ask: 'asked', stop: 'stopped' } as const;
const CHANGED = { new: 'new', gone: 'no more', other: 'otherwise' } as const;

/** The acts it would have held for, the newest first; each opens, and each person to their day. */
export function ReplayTable({ id, revision }: { readonly id: string; readonly revision: number }) {
  const may = useMay('protection.activity');
  const outlook = useHandlingOutlook(id, may ? revision : undefined, 30);
  const names = useHandlingNames();
  const { query } = useDeskLocation();
  const [person, day] = [query.get('person'), query.get('day')];
  if (!may) return null;
  if (outlook.isError) return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  if (!outlook.data || !names) return <Loading what="what it would have done" />;
  const { shown } = outlook.data;
  return (
    <>
      <h2 className={css['heading']}>Would have been, last 30 days</h2>
      {shown.length === 0 ? (
        <p className={css['note']}>It would have held for nothing that was done.</p>
      ) : (
        <table className={css['table']} aria-label="Acts it would have held for">
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">Person</th>
              <th scope="col">What</th>
              <th scope="col">Found</th>
              <th scope="col">Towards</th>
              <th scope="col">Now</th>
            </tr>
          </thead>
          <tbody>
            {shown.slice(0, 25).map((r) => (
              <ReplayRow
                key={r.at + r.id}
                row={r}
                found={r.found
                  .slice(0, 2)
                  .map((f) => `${f.matches} ${names.items.value('data', f.detector) ?? f.detector}`)
                  .join(', ')}
              />
            ))}
          </tbody>
        </table>
      )}
      {person && day && <DayDialog {...{ id, person, day }} />}
    </>
  );
}

function ReplayRow({ row: r, found }: { readonly row: Replayed; readonly found: string }) {
  return (
    <tr>
      <td>
        <a href={eventLink(r.at, r.id)}>{whenWords(r.at)}</a>
      </td>
      <td>
        <button
          type="button"
          className={css['linkButton']}
          title="Their day as it would have been"
          onClick={() => setQuery({ person: r.person, day: r.at.slice(0, 10) }, 'push')}
        >
          {r.person.split('@')[0]}
        </button>
      </td>
      <td className={css['name']}>{r.item || 'text'}</td>
      <td>{found || '–'}</td>
      <td className={css['name']}>{r.towards.join(', ') || r.channel}</td>
      <td>
        {r.wants ? WOULD[r.wants] : 'let go'}
        {r.change && <> · {CHANGED[r.change]}</>}
        {r.answer === 'false alarm' && <span className={css['mark']}> ◆ false alarm, they said</span>}
      </td>
    </tr>
  );
}

function DayDialog({
  id,
  person,
  day,
}: {
  readonly id: string;
  readonly person: string;
  readonly day: string;
}) {
  const asked = useQuery({
    queryKey: ['handling-day', id, person, day],
    queryFn: () =>
      request<AnswerOf<typeof dayApi.GET>>(
        'GET',
        `/api/protection/handling/${id}/day${queryString({ person, day })}`,
      ),
  });
  const close = () => setQuery({ person: null, day: null });
  return (
    <Dialog title={`${person}, ${dayWords(day)}, as it would have been`} onClose={close}>
      {asked.isError ? (
        <Failure error={asked.error} onRetry={() => void asked.refetch()} />
      ) : !asked.data ? (
        <Loading what="the day" />
      ) : (
        <>
          <p className={css['note']}>{countWords(asked.data.acts.length, 'act')} with data in motion.</p>
          <ol className={css['day']}>
            {asked.data.acts.map(({ event, wants }) => (
              <li key={event.id} data-held={wants}>
                <time dateTime={event.at}>{timeWords(event.at)}</time> {event.act} · {event.channel} ·{' '}
                <span className={css['name']}>{event.item?.name || 'text'}</span>
                {event.towards.length > 0 && <> → {event.towards.join(', ')}</>}:{' '}
                {wants ? <b>{WOULD[wants]}</b> : 'let go'}
              </li>
            ))}
          </ol>
        </>
      )}
    </Dialog>
  );
}
