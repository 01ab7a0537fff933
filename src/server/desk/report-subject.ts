import type { Action } from '../../core/accounts/action.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import { outsideScope } from '../../core/accounts/scope.ts';
import { rangeDays, RANGES, type Report } from '../../core/evidence/reports/report.ts';
import { compareDays, lastDayBefore, valueOn } from '../../core/figures/comparison.ts';
import { byPart } from '../../core/figures/figure-row.ts';
import { toldValue, type Part } from '../../core/figures/figure.ts';
import { comparisonText, partWords } from '../../core/figures/told.ts';
import { RefusedError } from '../../core/refusal.ts';
import { withCapital } from '../../core/text/as-sentence.ts';
import { dayText } from '../../core/text/day.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { listBoards } from '../evidence/boards/boards.ts';
import { LEDGER_REPORT } from '../evidence/reports/ledger-report.ts';
import type { Cell } from '../http/csv.ts';
import { whole } from '../http/whole.ts';
import { rowsOn } from '../figures/kept-figures.ts';
import type { Reportable } from '../reports/reportable.ts';
import { boardPdf } from './board-pdf.ts';
import { figuresOf, knownFigure, type ShownFigure } from './figures.ts';
import { showBoard } from './shown-board.ts';

const REPORTABLES: ReadonlyMap<string, Reportable> = new Map(
  [...AREAS.flatMap((a) => a.reports ?? []), LEDGER_REPORT].map((r) => [r.id, r]),
);

/** Something a report can tell of. */
export interface ReportSubject {
  readonly id: string;
  readonly name: string;
  readonly group: 'Boards' | 'Areas' | 'Lists' | 'Figures';
  readonly takes: readonly ('days' | 'lens')[];
  /** What it can be told apart by. */
  readonly parts: readonly Part[];
}

/** All that an account could be told of. */
export async function reportSubjects(ctx: Context, account: Account): Promise<readonly ReportSubject[]> {
  const figures = await figuresOf(ctx, account, 1);
  const areas = [...new Set(figures.map((f) => f.area))];
  return [
    ...(await listBoards(ctx.store)).map((b): ReportSubject => ({
      id: `board:${b.id}`,
      name: b.content.name,
      group: 'Boards',
      takes: [],
      parts: [],
    })),
    ...areas.map((area): ReportSubject => ({
      ...{
        id: `area:${area}`,
        name: `${withCapital(area)}, in figures`,
        group: 'Areas',
        takes: [],
        parts: [],
      },
    })),
    ...[...REPORTABLES.values()]
      .filter((r) => may(account, r.see))
      .map((r): ReportSubject => ({ id: r.id, name: r.name, group: 'Lists', takes: r.takes, parts: [] })),
    ...figures.flatMap((f): readonly ReportSubject[] => [
      { id: `figure:${f.id}`, name: f.name, group: 'Figures', takes: ['days'], parts: f.parts },
      { id: `rows:${f.id}`, name: `Rows of: ${f.name}`, group: 'Figures', takes: [], parts: [] },
    ]),
  ];
}

/** What a report tells, opened for somebody. */
export interface OpenedSubject {
  readonly title: string;
  readonly lines: readonly string[];
  /** What whoever gets it must be allowed to do. */
  readonly needs: readonly Action[];
  /** The head first. */
  readonly rows: AsyncIterable<readonly Cell[]>;
  /** Where it has a page of its own. */
  readonly pdf?: (proof: readonly string[]) => Promise<Buffer>;
}

/**
 * What a report tells on a day, of what an account may know. Throws a RefusedError (403) where its roles do not include
 * that, and for a subject that is no more.
 */
export async function openSubject(
  ctx: Context,
  account: Account,
  report: Report,
  day: string = ctx.now().toISOString().slice(0, 10),
): Promise<OpenedSubject> {
  const [kind = '', id = ''] = report.what.split(/:(.*)/s);
  const outside = outsideScope(account, whole('report')());
  if (outside !== undefined) throw new RefusedError(outside, [], 403);
  switch (kind) {
    case 'board':
      return boardSubject(ctx, account, report, Number(id), day);
    case 'area':
      return areaSubject(ctx, account, report, id, day);
    case 'figure':
      return figureSubject(ctx, account, report, id, day);
    case 'rows':
      return rowsSubject(ctx, account, report, id, day);
    default:
      return listSubject(ctx, account, report, day);
  }
}

async function* listed(rows: readonly (readonly Cell[])[]): AsyncGenerator<readonly Cell[]> {
  yield* rows;
}

const NUMBERS = [
  'Figure',
  'Value',
  'Counted',
  'Out of',
  'Before',
  'Change',
  'Wanted',
  'Looked after by',
  'What it counts',
];

function numberRow(
  f: ShownFigure,
  day: string,
  comparedWith: string,
  period: 'week' | 'month' | 'quarter' | 'year',
) {
  const now = valueOn(f.days, day);
  const before = valueOn(f.days, comparedWith);
  const comparison = (now && before && compareDays(f, now, before)) ?? null;
  return [
    ...[f.name, now ? toldValue(f, now).value : null, now?.value ?? null, now?.of ?? null],
    ...[before ? toldValue(f, before).value : null, comparisonText(f, comparison, period)],
    ...[f.target, f.owner?.name ?? '', f.definition],
  ];
}

async function boardSubject(
  ctx: Context,
  account: Account,
  report: Report,
  id: number,
  day: string,
): Promise<OpenedSubject> {
  const shown = await showBoard(ctx, account, id, day);
  const seen = shown.tiles.flatMap((t) => (t.figure ? [t.figure.id] : []));
  const figures = new Map(
    (await figuresOf(ctx, account, 400, { until: new Date(`${day}T23:59:59Z`), only: new Set(seen) })).map(
      (f) => [f.id, f],
    ),
  );
  return {
    title: report.name,
    lines: [
      ...(shown.board.about ? [shown.board.about] : []),
      `${shown.board.name}, on ${dayText(day)}, compared with ${dayText(shown.comparedWith)}.`,
    ],
    needs: needsOf(account, seen),
    rows: listed([
      NUMBERS,
      ...seen.flatMap((f) => {
        const figure = figures.get(f);
        return figure ? [numberRow(figure, day, shown.comparedWith, shown.board.compare)] : [];
      }),
    ]),
    pdf: (proof) => boardPdf(shown, proof),
  };
}

function needsOf(account: Account, figures: readonly string[]): readonly Action[] {
  return [...new Set(figures.map((f) => knownFigure(account, f).see))];
}

async function areaSubject(
  ctx: Context,
  account: Account,
  report: Report,
  area: string,
  day: string,
): Promise<OpenedSubject> {
  const all = await figuresOf(ctx, account, 400, { until: new Date(`${day}T23:59:59Z`) });
  const figures = all.filter((f) => f.area === area);
  if (figures.length === 0)
    throw new RefusedError('There are no figures of this area that you may see.', [], 403);
  const comparedWith = lastDayBefore(day, 'quarter');
  return {
    title: report.name,
    lines: [`${withCapital(area)} on ${dayText(day)}, compared with ${dayText(comparedWith)}.`],
    needs: needsOf(
      account,
      figures.map((f) => f.id),
    ),
    rows: listed([NUMBERS, ...figures.map((f) => numberRow(f, day, comparedWith, 'quarter'))]),
  };
}

async function figureSubject(
  ctx: Context,
  account: Account,
  report: Report,
  id: string,
  day: string,
): Promise<OpenedSubject> {
  const { see } = knownFigure(account, id);
  const [figure] = await figuresOf(ctx, account, 1200, { only: new Set([id]) });
  const { from = '', to = day } = rangeDays(report.range, day);
  const days = (figure?.days ?? []).filter((d) => d.day >= from && d.day <= to);
  const common = { title: report.name, needs: [see] };
  if (!figure) throw new RefusedError('There is no such figure.', [], 404);
  const { by } = report;
  if (by === null || !figure.parts.includes(by))
    return {
      ...common,
      lines: [figure.definition, `Each day, ${RANGES[report.range]}.`],
      rows: listed([
        ['Day', 'Value', 'Counted', 'Out of', 'At least', 'At most'],
        ...days.map((d) => [
          ...[d.day, toldValue(figure, d).value, d.value, d.of ?? null, d.low ?? null, d.high ?? null],
        ]),
      ]),
    };
  const [now, before] = [days.at(-1)?.day ?? to, days[0]?.day ?? lastDayBefore(to, 'quarter')];
  const [rows, were] = [await rowsOn(ctx.store, id, now), await rowsOn(ctx.store, id, before)];
  const then = new Map(byPart(figure, were, by).map((p) => [p.part, p.value]));
  return {
    ...common,
    lines: [figure.definition, `By ${by}, on ${dayText(now)} and on ${dayText(before)}.`],
    rows: listed([
      [withCapital(by), 'Value', 'Out of', 'Rows', 'Before'],
      ...byPart(figure, rows, by).map((p) => [
        ...[partWords(by, p.part), p.value, p.of ?? null, p.rows, then.get(p.part) ?? null],
      ]),
    ]),
  };
}

async function rowsSubject(
  ctx: Context,
  account: Account,
  report: Report,
  id: string,
  day: string,
): Promise<OpenedSubject> {
  const figure = knownFigure(account, id);
  const parts = figure.parts ?? [];
  const rows = await rowsOn(ctx.store, id, day);
  return {
    title: report.name,
    lines: [figure.definition, `Its rows on ${dayText(day)}.`],
    needs: [figure.see],
    rows: listed([
      ['What', ...parts.map(withCapital), 'Counted', 'Out of', 'Where'],
      ...rows.map((r) => [
        ...[r.name, ...parts.map((p) => r.parts[p] ?? ''), r.n, r.of ?? null],
        r.link === '' ? '' : `${ctx.settings.WEB_ORIGIN}${r.link}`,
      ]),
    ]),
  };
}

async function listSubject(
  ctx: Context,
  account: Account,
  report: Report,
  day: string,
): Promise<OpenedSubject> {
  const reportable = REPORTABLES.get(report.what);
  if (!reportable) throw new RefusedError('What this report tells of is no more.', [], 404);
  if (!may(account, reportable.see))
    throw new RefusedError('Your roles do not include what this report tells of.', [], 403);
  const days = reportable.takes.includes('days') ? rangeDays(report.range, day) : {};
  const asked = { lens: report.lens, ...days };
  return {
    title: report.name,
    lines: [
      reportable.name,
      ...(days.from
        ? [`From ${dayText(days.from)} to ${dayText(days.to ?? day)}.`]
        : [`As it was on ${dayText(day)}.`]),
      ...(reportable.about?.(asked) ?? []),
    ],
    needs: [reportable.see],
    rows: reportable.rows(ctx, account, asked),
  };
}
