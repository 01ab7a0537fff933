import { dayText } from '../../../core/text/day.ts';
import type { ViewedRequest } from './use-requests.ts';
import css from '../cases.module.css';

interface Mark {
  readonly day: string;
  readonly words: string;
  readonly is: 'done' | 'today' | 'due' | 'open';
}

/** `4 Dec` */
const short = (day: string) => dayText(day).replace(/ \d{4}$/, '');

/** The time of a request: what happened, where today is, and what has to happen by when. */
export function TimeLine({
  request: { row, clock, steps, pauses, law, today },
}: {
  readonly request: ViewedRequest;
}) {
  const dayOf = (kind: string) => steps.findLast((s) => s.kind === kind)?.at.slice(0, 10);
  const routed = dayOf('routed');
  const found = dayOf('found');
  const open = row.answered_on === null && row.outcome === null;
  const marks: Mark[] = [{ day: row.received_on, words: 'came in', is: 'done' }];
  if (clock.confirmBy !== null)
    marks.push(
      row.confirmed_on
        ? { day: row.confirmed_on, words: 'confirmed', is: 'done' }
        : { day: clock.confirmBy, words: 'confirm by', is: clock.confirmBy < today ? 'due' : 'open' },
    );
  for (const p of pauses)
    marks.push({
      ...{ day: p.from, is: 'done' as const },
      words: p.to === null ? `clock stands: ${p.why}` : `clock stood until ${short(p.to)}`,
    });
  if (row.known_at && row.known_by !== 'not needed')
    marks.push({ day: row.known_at.slice(0, 10), words: 'known who', is: 'done' });
  if (found) marks.push({ day: found, words: routed ? 'found, owners told' : 'found', is: 'done' });
  if (row.extended_on) marks.push({ day: row.extended_on, words: 'told that it takes longer', is: 'done' });
  if (row.answered_on)
    marks.push({
      day: row.answered_on,
      words: row.answered_on > clock.answerBy ? 'answered, late' : 'answered',
      is: row.answered_on > clock.answerBy ? 'due' : 'done',
    });
  if (open) marks.push({ day: today, words: 'today', is: 'today' });
  marks.push({
    day: clock.answerBy,
    words: open ? 'must be answered' : 'had to be answered',
    is: open ? 'due' : 'open',
  });
  if (
    open &&
    !clock.isExtended &&
    clock.extendedTo !== null &&
    law.extend &&
    clock.extendBy !== null &&
    today <= clock.extendBy
  )
    marks.push({ day: clock.extendedTo, words: `if told by ${short(clock.extendBy)} why`, is: 'open' });
  const order = marks
    .map((m, i) => ({ ...m, i }))
    .toSorted((a, b) => a.day.localeCompare(b.day) || a.i - b.i);
  return (
    <ol className={css['line']} aria-label="Its time">
      {order.map((m) => (
        <li key={`${m.day} ${m.words}`} data-is={m.is}>
          <i aria-hidden />
          <b>
            {m.is === 'due' && open && '◆ '}
            {short(m.day)}
          </b>
          <span>{m.words}</span>
        </li>
      ))}
    </ol>
  );
}
