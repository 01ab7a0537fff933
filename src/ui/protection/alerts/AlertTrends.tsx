import { daysAgo, numberWords } from '../../desk/words.ts';
import { DayBars } from '../../parts/DayBars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { CountTable } from '../CountTable.tsx';
import { ALERTS, raisedLink } from '../links.ts';
import { useAlertCounts } from './use-alerts.ts';
import css from '../protection.module.css';

const DAYS = 90;

/** How many were raised, of what, and what became of them. */
export function AlertTrends() {
  const counts = useAlertCounts({});
  if (counts.isError) return <Failure error={counts.error} onRetry={() => void counts.refetch()} />;
  if (!counts.data) return <Loading what="the trends" />;
  const { trends } = counts.data;
  const days = new Map<string, number>();
  const categories = new Map<string, number>();
  for (const { day, category, n } of trends.byDay) {
    days.set(day, (days.get(day) ?? 0) + n);
    categories.set(category, (categories.get(category) ?? 0) + n);
  }
  const raised = Object.values(trends.bySeverity).reduce((a, b) => a + b, 0);
  return (
    <>
      <SoundingsSection title={`Raised in ${DAYS} days`}>
        <FigureRow>
          <Figure value={numberWords(raised)} words="alerts" />
          <Figure
            value={numberWords(trends.bySeverity.high)}
            words="of high severity"
            href={`${ALERTS}?severity=high`}
          />
          {trends.hoursToEnd !== null && (
            <Figure value={`${numberWords(Math.round(trends.hoursToEnd))} h`} words="until half were ended" />
          )}
        </FigureRow>
        {raised > 0 && (
          <DayBars
            label="By day"
            unit="alerts"
            days={[...days].map(([day, count]) => ({ day, count }))}
            from={daysAgo(DAYS)}
            to={daysAgo(0)}
          />
        )}
      </SoundingsSection>
      {categories.size > 0 && (
        <SoundingsSection title="About what">
          <CountTable
            label="About what"
            rows={[...categories]
              .toSorted((a, b) => b[1] - a[1])
              .map(([category, n]) => ({
                ...{ key: category, n },
                name: <a href={`${ALERTS}?category=${encodeURIComponent(category)}`}>{category}</a>,
              }))}
          />
        </SoundingsSection>
      )}
      {trends.byLookout.length > 0 && (
        <SoundingsSection title="By lookout, and what became of them">
          <table className={css['counts']} aria-label="By lookout">
            <thead>
              <tr>
                <th scope="col">Lookout</th>
                <td>raised</td>
                <td>solved</td>
                <td>none</td>
              </tr>
            </thead>
            <tbody>
              {trends.byLookout.slice(0, 12).map((l) => (
                <tr key={`${l.byKind} ${l.lookout}`}>
                  <th scope="row">
                    <a href={raisedLink(l)}>{l.name}</a>
                  </th>
                  <td>{numberWords(l.raised)}</td>
                  <td>{numberWords(l.solved)}</td>
                  <td>{numberWords(l.setAside)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className={css['note']}>
            None: set aside, since it was no alert. A lookout with many wants mending.
          </p>
        </SoundingsSection>
      )}
    </>
  );
}
