import { wilson } from '../../src/core/interval.ts';
import { valueOfRows, type FigureRow } from '../../src/core/figures/figure-row.ts';
import { AREAS } from '../../src/server/areas.ts';
import type { Figure } from '../../src/server/figures/figure.ts';
import { keepRows } from '../../src/server/figures/kept-figures.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Demo } from '../demo.ts';
import { Random } from '../random.ts';

const DAYS = 420;
const MOST_ROWS = 400;
const AT_ONCE = 1000;

/** Counted by the worker once the estate and the items are read; until then this is how they went. */
const LATER: Readonly<Record<string, readonly [from: number, to: number]>> = {
  'access.wide': [16, 6],
  'holdings.items': [2510, 2935],
  'holdings.special-unlevelled': [905, 822],
  'obligations.readiness': [0.47, 0.63],
  'access.leavers': [11, 8],
  'access.links': [6, 3],
  'access.guests': [1, 2],
  'access.given-on': [9, 5],
  'access.direct': [7, 4],
  'access.stale-groups': [4, 3],
  'access.empty-groups': [2, 0],
  'access.both-hands': [5, 4],
  'holdings.records-late': [1, 3],
  'holdings.records-contradicted': [12, 9],
  'holdings.special-unnamed': [8, 6],
  'holdings.basis-missing': [3, 2],
  'holdings.transfers-unsafe': [4, 2],
  'holdings.records-without-system': [3, 2],
};

/** Of items, which nobody has read when the demo is loaded. */
const OF_ITEMS =
  /^(holdings\.(unreadable|credentials|untouched|children-unlevelled)|protection\.(levelled|stamped|lost|by-hand-unsaid)|retention\.(due|held|ruled))$/;

/** One row as it stood for a while; `until` days ago it did no more. */
interface Stood {
  readonly row: FigureRow;
  readonly since: number;
  readonly until: number | null;
}

/** How the figures went in the last year, so that the rows of each day make its number. */
export async function loadFigureHistory(demo: Demo): Promise<void> {
  const random = new Random(2404);
  const figures = AREAS.flatMap((a) => a.figures ?? []);
  for (const figure of figures) {
    const scripted = LATER[figure.id];
    if (scripted) await keepDays(demo, figure, drifted(scripted, random));
    else if (figure.id === 'websites.allowing') await countedDays(demo, figure);
    else if (!OF_ITEMS.test(figure.id)) await keepHistory(demo, figure, random);
  }
  demo.tell(`${figures.length} figures, and how they went in ${DAYS} days`);
}

interface Day {
  readonly ago: number;
  readonly value: number | null;
  readonly of?: number;
}

function drifted([from, to]: readonly [number, number], random: Random): readonly Day[] {
  let value = from;
  return Array.from({ length: DAYS }, (_, i) => {
    const ago = DAYS - i;
    const step = from < 1 && to < 1 ? 0.01 : 1;
    if (ago % 9 === 0)
      value = Math.max(0, Math.round((to + ((from - to) * ago) / DAYS) / step) + random.below(2)) * step;
    return { ago, value };
  });
}

/** Of what is sampled: every week as it was, with its rows. */
async function countedDays({ tx, ctx, now }: Demo, figure: Figure): Promise<void> {
  for (let ago = 84; ago > 0; ago -= 7) {
    const then = new Date(now.getTime() - ago * 86_400_000);
    const { value, of, low, high } = await figure.value(tx, then, ctx);
    if (!of) continue;
    const day = then.toISOString().slice(0, 10);
    await tx.run('INSERT INTO figure_value (figure, day, value, out_of, low, high, counted_at) VALUES (?)', [
      [figure.id, day, value, of, low ?? null, high ?? null, toDatetime(then)],
    ]);
    await keepRows(tx, figure.id, day, await figure.rows(tx, then, ctx));
  }
}

async function keepHistory(demo: Demo, figure: Figure, random: Random): Promise<void> {
  const { tx, ctx, now } = demo;
  const rows = await figure.rows(tx, now, ctx);
  const { value, of } = await figure.value(tx, now, ctx);
  if (value === null || rows.length > MOST_ROWS) return;
  const stood = rows.flatMap((row) => lifeOf(row, figure, random));
  const days = Array.from({ length: DAYS }, (_, i): Day => {
    const ago = DAYS - i;
    const then = stood.filter((s) => s.since >= ago && (s.until === null || s.until < ago)).map((s) => s.row);
    const outOf = then.some((r) => r.of !== undefined)
      ? then.reduce((n, r) => n + (r.of ?? 0), 0)
      : of === undefined
        ? undefined
        : Math.max(of, valueOfRows(figure, then) ?? 0);
    return {
      ...{ ago, value: valueOfRows(figure, then) },
      ...(outOf === undefined || figure.from === 'share' ? {} : { of: outOf }),
    };
  });
  await keepDays(demo, figure, days);
  await insertRows(demo, figure, stood);
}

/** What became of one row in the last year: it came, went and came back, or grew. */
function lifeOf(row: FigureRow, figure: Figure, random: Random): readonly Stood[] {
  const getsBetter = random.chance(0.6);
  if (row.of !== undefined || row.n > 1) {
    // It was more, or less, in steps of some weeks.
    const all: Stood[] = [];
    let until: number | null = null;
    let n = row.n;
    for (let since = 12 + random.below(50); ; since += 30 + random.below(40)) {
      const first = Math.min(since, DAYS);
      all.push({ row: { ...row, n }, since: first, until });
      if (first === DAYS) return all;
      until = first;
      const was =
        (figure.good === 'more') === getsBetter ? 0.9 + random.next() * 0.08 : 1.02 + random.next() * 0.1;
      n = Math.max(0, Math.round(n * was));
      if (row.of !== undefined) n = Math.min(n, row.of);
    }
  }
  const since = random.chance(0.35) ? DAYS : 3 + random.below(DAYS - 3);
  const now: Stood = { row, since, until: null };
  if (since > DAYS - 90 || !random.chance(figure.good === 'less' && getsBetter ? 0.7 : 0.3)) return [now];
  const until = since + 10 + random.below(DAYS - since - 10);
  return [{ row, since: DAYS, until }, now];
}

async function keepDays(demo: Demo, figure: Figure, days: readonly Day[]): Promise<void> {
  const rows = days.map(({ ago, value, of }) => {
    const share =
      figure.unit === '%' && value !== null && of ? wilson(Math.round(value * of), of) : undefined;
    return [
      ...[figure.id, demo.at(ago).toISOString().slice(0, 10), value, of ?? null],
      ...[share?.low ?? null, share?.high ?? null, toDatetime(demo.at(ago))],
    ];
  });
  for (let i = 0; i < rows.length; i += AT_ONCE)
    await demo.tx.run(
      'INSERT INTO figure_value (figure, day, value, out_of, low, high, counted_at) VALUES ?',
      [rows.slice(i, i + AT_ONCE)],
    );
}

async function insertRows(demo: Demo, figure: Figure, stood: readonly Stood[]): Promise<void> {
  const day = (ago: number | null) => (ago === null ? null : demo.at(ago).toISOString().slice(0, 10));
  const rows = stood.map(({ row, since, until }) => [
    ...[figure.id, row.key, day(since), day(until), row.name, row.n, row.of ?? null, row.link],
    JSON.stringify(row.parts),
  ]);
  for (let i = 0; i < rows.length; i += AT_ONCE)
    await demo.tx.run(
      'INSERT INTO figure_row (figure, row_key, since, until, name, n, out_of, link, parts) VALUES ?',
      [rows.slice(i, i + AT_ONCE)],
    );
}
