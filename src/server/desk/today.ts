import { createHash } from 'node:crypto';
import { z } from 'zod';
import { may, type Account } from '../../core/accounts/authority.ts';
import type { Holder } from '../../core/accounts/roles/held-role.ts';
import { inScope, type Within } from '../../core/accounts/scope.ts';
import { ACTIONS, type Action } from '../../core/accounts/action.ts';
import { todayKind, type TodayKindName } from '../../core/desk/today-kinds.ts';
import { steadyWords } from '../../core/desk/steady-words.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { keepToWithin, withinColumns } from '../accounts/scope-condition.ts';
import { Count, Flag, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { Where } from '../store/where.ts';
import { setApart, type SetApart } from './set-apart.ts';

/** Something that needs a hand, as the change that causes it writes it down. */
export interface NewItem {
  readonly kind: TodayKindName;
  /** Tells items of a kind apart; one that comes up again takes the place of the one before. */
  readonly key: string;
  /** What somebody must be allowed to do to see it. */
  readonly action: Action;
  readonly words: string;
  readonly detail: string;
  readonly link: string;
  readonly since: Date | string;
  /** For one person alone. */
  readonly assignedTo?: number;
  /** What it belongs to, of what accounts can be kept to. */
  readonly within?: readonly Within[];
  readonly due?: Date | string;
  /** After this it is of no more use. */
  readonly until?: Date | string;
  /** Somebody has to say that it was seen to; others end with what they tell of. */
  readonly dismissable?: boolean;
  /** What one act does about it, where one does. */
  readonly act?: TodayAct;
}

/** A request of the desk that does something about an item, in place. */
export interface TodayAct {
  /** As the button says: `Mark it as seen`. */
  readonly words: string;
  /** As it is told once it is done. */
  readonly done: string;
  /** Of the desk’s endpoints, asked with POST. */
  readonly path: string;
  readonly body: Readonly<Record<string, unknown>>;
  /** What somebody must be allowed to do to be offered it. */
  readonly needs: Action;
}

/** Something that needs a hand now, with where to go for it. */
export interface TodayItem {
  readonly kind: string;
  readonly key: string;
  readonly words: string;
  readonly detail: string;
  readonly link: string;
  readonly since: string;
  readonly due: string | null;
  readonly dismissable: boolean;
}

/** Puts something on Today, in the transaction of the change that causes it. */
export async function putOnToday(tx: Queries, ...items: readonly NewItem[]): Promise<void> {
  await put(tx, '', items);
}

/** Takes something off Today, in the transaction of the change that ends it. */
export async function takeOffToday(tx: Queries, kind: TodayKindName, key: string): Promise<void> {
  await takeOff(tx, await kept(tx, 'kind = ? AND item_key = ?', [kind, key.slice(0, 120)]));
}

/** Keys of all items of a kind. */
export async function keysOnToday(tx: Queries, kind: TodayKindName): Promise<readonly string[]> {
  const rows = await tx.all(
    z.object({ item_key: z.string() }),
    'SELECT item_key FROM today_item WHERE kind = ?',
    [kind],
  );
  return rows.map((r) => r.item_key);
}

/** What needs a hand about one object now, such as `site 12`: all that it had on Today before is replaced. */
export async function replaceOnToday(tx: Queries, source: string, items: readonly NewItem[]): Promise<void> {
  const keys = items.map((i) => `${i.kind}\n${i.key}`);
  const before = await kept(tx, 'source = ?', [source]);
  await takeOff(
    tx,
    before.filter((b) => !keys.includes(`${b.kind}\n${b.item_key}`)),
  );
  await put(tx, source, items);
}

const Kept = z.object({
  kind: z.string(),
  item_key: z.string(),
  action: z.string(),
  assigned_to: z.number().nullable(),
  mark: z.number(),
  came_at: Instant,
});
type Kept = z.infer<typeof Kept>;

/** Locks items, to change them. */
function kept(
  tx: Queries,
  where: string,
  params: readonly (string | readonly string[][])[],
): Promise<Kept[]> {
  return tx.all(
    Kept,
    `SELECT kind, item_key, action, assigned_to, mark, came_at FROM today_item WHERE ${where} FOR UPDATE`,
    params,
  );
}

async function takeOff(tx: Queries, items: readonly Kept[]): Promise<void> {
  for (const { kind, item_key } of items) {
    const of = [kind, item_key];
    await tx.run(
      `INSERT INTO today_past (kind, item_key, action, assigned_to, within_object, within_id, words, link, since, ended_at)
       SELECT kind, item_key, action, assigned_to, within_object, within_id, words, link, since, UTC_TIMESTAMP(3) FROM today_item WHERE kind = ? AND item_key = ?`,
      of,
    );
    for (const table of ['today_item', 'today_handed', 'today_put_off'])
      await tx.run(`DELETE FROM ${table} WHERE kind = ? AND item_key = ?`, of);
  }
  await count(tx, items, []);
}

async function put(tx: Queries, source: string, items: readonly NewItem[]): Promise<void> {
  if (items.length === 0) return;
  const time = (at: Date | string | undefined) => (at === undefined ? null : toDatetime(at));
  const rows = items.map((i) => ({
    kind: i.kind,
    item_key: i.key.slice(0, 120),
    source,
    action: i.action,
    words: i.words.slice(0, 300),
    detail: i.detail.slice(0, 500),
    link: i.link,
    since: toDatetime(i.since),
    place: todayKind(i.kind)?.place ?? 50,
    assigned_to: i.assignedTo ?? null,
    due: time(i.due),
    until: time(i.until),
    dismissable: i.dismissable ?? false,
    act: i.act ? JSON.stringify(i.act) : null,
    steady: markOf([i.link, time(i.due), steadyWords(i.words), steadyWords(i.detail)]),
    ...withinColumns(i.within),
  }));
  const marked = rows.map((r) => ({ ...r, mark: markOf(Object.values(r)) }));
  const columns = Object.keys(marked[0] as object).join(', ');
  // Those that are new are put down uncounted first: two that do so at once then wait for each other.
  await tx.run(`INSERT IGNORE INTO today_item (${columns}) VALUES ?`, [
    marked.map((r) => Object.values({ ...r, mark: UNCOUNTED })),
  ]);
  const all = await kept(tx, '(kind, item_key) IN (?)', [rows.map((r) => [r.kind, r.item_key])]);
  const before = all.filter((r) => r.mark !== UNCOUNTED);
  const came = new Map(all.map((r) => [`${r.kind}\n${r.item_key}`, toDatetime(r.came_at)]));
  await tx.run(`REPLACE INTO today_item (${columns}, came_at) VALUES ?`, [
    marked.map((r) => [...Object.values(r), came.get(`${r.kind}\n${r.item_key}`)]),
  ]);
  await count(tx, before, marked);
}

const UNCOUNTED = 0;

/** Differs wherever what an item says does. */
function markOf(values: readonly unknown[]): number {
  return createHash('sha256').update(JSON.stringify(values)).digest().readUInt32BE() || 1;
}

type Counted = Pick<Kept, 'action' | 'assigned_to' | 'mark'>;

/** Keeps the counts with a change. */
async function count(tx: Queries, before: readonly Counted[], after: readonly Counted[]): Promise<void> {
  const changes = new Map<string, [string, number, number, number]>();
  const add = ({ action, assigned_to, mark }: Counted, by: number) => {
    const key = `${action} ${assigned_to ?? 0}`;
    const [, , items, marks] = changes.get(key) ?? [action, 0, 0, 0];
    changes.set(key, [action, assigned_to ?? 0, items + by, (marks ^ mark) >>> 0]);
  };
  for (const item of before) add(item, -1);
  for (const item of after) add(item, 1);
  // In one order, so that two changes wait for each other instead of losing.
  const rows = [...changes]
    .toSorted(([a], [b]) => (a < b ? -1 : 1))
    .map(([, row]) => row)
    .filter(([, , items, mark]) => items !== 0 || mark !== 0);
  if (rows.length > 0)
    await tx.run(
      'INSERT INTO today_count (action, assigned_to, items, mark) VALUES ? ON DUPLICATE KEY UPDATE items = items + VALUES(items), mark = mark ^ VALUES(mark)',
      [rows],
    );
}

/** Counts all items anew, whatever was kept. */
export async function recountToday(tx: Queries): Promise<void> {
  // First the counts, so that nobody adds to them between; then the items, those that are just being changed included.
  await tx.all(z.object({ action: z.string() }), 'SELECT action FROM today_count FOR UPDATE');
  const items = await tx.all(
    z.object({ action: z.string(), assigned_to: z.number().nullable(), mark: z.number() }),
    'SELECT action, assigned_to, mark FROM today_item LOCK IN SHARE MODE',
  );
  await tx.run('DELETE FROM today_count');
  await count(tx, [], items);
}

const MOST = 500;

/** What an item says, as a row has it. */
export const SaidRow = z.object({
  ...{ kind: z.string(), key: z.string(), words: z.string(), detail: z.string(), link: z.string() },
  ...{ since: Instant, due: Instant.nullable(), dismissable: Flag },
});

/** What the account may know of, what is wanted first before the rest. */
export function todayItems(ctx: Context, account: Account): Promise<TodayItem[]> {
  const where = openTo(account);
  return ctx.store.all(
    SaidRow,
    `SELECT kind, item_key AS \`key\`, words, detail, link, since, due, dismissable FROM today_item WHERE ${where.sql} ORDER BY place, since DESC, kind, item_key LIMIT ${MOST}`,
    where.params,
  );
}

/** How many items there are, and a mark that changes with any of them. */
export interface TodayCount {
  readonly count: number;
  readonly mark: number;
}

const NONE: TodayCount = { count: 0, mark: 0 };

const less = ({ count: all, mark }: TodayCount, apart: SetApart | undefined): TodayCount =>
  apart ? { count: all - apart.hidden, mark: (mark ^ apart.mark) >>> 0 } : { count: all, mark };

const CountRow = z.object({
  action: z.string(),
  assigned_to: z.number(),
  items: z.number(),
  mark: z.number(),
});

function sum(rows: readonly z.infer<typeof CountRow>[]): TodayCount {
  return rows.reduce((n, r) => ({ count: n.count + r.items, mark: (n.mark ^ r.mark) >>> 0 }), NONE);
}

/** Of what everybody of a role may see. */
export async function countShared(store: Queries, role: Holder): Promise<TodayCount> {
  const rows = await store.all(
    CountRow,
    'SELECT action, assigned_to, items, mark FROM today_count WHERE action IN (?) AND assigned_to = 0',
    [allowedTo(role)],
  );
  return sum(rows);
}

/**
 * What is other for each of these than for all with their roles: what is for them alone counts more, what they put off or
 * somebody else has counts less.
 */
export async function countOwn(
  store: Queries,
  now: Date,
  accounts: readonly (Holder & Pick<Account, 'id'>)[],
): Promise<ReadonlyMap<number, TodayCount>> {
  if (accounts.length === 0) return new Map();
  const apart = await setApart(store, now, accounts);
  const rows = await store.all(
    CountRow,
    'SELECT action, assigned_to, items, mark FROM today_count WHERE action IN (?) AND assigned_to IN (?)',
    [ACTIONS, accounts.map((a) => a.id)],
  );
  return new Map(
    accounts.map((a) => [
      a.id,
      less(sum(rows.filter((r) => r.assigned_to === a.id && may(a, r.action as Action))), apart.get(a.id)),
    ]),
  );
}

/** What an account may know of. */
export function openTo(account: Account): Where {
  const where = new Where()
    .among('action', allowedTo(account))
    .andAny(['assigned_to IS NULL'], ['assigned_to = ?', account.id]);
  return keepToWithin(where, account);
}

/** Of all that somebody who is kept to a part may see: there are few of them, so that it is counted each time. */
export async function countKept(store: Queries, now: Date, account: Account): Promise<TodayCount> {
  const where = openTo(account);
  const row = await store.one(
    z.object({ count: Count, mark: Count }),
    `SELECT COUNT(*) AS count, BIT_XOR(mark) AS mark FROM today_item WHERE ${where.sql}`,
    where.params,
  );
  const apart = await setApart(store, now, [account]);
  return less(row ?? NONE, apart.get(account.id));
}

export const allowedTo = (role: Holder) => ACTIONS.filter((a) => may(role, a));

/** Takes an item off Today since somebody saw to it. Throws a RefusedError for one that ends by itself. */
export async function dismissItem(ctx: Context, account: Account, kind: string, key: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await tx.one(
      z.object({
        action: z.string(),
        words: z.string(),
        dismissable: Flag,
        assigned_to: z.number().nullable(),
        within_object: z.string(),
        within_id: z.string(),
      }),
      'SELECT action, words, dismissable, assigned_to, within_object, within_id FROM today_item WHERE kind = ? AND item_key = ? FOR UPDATE',
      [kind, key],
    );
    if (!row) throw notFound('item');
    if (
      !may(account, row.action as Action) ||
      (row.assigned_to ?? account.id) !== account.id ||
      !inScope(account, row.within_object, row.within_id)
    )
      throw new RefusedError('This item is not for your role.', [], 403);
    if (!row.dismissable) throw new RefusedError('This item ends when what it tells of does.', [], 409);
    await takeOff(tx, await kept(tx, 'kind = ? AND item_key = ?', [kind, key]));
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'today.dismiss',
      object: kind,
      objectId: key,
      detail: { words: [row.words] },
    });
  });
}

/** Takes off what is of no more use. */
export async function forgetOldItems(ctx: Context): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await takeOff(tx, await kept(tx, 'until < ?', [toDatetime(ctx.now())]));
  });
}
