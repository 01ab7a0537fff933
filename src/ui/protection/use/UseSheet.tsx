import { useQuery } from '@tanstack/react-query';
import type { Named } from '../../../core/protection/use/use-report.ts';
import type * as useApi from '../../../pages/api/protection/use.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, daysAgo, numberWords, percentWords } from '../../desk/words.ts';
import { DayBars } from '../../parts/DayBars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { CountTable, UnitTable } from '../CountTable.tsx';
import { useHandlingRules } from '../handling/use-handling.ts';
import { ACTIVITY, handlingLink } from '../links.ts';
import css from '../protection.module.css';

const SPANS = { '7': '7 days', '30': '30 days', '90': '90 days', '365': 'A year' } as const;

/** How rules are met in daily work: how often they hold, what people answer, and how right that is. */
export function UseSheet() {
  const days = useDeskLocation().query.get('days') ?? '30';
  const use = useQuery({
    queryKey: ['use-of-rules', days],
    queryFn: () => request<AnswerOf<typeof useApi.GET>>('GET', `/api/protection/use${queryString({ days })}`),
    placeholderData: (before) => before,
  });
  const rules = useHandlingRules();
  if (use.isError && !use.data) return <Failure error={use.error} onRetry={() => void use.refetch()} />;
  if (!use.data) return <Loading what="how rules are met" />;
  const { data } = use;
  const from = daysAgo(data.days);
  const rows = (wish: Readonly<Record<string, string>>) => `${ACTIVITY}${queryString({ from, ...wish })}`;
  const ruleName = (id: string) => rules.data?.find((r) => r.id === id)?.name ?? `rule ${id}`;
  return (
    <>
      <SheetHead
        title="How rules are met"
        detail={`Acts at which a rule held, last ${countWords(data.days, 'day')}; each number opens to its acts`}
        actions={
          <Segments
            label="Over"
            value={days}
            options={Object.entries(SPANS).map(([value, words]) => ({ value, words }))}
            onChange={(d) => setQuery({ days: d === '30' ? null : d })}
          />
        }
      />
      <FigureRow>
        <Figure value={numberWords(data.all.stopped)} words="stopped" href={rows({ outcome: 'stop' })} />
        <Figure value={numberWords(data.all.asked)} words="asked" href={rows({ outcome: 'ask' })} />
        <Figure value={numberWords(data.all.recorded)} words="recorded" href={rows({ outcome: 'record' })} />
        <Figure
          value={numberWords(data.all.wentOn)}
          words="went on with a reason"
          href={rows({ answer: 'went on' })}
        />
        <Figure
          value={numberWords(data.all.falseAlarms)}
          words="called false alarms"
          href={rows({ answer: 'false alarm' })}
        />
        {data.all.right && <Figure value={percentWords(data.all.right.share, 1)} words="right" />}
      </FigureRow>
      {data.all.held === 0 ? (
        <p className={css['note']}>No rule held at anything that was told in this time.</p>
      ) : (
        <>
          <DayBars
            label="Asked or stopped, by day"
            unit="acts"
            days={data.byDay.map(({ day, asked, stopped }) => ({ day, count: asked + stopped }))}
            from={from}
            to={daysAgo(0)}
          />
          <Counts
            title="By rule"
            all={data.byRule}
            href={(id) => rows({ rule: id })}
            name={(id) => <a href={handlingLink(id)}>{ruleName(id)}</a>}
          />
          <Counts title="By way" all={data.byChannel} href={(channel) => rows({ channel })} />
          <Counts title="By act" all={data.byAct} href={(act) => rows({ act })} />
          <Counts title="By kind of file" all={data.byFormat} />
          <h2 className={css['heading']}>Reasons that were given</h2>
          {data.reasons.length + data.otherReasons === 0 ? (
            <p className={css['note']}>Nobody went on with a reason.</p>
          ) : (
            <CountTable
              label="Reasons that were given"
              rows={[
                ...data.reasons.map((r) => ({ key: r.words, name: `“${r.words}”`, n: r.n })),
                ...(data.otherReasons > 0
                  ? [{ key: '', name: 'others, each given by fewer than three people', n: data.otherReasons }]
                  : []),
              ]}
            />
          )}
          <h2 className={css['heading']}>Who was asked or stopped most often</h2>
          {data.byUnit.length === 0 ? (
            <p className={css['note']}>Too few people to be told without telling who.</p>
          ) : (
            <UnitTable label="Who was asked or stopped most often" units={data.byUnit} most={15} />
          )}
        </>
      )}
    </>
  );
}

function Counts({
  title,
  all,
  href,
  name = (n) => n || '–',
}: {
  readonly title: string;
  readonly all: readonly Named[];
  readonly href?: (name: string) => string;
  readonly name?: (name: string) => React.ReactNode;
}) {
  return (
    <>
      <h2 className={css['heading']}>{title}</h2>
      <table className={css['counts']} aria-label={title}>
        <thead>
          <tr>
            <th scope="col">{title.slice(3)}</th>
            <td>held</td>
            <td>stopped</td>
            <td>asked</td>
            <td>went on</td>
            <td>false</td>
            <td>right, 95% interval</td>
          </tr>
        </thead>
        <tbody>
          {all.slice(0, 15).map((r) => (
            <tr key={r.name}>
              <th scope="row">{name(r.name)}</th>
              <td>{href ? <a href={href(r.name)}>{numberWords(r.held)}</a> : numberWords(r.held)}</td>
              <td>{numberWords(r.stopped)}</td>
              <td>{numberWords(r.asked)}</td>
              <td>{numberWords(r.wentOn)}</td>
              <td>{numberWords(r.falseAlarms)}</td>
              <td>
                {r.right
                  ? `${percentWords(r.right.share, 1)} (${percentWords(r.right.low, 1)}–${percentWords(r.right.high, 1)})`
                  : '–'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
