import { z } from 'zod';
import { itemVocabulary } from '../../../core/holdings/offers.ts';
import {
  ClockContent,
  clockVocabulary,
  type ClockNames,
} from '../../../core/retention/clock/clock-content.ts';
import { plainMarks } from '../../../core/retention/clock/name-days.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { parseDay } from '../../../core/text/day.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { readTable } from '../../files/table-file.ts';
import { itemNames } from '../../holdings/offers.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { rulesNaming } from '../../rules/rule-references.ts';
import { Count, Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const TABLE: NamedTable<ClockContent> = { table: 'retention_clock', object: 'clock', content: ClockContent };

/** What terms are counted from, by its number. */
export const CLOCK: PlainKind<ClockContent> = {
  object: 'clock',
  content: ClockContent,
  vocabulary: async (store) => clockVocabulary(await clockNames(store)),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  async write(tx, key, content, before, now) {
    const [fault] = lensFaults(content.lens, (await clockNames(tx)).items);
    if (fault)
      throw new RefusedError('What it is among names something that is gone.', [
        { field: 'lens', message: fault.words },
      ]);
    await writeNamed(tx, TABLE, key, content, now);
    // Every item is looked at again, and a table is read anew; what another place told counts no longer.
    await tx.run('UPDATE retention_clock SET revision = revision + 1, read_at = NULL WHERE id = ?', [key]);
    if (toldBy(content) !== toldBy(before)) {
      await tx.run('DELETE FROM clock_day WHERE clock_id = ?', [key]);
      await tx.run("UPDATE retention_clock SET read_words = '', problem = '' WHERE id = ?", [key]);
      await replaceOnToday(tx, `clock ${key}`, []);
    }
  },
};

/** Where the days of a clock come from. */
function toldBy({ way, source, table, markColumn, dayColumn }: ClockContent): string {
  return JSON.stringify(way === 'column' ? [way, source, table, markColumn, dayColumn] : [way]);
}

export async function clockNames(store: Queries): Promise<ClockNames> {
  const [items, databases] = await Promise.all([
    itemNames(store),
    store.all(
      z.object({ id: z.coerce.string(), name: z.string() }),
      "SELECT id, name FROM source WHERE kind IN ('mariadb', 'postgresql') ORDER BY name",
    ),
  ]);
  return { items: itemVocabulary(items), sources: databases.map((d) => ({ value: d.id, words: d.name })) };
}

export function addClock(tx: Queries, now: Date, by: number | null, content: ClockContent): Promise<number> {
  return addNamed(tx, TABLE, now, by, content);
}

export interface ListedClock {
  readonly id: number;
  readonly name: string;
  readonly way: ClockContent['way'];
  /** Items of which it tells a day, and of which it does not. */
  readonly known: number;
  readonly unknown: number;
  /** Of a list or a table: how many days it has. */
  readonly days: number;
  /** Of a table: when it was read last, what it told, and why it could not be read; '' where it could. */
  readonly readAt: string | null;
  readonly readWords: string;
  readonly problem: string;
  /** Rules and bounds whose draft counts from it. */
  readonly uses: readonly { readonly kind: string; readonly id: string; readonly name: string }[];
}

/** By name. */
export async function listClocks(store: Queries): Promise<readonly ListedClock[]> {
  const rows = await store.all(
    z.object({
      id: z.number(),
      name: z.string(),
      content: JsonColumn(ClockContent),
      known: Count,
      unknown: Count,
      days: Count,
      read_at: Instant.nullable(),
      read_words: z.string(),
      problem: z.string(),
    }),
    `SELECT c.id, c.name, c.content, c.read_at, c.read_words, c.problem,
       (SELECT COUNT(i.day) FROM item_clock i WHERE i.clock_id = c.id) AS known,
       (SELECT COUNT(*) FROM item_clock i WHERE i.clock_id = c.id AND i.day IS NULL) AS unknown,
       (SELECT COUNT(*) FROM clock_day d WHERE d.clock_id = c.id) AS days
     FROM retention_clock c ORDER BY c.name`,
  );
  return Promise.all(
    rows.map(async ({ content, read_at, read_words, ...rest }) => ({
      ...rest,
      readAt: read_at,
      readWords: read_words,
      way: content.way,
      uses: (await rulesNaming(store, 'clock', String(rest.id))).map(({ kind, id, name }) => ({
        kind,
        id,
        name,
      })),
    })),
  );
}

/** Throws a RefusedError (409) as long as a rule or a bound counts from it. */
export async function removeClock(tx: Queries, now: Date, by: number, id: number): Promise<void> {
  const { name } = await CLOCK.read(tx, id, true);
  const [use] = await rulesNaming(tx, 'clock', String(id));
  if (use)
    throw new RefusedError(
      `“${use.name}” counts from it.`,
      [{ field: 'id', message: 'Have that count from something else first.' }],
      409,
    );
  await tx.run('DELETE FROM retention_clock WHERE id = ?', [id]);
  await replaceOnToday(tx, `clock ${id}`, []);
  await record(tx, now, {
    actor: by,
    action: 'clock.remove',
    object: 'clock',
    objectId: id,
    detail: { name },
  });
}

export const MOST_DAYS = 500_000;
const AT_ONCE = 1000;

/**
 * Takes a list of days (CSV: a column `mark`, what names of items hold, and a column `day`), whole or not at all, in the
 * place of the one before. Throws a RefusedError that names each cell that cannot be taken.
 */
export async function takeClockList(
  ctx: Context,
  account: number,
  clock: number,
  upload: number,
): Promise<{ readonly days: number }> {
  const { name, bytes } = await readUpload(ctx, account, upload);
  await dropUpload(ctx.store, upload);
  let table: ReturnType<typeof readTable>;
  try {
    table = readTable(bytes);
  } catch (error) {
    throw new RefusedError(`“${name}” is no list in CSV.`, [
      { field: 'upload', message: (error as Error).message },
    ]);
  }
  const at = (heading: string) => table.headings.findIndex((h) => h.trim().toLowerCase() === heading);
  const [mark, day] = [at('mark'), at('day')];
  if (mark < 0 || day < 0)
    throw new RefusedError(`“${name}” has no columns “mark” and “day”.`, [
      {
        field: 'upload',
        message: 'Head the column of what names hold with “mark”, that of the days with “day”.',
      },
    ]);
  if (table.rows.length > MOST_DAYS)
    throw new RefusedError(`“${name}” has more than ${MOST_DAYS} rows.`, [
      { field: 'upload', message: 'Leave out those of long ago.' },
    ]);
  const faults: { field: string; message: string }[] = [];
  const days = new Map<string, string>();
  for (const [i, row] of table.rows.entries()) {
    const plain = plainMarks(row[mark] ?? '').trim();
    const is = parseDay(row[day] ?? '');
    if (plain === '' || plain.length > 160)
      faults.push({ field: `row ${i + 2}, mark`, message: 'Letters or digits, at most 160.' });
    if (is === undefined) faults.push({ field: `row ${i + 2}, day`, message: 'A day such as 2026-11-30.' });
    else if (days.has(plain) && days.get(plain) !== is)
      faults.push({ field: `row ${i + 2}, mark`, message: 'It stands in another row with another day.' });
    else days.set(plain, is);
  }
  if (faults.length > 0)
    throw new RefusedError(
      faults.length === 1
        ? 'One cell cannot be taken. Nothing was taken.'
        : `${faults.length} cells cannot be taken. Nothing was taken.`,
      faults.slice(0, 50),
    );
  await ctx.store.transaction(async (tx) => {
    await CLOCK.read(tx, clock, true);
    await writeClockDays(tx, clock, days);
    await record(tx, ctx.now(), {
      actor: account,
      action: 'clock.read',
      object: 'clock',
      objectId: clock,
      detail: { days: days.size },
    });
  });
  return { days: days.size };
}

/** Puts days, by plain marks, in the place of those that a clock had. */
export async function writeClockDays(
  tx: Queries,
  clock: number,
  days: ReadonlyMap<string, string>,
): Promise<void> {
  await tx.run('DELETE FROM clock_day WHERE clock_id = ?', [clock]);
  const rows = [...days].map(([mark, day]) => [clock, mark, day]);
  for (let from = 0; from < rows.length; from += AT_ONCE)
    await tx.run('INSERT INTO clock_day (clock_id, mark, day) VALUES ?', [rows.slice(from, from + AT_ONCE)]);
  await tx.run('UPDATE retention_clock SET revision = revision + 1 WHERE id = ?', [clock]);
}
