import { numberWords, percentWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { REQUESTS } from '../links.ts';
import { useRequestCounts } from './use-requests.ts';
import css from '../cases.module.css';

/** How many ask, how long answers take, and how many are late. */
export function RequestTrends() {
  const counts = useRequestCounts({});
  if (counts.isError) return <Failure error={counts.error} onRetry={() => void counts.refetch()} />;
  if (!counts.data) return <Loading what="the figures" />;
  const { figures } = counts.data;
  const all = figures.byMonth.reduce((n, m) => n + m.n, 0);
  const late = figures.byMonth.reduce((n, m) => n + m.late, 0);
  return (
    <>
      <SoundingsSection title="Do people get their answer in time?">
        <FigureRow>
          <Figure value={numberWords(figures.open)} words="open" href={`${REQUESTS}?open=open`} />
          <Figure
            value={numberWords(figures.late)}
            words="late"
            href={`${REQUESTS}?due=late`}
            mark={figures.late > 0}
          />
          {all > 0 && (
            <Figure value={percentWords(1 - late / all)} words="in time, in a year" href={REQUESTS} />
          )}
        </FigureRow>
        {figures.median !== null && (
          <p>
            Half were answered within {figures.median} days, nine of ten within {figures.ninth}.
          </p>
        )}
      </SoundingsSection>
      {figures.byKind.length > 0 && (
        <SoundingsSection title="What they ask, in a year">
          <table className={css['table']} aria-label="What they ask">
            <thead>
              <tr>
                <th scope="col">Kind</th>
                <th scope="col" className={css['number']}>
                  All
                </th>
                <th scope="col" className={css['number']}>
                  Late
                </th>
                <th scope="col" className={css['number']}>
                  Days
                </th>
              </tr>
            </thead>
            <tbody>
              {figures.byKind.map((k) => (
                <tr key={k.kind}>
                  <td>
                    <a href={`${REQUESTS}?kind=${encodeURIComponent(k.kind)}`}>{k.kind}</a>
                  </td>
                  <td className={css['number']}>{numberWords(k.n)}</td>
                  <td className={css['number']}>
                    {k.late > 0 ? <span className={css['mark']}>{k.late}</span> : '–'}
                  </td>
                  <td className={css['number']}>{k.median ?? '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className={css['note']}>Days: within which half were answered.</p>
        </SoundingsSection>
      )}
      {figures.byMonth.length > 1 && (
        <SoundingsSection title="By month">
          <table className={css['table']} aria-label="By month">
            <tbody>
              {figures.byMonth.toReversed().map((m) => (
                <tr key={m.month}>
                  <th scope="row">{m.month}</th>
                  <td className={css['number']}>{m.n}</td>
                  <td className={css['number']}>
                    {m.late > 0 ? <span className={css['mark']}>{m.late} late</span> : ''}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </SoundingsSection>
      )}
    </>
  );
}
