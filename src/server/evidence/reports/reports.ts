import { z } from 'zod';
import { FORMATS, RANGES, Report } from '../../../core/evidence/reports/report.ts';
import { scheduleWords, nextTime } from '../../../core/schedule/schedule.ts';
import { may, type Account } from '../../../core/accounts/authority.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { findAccount } from '../../accounts/account.ts';
import type { Context } from '../../context.ts';
import { count } from '../../figures/count.ts';
import { openText, sealText } from '../../secret.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { record } from '../ledger.ts';

const TABLE: NamedTable<Report> = {
  table: 'report',
  object: 'report',
  content: Report,
  columns: ({ schedule }, now) => ({ next_at: schedule ? toDatetime(nextTime(schedule, now)) : null }),
};

const WORDS: Readonly<Record<string, string>> = {
  name: 'The name',
  what: 'What it tells of',
  lens: 'The lens',
  format: 'The format',
  range: 'The days',
  by: 'What it is told apart by',
  schedule: 'When it is made',
  people: 'Who is told',
  keepDays: 'How long it is kept',
};

/** What is told of an area, a board or a list, once or again and again. */
export const REPORT: PlainKind<Report> = {
  object: 'report',
  content: Report,
  vocabulary: () =>
    Promise.resolve({
      path: ([first]) => WORDS[String(first)] ?? String(first),
      value: (value, [first]) => {
        if (first === 'format') return FORMATS[value as keyof typeof FORMATS];
        if (first === 'range') return RANGES[value as keyof typeof RANGES];
        if (first === 'people') return Array.isArray(value) ? `${value.length} of them` : 'one';
        if (first !== 'schedule') return undefined;
        const schedule = Report.shape.schedule.safeParse(value);
        return schedule.data ? scheduleWords(schedule.data) : 'when somebody asks';
      },
    }),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: async (tx, key, content, _before, now, by) => {
    await refuseSending(tx, Number(key), by);
    await writeNamed(tx, TABLE, key, content, now);
    // Whoever changes what it tells answers for it.
    await tx.run('UPDATE report SET made_by = ? WHERE id = ?', [by, key]);
  },
};

export async function addReport(tx: Queries, now: Date, by: number, content: Report): Promise<number> {
  const id = await addNamed(tx, TABLE, now, by, content);
  await tx.run('UPDATE report SET made_by = ? WHERE id = ?', [by, id]);
  return id;
}

/** Throws a RefusedError (403) where a report goes to people without an account, and somebody may not send to them. */
async function refuseSending(tx: Queries, id: number, by: number): Promise<void> {
  const sent = await count(tx, 'SELECT COUNT(*) AS n FROM report_address WHERE report_id = ?', [id]);
  if (sent === 0 || may((await findAccount(tx, by)).account, 'reports.send')) return;
  throw new RefusedError(
    'This report goes to people without an account: only those may change it who may send to them.',
    [{ field: 'addresses', message: 'Make one of your own, or ask the privacy officer.' }],
    403,
  );
}

/** With its files. Throws a RefusedError (404). */
export async function removeReport(tx: Queries, now: Date, by: number, id: number): Promise<void> {
  const { name } = await REPORT.read(tx, id, true);
  await tx.run('DELETE FROM report WHERE id = ?', [id]);
  await record(tx, now, {
    actor: by,
    action: 'report.remove',
    object: 'report',
    objectId: id,
    detail: { name },
  });
}

const Row = z.object({
  id: Count,
  content: JsonColumn(Report),
  made_by: Count.nullable(),
  name: z.string().nullable(),
  next_at: Instant.nullable(),
  last_at: Instant.nullable(),
});
const SELECT = `SELECT r.id, r.content, r.made_by, a.name, r.next_at,
  (SELECT MAX(f.made_at) FROM report_file f WHERE f.report_id = r.id) AS last_at
  FROM report r LEFT JOIN account a ON a.id = r.made_by`;

export interface StoredReport {
  readonly id: number;
  readonly report: Report;
  readonly madeBy: { readonly id: number; readonly name: string } | null;
  readonly nextAt: string | null;
  readonly lastAt: string | null;
}

function toStored({ id, content, made_by, name, next_at, last_at }: z.infer<typeof Row>): StoredReport {
  return {
    ...{ id, report: content, nextAt: next_at, lastAt: last_at },
    madeBy: made_by === null ? null : { id: made_by, name: name ?? '' },
  };
}

/** A register shows no more. */
const MOST = 500;

export async function listReports(store: Queries): Promise<readonly StoredReport[]> {
  return (await store.all(Row, `${SELECT} ORDER BY r.name LIMIT ${MOST}`)).map(toStored);
}

/** Throws a RefusedError (404). */
export async function findReport(store: Queries, id: number, lock = false): Promise<StoredReport> {
  const row = await store.one(Row, `${SELECT} WHERE r.id = ?${lock ? ' FOR UPDATE' : ''}`, [id]);
  if (!row) throw notFound('report');
  return toStored(row);
}

/** Whoever made it has it, those it is for see it, and whoever may send reports outside has all. */
export function mayHaveReport(
  account: Account,
  { report, madeBy }: Pick<StoredReport, 'report' | 'madeBy'>,
  does: 'see' | 'edit',
): boolean {
  if (may(account, 'reports.send') || madeBy?.id === account.id) return true;
  return does === 'see' && report.people.includes(account.id);
}

/** The report, for somebody who may have it. Throws a RefusedError (404). */
export async function ownReport(
  store: Queries,
  id: number,
  account: Account,
  does: 'see' | 'edit',
): Promise<StoredReport> {
  const stored = await findReport(store, id);
  if (!mayHaveReport(account, stored, does)) throw notFound('report');
  return stored;
}

/** The addresses of people without an account that a report goes to. */
export async function addressesOf({ store, settings }: Context, id: number): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ address: z.string() }),
    'SELECT address FROM report_address WHERE report_id = ? ORDER BY n',
    [id],
  );
  return rows.map((r) => openText(settings.SECRET_KEY, r.address));
}

/** Sends a report to these and no others from now on; the ledger knows how many. */
export async function setAddresses(
  ctx: Context,
  by: number,
  id: number,
  addresses: readonly string[],
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await findReport(tx, id, true);
    await tx.run('DELETE FROM report_address WHERE report_id = ?', [id]);
    if (addresses.length > 0)
      await tx.run('INSERT INTO report_address (report_id, n, address) VALUES ?', [
        addresses.map((a, n) => [id, n, sealText(ctx.settings.SECRET_KEY, a)]),
      ]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'report.addresses', object: 'report', objectId: id },
      detail: { addresses: addresses.length },
    });
  });
}
