import { numberWords } from '../desk/words.ts';
import { SoundingsSection } from '../parts/SoundingsSection.tsx';
import { Sparkline } from '../parts/Sparkline.tsx';
import { useTrends } from './use-today.ts';
import css from './today.module.css';

const BEFORE_DAYS = 30;

/** Whether there is more of each kind than a month ago. */
export function TodaySoundings() {
  const trends = useTrends().data?.trends ?? [];
  if (trends.length === 0) return null;
  return (
    <SoundingsSection title="More, or less, than a month ago">
      <table className={css['trends']}>
        <thead>
          <tr>
            <th scope="col">Kind</th>
            <th scope="col">Now</th>
            <th scope="col">60 days</th>
          </tr>
        </thead>
        <tbody>
          {trends.map((t) => {
            const now = t.days.at(-1)?.items ?? 0;
            const before = t.days.at(-1 - BEFORE_DAYS)?.items;
            const change = before === undefined ? 0 : now - before;
            return (
              <tr key={t.kind}>
                <th scope="row">{t.words}</th>
                <td>
                  <b>{numberWords(now)}</b>{' '}
                  {change !== 0 && (
                    <span data-worse={(change > 0 && t.tone === 'wrong') || undefined}>
                      {change > 0 ? '+' : '−'}
                      {numberWords(Math.abs(change))}
                    </span>
                  )}
                </td>
                <td>
                  <Sparkline
                    values={t.days.map((d) => d.items)}
                    label={`${t.words}: ${t.days[0]?.items ?? 0} on ${t.days[0]?.day ?? ''}, ${now} now`}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </SoundingsSection>
  );
}
