import { z } from 'zod';
import { may, type Account } from '../../core/accounts/authority.ts';
import { ACTIONS, type Action } from '../../core/accounts/action.ts';
import { todayKind, type TodayKindName } from '../../core/desk/today-kinds.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Count, Flag, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

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
  readonly due?: Date | string;
  /** After this it is of no more use. */
  readonly until?: Date | string;
  /** Somebody has to say that it was seen to; others end with what they tell of. */
  readonly dismissable?: boolean;
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

const COLUMNS =
  'kind, item_key, source, action, words, detail, link, since, place, assigned_to, due, until, dismissable';

/** Puts something on Today, in the transaction of the change that causes it. */
export async function putOnToday(tx: Queries, ...items: readonly NewItem[]): Promise<void> {
  await put(tx, '', items);
}

/** Takes something off Today, in the transaction of the change that ends it. */
export async function takeOffToday(tx: Queries, kind: TodayKindName, key: string): Promise<void> {
  await tx.run('DELETE FROM today_item WHERE kind = ? AND item_key = ?', [kind, key.slice(0, 120)]);
}

/** What needs a hand about one object now, such as `site 12`: all that it had on Today before is replaced. */
export async function replaceOnToday(tx: Queries, source: string, items: readonly NewItem[]): Promise<void> {
  const keys = items.map((i) => `${i.kind}\n${i.key}`);
  const before = await tx.all(
    z.object({ kind: z.string(), item_key: z.string() }),
    'SELECT kind, item_key FROM today_item WHERE source = ?',
    [source],
  );
  for (const { kind, item_key } of before.filter((b) => !keys.includes(`${b.kind}\n${b.item_key}`)))
    await tx.run('DELETE FROM today_item WHERE kind = ? AND item_key = ?', [kind, item_key]);
  await put(tx, source, items);
}

async function put(tx: Queries, source: string, items: readonly NewItem[]): Promise<void> {
  if (items.length === 0) return;
  const time = (at: Date | string | undefined) => (at === undefined ? null : toDatetime(at));
  await tx.run(`REPLACE INTO today_item (${COLUMNS}) VALUES ?`, [
    items.map((i) => [
      i.kind,
      i.key.slice(0, 120),
      source,
      i.action,
      i.words.slice(0, 300),
      i.detail.slice(0, 500),
      i.link,
      toDatetime(i.since),
      todayKind(i.kind)?.place ?? 50,
      i.assignedTo ?? null,
      time(i.due),
      time(i.until),
      i.dismissable ?? false,
    ]),
  ]);
}

const MOST = 500;

/** What the account may know of, what is wanted first before the rest. */
export async function todayItems(ctx: Context, account: Account): Promise<TodayItem[]> {
  const rows = await ctx.store.all(
    z.object({
      kind: z.string(),
      item_key: z.string(),
      words: z.string(),
      detail: z.string(),
      link: z.string(),
      since: Instant,
      due: Instant.nullable(),
      dismissable: Flag,
    }),
    `SELECT kind, item_key, words, detail, link, since, due, dismissable FROM today_item WHERE ${OPEN} ORDER BY place, since DESC, kind, item_key LIMIT ${MOST}`,
    openTo(ctx, account),
  );
  return rows.map(({ item_key, ...rest }) => ({ ...rest, key: item_key }));
}

/** How many items there are, and a mark that changes with any of them. */
export interface TodayCount {
  readonly count: number;
  readonly mark: number;
}

const COUNT =
  'COUNT(*) AS count, COALESCE(BIT_XOR(CRC32(CONCAT_WS("\\n", kind, item_key, words, detail, since))), 0) AS mark';
const CountRow = { count: Count, mark: Count };

/** Of what everybody of a role may see. */
export async function countShared(ctx: Context, role: Pick<Account, 'role'>): Promise<TodayCount> {
  const row = await ctx.store.one(
    z.object(CountRow),
    `SELECT ${COUNT} FROM today_item WHERE action IN (?) AND assigned_to IS NULL AND (until IS NULL OR until > ?)`,
    [allowedTo(role), toDatetime(ctx.now())],
  );
  return row ?? { count: 0, mark: 0 };
}

/** Of what is for one of these alone, by their ids; without those that have none. */
export async function countAssigned(
  ctx: Context,
  accounts: readonly Pick<Account, 'id' | 'role'>[],
): Promise<ReadonlyMap<number, TodayCount>> {
  if (accounts.length === 0) return new Map();
  const rows = await ctx.store.all(
    z.object({ ...CountRow, assigned_to: z.number(), action: z.string() }),
    `SELECT assigned_to, action, ${COUNT} FROM today_item WHERE assigned_to IN (?) AND (until IS NULL OR until > ?) GROUP BY assigned_to, action`,
    [accounts.map((a) => a.id), toDatetime(ctx.now())],
  );
  const counts = new Map<number, TodayCount>();
  for (const account of accounts)
    for (const r of rows.filter((r) => r.assigned_to === account.id && may(account, r.action as Action))) {
      const before = counts.get(account.id) ?? { count: 0, mark: 0 };
      counts.set(account.id, { count: before.count + r.count, mark: (before.mark ^ r.mark) >>> 0 });
    }
  return counts;
}

const OPEN = 'action IN (?) AND (assigned_to IS NULL OR assigned_to = ?) AND (until IS NULL OR until > ?)';

function openTo(ctx: Context, account: Account) {
  return [allowedTo(account), account.id, toDatetime(ctx.now())] as const;
}

const allowedTo = (role: Pick<Account, 'role'>) => ACTIONS.filter((a) => may(role, a));

/** Takes an item off Today since somebody saw to it. Throws a RefusedError for one that ends by itself. */
export async function dismissItem(ctx: Context, account: Account, kind: string, key: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await tx.one(
      z.object({
        action: z.string(),
        words: z.string(),
        dismissable: Flag,
        assigned_to: z.number().nullable(),
      }),
      'SELECT action, words, dismissable, assigned_to FROM today_item WHERE kind = ? AND item_key = ? FOR UPDATE',
      [kind, key],
    );
    if (!row) throw notFound('item');
    if (!may(account, row.action as Action) || (row.assigned_to ?? account.id) !== account.id)
      throw new RefusedError('This item is not for your role.', [], 403);
    if (!row.dismissable) throw new RefusedError('This item ends when what it tells of does.', [], 409);
    await tx.run('DELETE FROM today_item WHERE kind = ? AND item_key = ?', [kind, key]);
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
  await ctx.store.run('DELETE FROM today_item WHERE until < ?', [toDatetime(ctx.now())]);
}
