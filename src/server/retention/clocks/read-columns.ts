import { parse } from 'csv-parse/sync';
import { z } from 'zod';
import { ClockContent } from '../../../core/retention/clock/clock-content.ts';
import { ColumnDays } from '../../../core/retention/clock/column-days.ts';
import type { Day } from '../../../core/retention/clock/period.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { same, type Json } from '../../../core/rules/change.ts';
import { asSentence } from '../../../core/text/as-sentence.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { columnNamed } from '../../files/table-file.ts';
import { connectSource, findSource, ItemError, SourceError, type Connector } from '../../holdings/offers.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readRetentionPolicy } from '../policy.ts';
import { CLOCK, MOST_DAYS, writeClockDays } from './clocks.ts';

const HOUR = 3_600_000;
/** A table is read so often; one that could not be is tried again sooner. */
const AGAIN_MS = 24 * HOUR;
const FAILED_MS = HOUR;

const Clock = z.object({ id: z.number(), name: z.string(), content: JsonColumn(ClockContent) });

/** What a table told, or why it could not be read. */
type Told =
  { readonly days: ReadonlyMap<string, Day>; readonly words: string } | { readonly problem: string };

/**
 * Reads the tables that clocks are told by, once a day and whenever what such a clock says was changed. One that cannot be
 * read keeps the days that it had, and is on Today.
 */
export async function readClockColumns(ctx: Context): Promise<void> {
  const ago = (ms: number) => toDatetime(new Date(ctx.now().getTime() - ms));
  const clocks = await ctx.store.all(
    Clock,
    `SELECT id, name, content FROM retention_clock WHERE JSON_VALUE(content, '$.way') = 'column'
     AND (read_at IS NULL OR read_at <= ? OR (problem <> '' AND read_at <= ?)) ORDER BY id`,
    [ago(AGAIN_MS), ago(FAILED_MS)],
  );
  for (const { id, content } of clocks) {
    const told = await tellOf(ctx, content);
    await ctx.store.transaction((tx) => writeColumn(tx, ctx, id, content, told));
  }
}

async function tellOf(ctx: Context, content: ClockContent): Promise<Told> {
  if (!isNamed(content)) return { problem: 'Name its database, its table and the two columns.' };
  const { zone } = await readRetentionPolicy(ctx.store);
  let connector: Connector | undefined;
  try {
    const source = await findSource(ctx.store, content.source);
    // However few of its rows a survey reads.
    connector = await connectSource(ctx, { ...source, content: { ...source.content, rowsPerTable: null } });
    const column = await readColumns(connector, content, zone);
    return { days: column.days, words: columnWords(column) };
  } catch (error) {
    if (error instanceof RefusedError) return { problem: 'Its database is no source any more.' };
    if (!(error instanceof SourceError || error instanceof ItemError)) throw error;
    return { problem: asSentence(error.message) };
  } finally {
    await connector?.close();
  }
}

/** Throws an ItemError for a table or a column that there is not. */
async function readColumns(
  connector: Connector,
  { table, markColumn, dayColumn }: ClockContent,
  zone: string,
): Promise<ColumnDays> {
  const place = await placeOf(connector, table);
  const column = new ColumnDays(zone);
  for (const group of await connector.details(place, (await connector.list(place)).items)) {
    const read = await connector.read(place, group);
    if (!('bytes' in read)) throw new ItemError('it is no table of a database');
    const [headings = [], ...rows] = parse(Buffer.from(read.bytes)) as string[][];
    const [mark, day] = [markColumn, dayColumn].map((name) => numberOf({ headings, rows }, name));
    for (const row of rows) column.add(row[mark ?? 0] ?? '', row[day ?? 0] ?? '');
    if (column.days.size > MOST_DAYS) throw new ItemError(`it tells more than ${MOST_DAYS} days`);
  }
  return column;
}

/** Where a table lies: by its name, with that of its schema before it where there is one. */
async function placeOf(connector: Connector, table: string): Promise<string> {
  const path = table.trim().split(/[./]/).join('/');
  for (const place of new Set([path, table.trim()]))
    if ((await connector.list(place)).items.length > 0) return place;
  const { places } = await connector.list(path.slice(0, Math.max(0, path.lastIndexOf('/'))));
  throw new ItemError(
    places.includes(path.split('/').at(-1) ?? '')
      ? `the table “${table}” has no rows`
      : `there is no table “${table}” among ${places.toSorted().slice(0, 8).join(', ') || 'none'}`,
  );
}

function numberOf(table: Parameters<typeof columnNamed>[0], name: string): number {
  try {
    return columnNamed(table, name);
  } catch (error) {
    throw new ItemError((error as Error).message.replace(/\.$/, ''));
  }
}

function columnWords({ days, unread, twice }: ColumnDays): string {
  const rows = (n: number) => (n === 1 ? '1 row' : `${n} rows`);
  return [
    days.size === 1 ? '1 day' : `${days.size} days`,
    ...(unread > 0
      ? [`${rows(unread)} without a day, or with fewer than 4 letters or digits to look for`]
      : []),
    ...(twice > 0
      ? [`in ${rows(twice)} what names hold stood with another day before: the later one counts`]
      : []),
  ].join(' · ');
}

function isNamed({ source, table, markColumn, dayColumn }: ClockContent): boolean {
  return [source, table, markColumn, dayColumn].every((of) => of !== '');
}

/** Nothing where what the clock says was changed while its table was read. */
async function writeColumn(
  tx: Queries,
  ctx: Context,
  id: number,
  asked: ClockContent,
  told: Told,
): Promise<void> {
  const content = await CLOCK.read(tx, id, true);
  if (!same(content as unknown as Json, asked as unknown as Json)) return;
  const problem = 'problem' in told ? told.problem : '';
  if ('days' in told && !(await hasDays(tx, id, told.days))) await writeClockDays(tx, id, told.days);
  await tx.run('UPDATE retention_clock SET read_at = ?, read_words = ?, problem = ? WHERE id = ?', [
    ...[toDatetime(ctx.now()), 'words' in told ? told.words : '', problem.slice(0, 400), id],
  ]);
  await replaceOnToday(
    tx,
    `clock ${id}`,
    problem === '' || !isNamed(content)
      ? []
      : [
          {
            kind: 'clock not read',
            key: String(id),
            action: 'retention.edit',
            words: `The table that tells “${content.name}” could not be read`,
            detail: `${problem} What was known before counts on; of new items it is not known.`,
            link: `/retention/clocks/${id}`,
            since: ctx.now(),
          },
        ],
  );
}

/** Items are looked at again only where it says something else. */
async function hasDays(tx: Queries, clock: number, days: ReadonlyMap<string, Day>): Promise<boolean> {
  const rows = await tx.all(
    z.object({ mark: z.string(), day: z.string() }),
    'SELECT mark, day FROM clock_day WHERE clock_id = ?',
    [clock],
  );
  return rows.length === days.size && rows.every((r) => days.get(r.mark) === r.day);
}
