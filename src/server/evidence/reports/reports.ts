import { z } from 'zod';
import { FORMATS, RANGES, Report } from '../../../core/evidence/reports/report.ts';
import { scheduleWords, nextTime } from '../../../core/schedule/schedule.ts';
import { may } from '../../../core/accounts/authority.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { findAccount } from '../../accounts/account.ts';
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
  addresses: 'The addresses',
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
        // Who is told stays out of the ledger.
        if (first === 'addresses' || first === 'people')
          return Array.isArray(value) ? `${value.length}` : 'one';
        if (first !== 'schedule') return undefined;
        const schedule = Report.shape.schedule.safeParse(value);
        return schedule.data ? scheduleWords(schedule.data) : 'when somebody asks';
      },
    }),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: async (tx, key, content, before, now, by) => {
    await refuseAddresses(tx, by, content, before);
    await writeNamed(tx, TABLE, key, content, now);
    // Whoever changes what it tells answers for it.
    await tx.run('UPDATE report SET made_by = ? WHERE id = ?', [by, key]);
  },
};

/** Throws a RefusedError (403) where somebody adds an address that may not send outside. */
async function refuseAddresses(tx: Queries, by: number, content: Report, before?: Report): Promise<void> {
  const added = content.addresses.filter((a) => !before?.addresses.includes(a));
  if (added.length === 0) return;
  const { account } = await findAccount(tx, by);
  if (!may(account, 'reports.send'))
    throw new RefusedError(
      'Your roles do not include sending reports to people without an account.',
      [{ field: 'addresses', message: 'Choose people who have one, or ask the privacy officer.' }],
      403,
    );
}

export async function addReport(tx: Queries, now: Date, by: number, content: Report): Promise<number> {
  await refuseAddresses(tx, by, content);
  const id = await addNamed(tx, TABLE, now, by, content);
  await tx.run('UPDATE report SET made_by = ? WHERE id = ?', [by, id]);
  return id;
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
