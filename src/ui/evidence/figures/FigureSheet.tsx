import { useQuery } from '@tanstack/react-query';
import {
  compareDays,
  lastDayBefore,
  PERIODS,
  valueOn,
  type Period,
} from '../../../core/figures/comparison.ts';
import { toldValue, type Part } from '../../../core/figures/figure.ts';
import type { FigureRow } from '../../../core/figures/figure-row.ts';
import { comparisonText, figureText, partWords, valueWords } from '../../../core/figures/told.ts';
import type * as rowsApi from '../../../pages/api/evidence/figures/[id]/rows.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, dateWords, numberWords } from '../../desk/words.ts';
import { Bars } from '../../parts/Bars.tsx';
import { Button } from '../../parts/Button.tsx';
import { DayChoice } from '../../parts/DayChoice.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { FigureRow as FigureLine, Figure } from '../../parts/Figure.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { TimeChart } from '../../parts/TimeChart.tsx';
import { useFigure, type FigureInFull } from '../boards/use-boards.ts';
import css from '../boards/boards.module.css';

type Rows = AnswerOf<typeof rowsApi.GET>;

/** A figure on a day, with the rows behind it as they were then. */
export function FigureSheet({ id }: { readonly id: string }) {
  const figure = useFigure(id);
  if (figure.isError) return <Failure error={figure.error} onRetry={() => void figure.refetch()} />;
  return figure.data ? <Loaded figure={figure.data} /> : <Loading what="the figure" />;
}

function Loaded({ figure }: { readonly figure: FigureInFull }) {
  const { query } = useDeskLocation();
  const last = figure.days.at(-1)?.day;
  const day = query.get('day') ?? last ?? new Date().toISOString().slice(0, 10);
  const period = PERIODS.find((p) => p === query.get('compare')) ?? 'quarter';
  const now = valueOn(figure.days, day) ?? null;
  const before = valueOn(figure.days, lastDayBefore(day, period));
  const comparison = (now && before && compareDays(figure, now, before)) ?? null;
  const { value, of } = figureText(figure, now);
  const isWorse = comparison?.way === 'worse' && comparison.sure !== 'within chance';
  return (
    <>
      <SheetHead
        title={figure.name}
        detail={figure.definition}
        actions={
          <Button onClick={() => go(figure.link)}>
            {day === last ? 'Where it is worked on' : 'What there is now'}
          </Button>
        }
      />
      <FigureLine>
        <Figure value={value} words={`${of}, on ${dateWords(now?.day ?? day)}`.replace(/^, /, '')} />
        <Figure
          value={comparison ? (comparisonText(figure, comparison, period).split(' on last')[0] ?? '') : '–'}
          words={
            comparison
              ? `${isWorse ? '◆ worse than' : comparison.way === 'better' ? '✓ better than' : 'than'} at the end of last ${period}${comparison.sure === 'counted' ? '' : `, ${comparison.sure}`}`
              : `it was not counted last ${period}`
          }
          mark={isWorse}
        />
      </FigureLine>
      <p className={css['filters']}>
        <Segments
          label="Compared with"
          value={period}
          options={PERIODS.map((p) => ({ value: p, words: `last ${p}` }))}
          onChange={(p) => setQuery({ compare: p === 'quarter' ? null : (p as Period) })}
        />
        <DayChoice label="As it stood on" value={day} onChoose={(d) => setQuery({ day: d, part: null })} />
      </p>
      {comparison && <p className={css['about']}>{comparison.why}</p>}
      <History figure={figure} />
      <RowsOfDay key={day} figure={figure} day={day} />
    </>
  );
}

const MOST_POINTS = 60;

function History({ figure }: { readonly figure: FigureInFull }) {
  const step = Math.max(1, Math.ceil(figure.days.length / MOST_POINTS));
  const points = figure.days
    .filter((_, i) => (figure.days.length - 1 - i) % step === 0)
    .flatMap((d) => {
      const { value, isShare } = toldValue(figure, d);
      if (value === null) return [];
      return [
        {
          ...{ at: d.day, value },
          ...(isShare && d.low !== undefined && d.high !== undefined ? { low: d.low, high: d.high } : {}),
        },
      ];
    });
  return (
    <TimeChart
      label="How did it go?"
      unit={figure.unit === '%' || figure.asShare ? '%' : `${figure.unit}s`}
      series={[{ name: '', points }]}
      words={(n) => valueWords(figure, n)}
      onOpen={(_, p) => setQuery({ day: p.at, part: null })}
    />
  );
}

function RowsOfDay({ figure, day }: { readonly figure: FigureInFull; readonly day: string }) {
  const { query } = useDeskLocation();
  const by = figure.parts.find((p) => p === query.get('by')) ?? figure.parts[0];
  const part = query.get('part');
  const first = useQuery({
    queryKey: ['figure rows', figure.id, day],
    queryFn: () => load(figure.id, { day }),
  });
  const values = first.data?.parts.find((p) => p.by === by)?.values ?? [];
  const isShare = figure.asShare === true || figure.from === 'share';
  return (
    <>
      {by && values.length > 1 && (
        <section>
          <p className={css['filters']}>
            <Segments
              label="Told apart by"
              value={by}
              options={figure.parts.map((p) => ({ value: p, words: `By ${p}` }))}
              onChange={(p) => setQuery({ by: p, part: null })}
            />
          </p>
          <Bars
            label={`${figure.name} by ${by}`}
            bars={values.map((v) => ({
              key: v.part || '-',
              name: `${partWords(by, v.part)}${isShare ? `, of ${numberWords(v.of ?? 0)}` : ''}`,
              count: isShare ? shareOf(figure, v) : (v.value ?? 0),
              words: valueWords(figure, isShare ? shareOf(figure, v) : v.value),
            }))}
            chosen={part ?? undefined}
            onChoose={(key) => setQuery({ by, part: key === part ? null : key })}
          />
        </section>
      )}
      <div className={css['filters']}>
        <b>
          {first.data ? countWords(first.data.total, 'row') : '…'} on {dateWords(day)}
        </b>
        {part !== null && by && (
          <Button kind="quiet" onClick={() => setQuery({ part: null })}>
            Only {partWords(by, part === '-' ? '' : part)}: show all
          </Button>
        )}
      </div>
      <DataTable
        label={`Rows of ${figure.name}`}
        name="figure-rows"
        columns={columnsOf(figure)}
        queryKey={['figure rows', figure.id, day, by, part]}
        load={(after) =>
          load(figure.id, {
            ...{ day, after },
            ...(part !== null && by ? { by, part: part === '-' ? '' : part } : {}),
          })
        }
        rowKey={(r) => r.key}
        rowName={(r) => r.name}
        onOpen={(r) => r.link && go(r.link)}
        empty={
          <Empty title="Nothing was counted">
            {figure.days.some((d) => d.day === day)
              ? 'There was none of it on that day.'
              : 'Its rows were not kept on that day.'}
          </Empty>
        }
      />
    </>
  );
}

function shareOf(figure: FigureInFull, v: { readonly value: number | null; readonly of?: number }): number {
  if (v.value === null) return 0;
  return figure.asShare ? (v.of ? v.value / v.of : 0) : v.value;
}

function load(id: string, asked: Readonly<Record<string, string | undefined>>): Promise<Rows> {
  return request('GET', `/api/evidence/figures/${encodeURIComponent(id)}/rows${queryString(asked)}`);
}

function columnsOf(figure: FigureInFull): readonly Column<FigureRow>[] {
  return [
    { key: 'name', title: 'What', fills: true, cell: (r) => r.name },
    ...figure.parts
      .filter((p) => p !== 'source' || figure.parts.length === 1)
      .slice(0, 3)
      .map((p: Part): Column<FigureRow> => ({
        ...{ key: p, title: `${p[0]?.toUpperCase() ?? ''}${p.slice(1)}`, optional: true },
        cell: (r) => (r.parts[p] === undefined ? '' : partWords(p, r.parts[p])),
      })),
    {
      ...{ key: 'n', title: figure.unit === '%' ? 'Counted' : `${figure.unit}s`, align: 'right' },
      cell: (r) => (r.of === undefined ? numberWords(r.n) : `${numberWords(r.n)} of ${numberWords(r.of)}`),
    },
  ];
}
