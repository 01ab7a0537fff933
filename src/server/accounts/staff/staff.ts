import { z } from 'zod';
import { belongsTo, type Staff } from '../../../core/accounts/staff/staff.ts';
import { plainEmail } from '../../../core/accounts/email.ts';
import type { Reached } from '../../../core/accounts/staff/audience.ts';
import { MOST_STAFF, readStaff } from '../../../core/accounts/staff/staff-table.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { readSentCsv, refuseCells } from '../../files/sent-csv.ts';
import { Count, Instant, toDatetime } from '../../store/columns.ts';
import { likeText } from '../../store/like-text.ts';
import type { Queries } from '../../store/pool.ts';

const AT_ONCE = 1000;

/**
 * Takes a list of all people and groups, whole or not at all: who does not stand in it is not known any more. Throws a
 * RefusedError that names each cell that cannot be taken.
 */
export async function takeStaffList(
  ctx: Context,
  account: number,
  upload: number,
): Promise<{ readonly people: number; readonly groups: number }> {
  const table = await readSentCsv(ctx, account, upload, MOST_STAFF, 'Leave out those who left long ago.');
  const { staff, faults } = readStaff(table.headings, table.rows);
  refuseCells(faults);
  await ctx.store.transaction(async (tx) => {
    await writeStaff(tx, ctx.now(), account, staff);
    await record(tx, ctx.now(), {
      actor: account,
      action: 'staff.read',
      object: 'staff list',
      objectId: 1,
      detail: { people: staff.members.length, groups: staff.groups.length },
    });
  });
  return { people: staff.members.length, groups: staff.groups.length };
}

/** Puts people and groups in the place of those that were known; who stays keeps their number. */
export async function writeStaff(
  tx: Queries,
  now: Date,
  by: number | null,
  { members, groups }: Staff,
): Promise<void> {
  await tx.run('DELETE FROM staff_nesting');
  await tx.run('DELETE FROM staff_membership');
  await replaceAll(
    tx,
    'staff_group',
    'name',
    ['name'],
    groups.map((g) => [g.name]),
  );
  await replaceAll(
    tx,
    'staff',
    'address',
    ['address', 'name', 'unit', 'left_on'],
    members.map((m) => [m.address, m.name, m.unit, m.left]),
  );
  const [people, named] = [await idsBy(tx, 'staff', 'address'), await idsBy(tx, 'staff_group', 'name')];
  await insertMany(
    tx,
    'INSERT INTO staff_membership (staff_id, group_id) VALUES ?',
    members.flatMap((m) => m.groups.map((g) => [people.get(m.address) ?? 0, named.get(g) ?? 0])),
  );
  await insertMany(
    tx,
    'INSERT INTO staff_nesting (inner_id, outer_id) VALUES ?',
    groups.flatMap((g) => g.within.map((w) => [named.get(g.name) ?? 0, named.get(w) ?? 0])),
  );
  await tx.run('REPLACE INTO staff_list (id, read_at, read_by) VALUES (1, ?, ?)', [toDatetime(now), by]);
}

type Cell = string | number | null;

async function insertMany(tx: Queries, sql: string, rows: readonly (readonly Cell[])[]): Promise<void> {
  for (let at = 0; at < rows.length; at += AT_ONCE) await tx.run(sql, [rows.slice(at, at + AT_ONCE)]);
}

async function replaceAll(
  tx: Queries,
  table: 'staff' | 'staff_group',
  key: 'address' | 'name',
  columns: readonly string[],
  rows: readonly (readonly Cell[])[],
): Promise<void> {
  const kept = new Set(rows.map((r) => String(r[0])));
  const gone = [...(await idsBy(tx, table, key))].flatMap(([k, id]) => (kept.has(k) ? [] : [id]));
  for (let at = 0; at < gone.length; at += AT_ONCE)
    await tx.run(`DELETE FROM ${table} WHERE id IN (?)`, [gone.slice(at, at + AT_ONCE)]);
  await insertMany(
    tx,
    `INSERT INTO ${table} (${columns.join(', ')}) VALUES ? ON DUPLICATE KEY UPDATE ${columns.map((c) => `${c} = VALUES(${c})`).join(', ')}`,
    rows,
  );
}

async function idsBy(
  tx: Queries,
  table: 'staff' | 'staff_group',
  key: 'address' | 'name',
): Promise<ReadonlyMap<string, number>> {
  const rows = await tx.all(
    z.object({ k: z.string(), id: z.number() }),
    `SELECT ${key} AS k, id FROM ${table}`,
  );
  return new Map(rows.map((r) => [r.k, r.id]));
}

/** Groups by name, with those they stand in. */
export async function nesting(store: Queries): Promise<ReadonlyMap<string, readonly string[]>> {
  const rows = await store.all(
    z.object({ name: z.string(), outside: z.string().nullable() }),
    `SELECT g.name, o.name AS outside FROM staff_group g LEFT JOIN staff_nesting n ON n.inner_id = g.id
     LEFT JOIN staff_group o ON o.id = n.outer_id ORDER BY g.name, o.name`,
  );
  const found = new Map<string, string[]>();
  for (const { name, outside } of rows)
    found.set(name, [...(found.get(name) ?? []), ...(outside === null ? [] : [outside])]);
  return found;
}

/** Somebody who works here, with every group they belong to. */
export interface KnownMember extends Reached {
  readonly id: number;
  readonly name: string;
  readonly unit: string;
}

const MEMBER = z.object({
  id: z.number(),
  address: z.string(),
  name: z.string(),
  unit: z.string(),
  own: z.string().nullable(),
});
const MEMBER_SQL = `SELECT s.id, s.address, s.name, s.unit, GROUP_CONCAT(g.name SEPARATOR '\\n') AS own
  FROM staff s LEFT JOIN staff_membership m ON m.staff_id = s.id LEFT JOIN staff_group g ON g.id = m.group_id`;

function known(
  { own, ...rest }: z.infer<typeof MEMBER>,
  within: ReadonlyMap<string, readonly string[]>,
): KnownMember {
  return { ...rest, groups: belongsTo(own?.split('\n') ?? [], within) };
}

/** Somebody who is here today, by their address; `undefined` for none. */
export async function findMember({ store, now }: Context, address: string): Promise<KnownMember | undefined> {
  const row = await store.one(
    MEMBER,
    `${MEMBER_SQL} WHERE s.address = ? AND (s.left_on IS NULL OR s.left_on > ?) GROUP BY s.id`,
    [plainEmail(address), now().toISOString().slice(0, 10)],
  );
  return row && known(row, await nesting(store));
}

/** All who are here today, in pages of their numbers. */
export async function* everyMember({ store, now }: Context): AsyncGenerator<KnownMember> {
  const within = await nesting(store);
  for (let last = 0; ;) {
    const rows = await store.all(
      MEMBER,
      `${MEMBER_SQL} WHERE s.id > ? AND (s.left_on IS NULL OR s.left_on > ?) GROUP BY s.id ORDER BY s.id LIMIT ?`,
      [last, now().toISOString().slice(0, 10), AT_ONCE],
    );
    for (const row of rows) yield known(row, within);
    if (rows.length < AT_ONCE) return;
    last = rows.at(-1)?.id ?? last;
  }
}

/** Names and addresses that begin or go on with a text, for choosing one of them. */
export async function searchStaff(
  { store, now }: Context,
  text: string,
): Promise<readonly { readonly address: string; readonly name: string; readonly unit: string }[]> {
  const like = likeText(text);
  return store.all(
    z.object({ address: z.string(), name: z.string(), unit: z.string() }),
    `SELECT address, name, unit FROM staff WHERE (name LIKE ? OR address LIKE ?) AND (left_on IS NULL OR left_on > ?)
     ORDER BY name LIMIT 20`,
    [like, like, now().toISOString().slice(0, 10)],
  );
}

export interface StaffFigures {
  readonly people: number;
  readonly groups: number;
  readonly readAt: string | null;
}

export async function staffFigures(store: Queries): Promise<StaffFigures> {
  const row = await store.one(
    z.object({ people: Count, groups: Count, read: Instant.nullable() }),
    `SELECT (SELECT COUNT(*) FROM staff) AS people, (SELECT COUNT(*) FROM staff_group) AS \`groups\`,
       (SELECT read_at FROM staff_list WHERE id = 1) AS \`read\``,
  );
  return {
    people: row?.people ?? 0,
    groups: row?.groups ?? 0,
    readAt: row?.read ? new Date(row.read).toISOString() : null,
  };
}
