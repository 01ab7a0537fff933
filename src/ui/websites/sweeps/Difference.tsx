import { purposeName, type Purpose } from '../../../core/websites/notice/purpose.ts';
import { isNoDifference, type SweepDifference } from '../../../core/websites/sweeps/sweep-difference.ts';
import type { TrackerKey } from '../../../core/websites/trackers/tracker.ts';
import { VISITOR_WORDS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import css from '../websites.module.css';

const MOST = 8;

/** What differs between two sweeps, in words; long lists are cut, the trackers table has them all. */
export function Difference({
  difference: d,
  purposes,
}: {
  readonly difference: SweepDifference;
  readonly purposes: readonly Purpose[];
}) {
  if (isNoDifference(d)) return <p>Nothing changed.</p>;
  const cut = <T,>(list: readonly T[], words: (item: T) => string) =>
    list.slice(0, MOST).map(words).join(', ') + (list.length > MOST ? ` and ${list.length - MOST} more` : '');
  const leak = (l: { tracker: TrackerKey; visitors: readonly Visitor[] }) =>
    `${l.tracker.name} (${l.visitors.map((v) => VISITOR_WORDS[v].toLowerCase()).join(', ')})`;
  return (
    <div className={css['difference']}>
      {d.leaksNoMore.length > 0 && (
        <p className={css['good']}>✓ No leak any more: {cut(d.leaksNoMore, leak)}</p>
      )}
      {d.leaksNow.length > 0 && <p className={css['leak']}>◆ Leaks now: {cut(d.leaksNow, leak)}</p>}
      {d.added.length > 0 && <p>New: {cut(d.added, (t) => t.name)}</p>}
      {d.gone.length > 0 && <p>Gone: {cut(d.gone, (t) => t.name)}</p>}
      {d.lives.length > 0 && (
        <p>Other life: {cut(d.lives, (l) => `${l.tracker.name} ${l.before} → ${l.after}`)}</p>
      )}
      {d.purposes.length > 0 && (
        <p>
          Other purpose:{' '}
          {cut(
            d.purposes,
            (p) => `${p.tracker.name} ${purposeName(purposes, p.before)} → ${purposeName(purposes, p.after)}`,
          )}
        </p>
      )}
      {d.causes.length > 0 && (
        <p>
          Put there by another:{' '}
          {cut(d.causes, (c) => `${c.tracker.name}, now ${c.after === '' ? 'the page itself' : c.after}`)}
        </p>
      )}
    </div>
  );
}
