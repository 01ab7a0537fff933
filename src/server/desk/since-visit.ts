import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import { maySee, objectWords } from '../../core/accounts/object-sight.ts';
import { isKept } from '../../core/accounts/scope.ts';
import type { Context } from '../context.ts';
import { BigId, Count, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { openTo } from './today.ts';

/** Who comes back after so long comes anew. */
const AWAY_MS = 30 * 60_000;
/** Who was never here, or long ago, is told of so long. */
const MOST_MS = 14 * 86_400_000;
const LISTED = 100;

/** Notes that somebody is here; the end of their visit before this one, `null` at their first. */
export async function visit(ctx: Context, account: Account): Promise<string | null> {
  const now = toDatetime(ctx.now());
  const away = toDatetime(new Date(ctx.now().getTime() - AWAY_MS));
  await ctx.store.run(
    `INSERT INTO today_visit (account_id, last_at, before_at) VALUES (?, ?, NULL)
     ON DUPLICATE KEY UPDATE before_at = IF(last_at < ?, last_at, before_at), last_at = GREATEST(last_at, VALUES(last_at))`,
    [account.id, now, away],
  );
  const row = await ctx.store.one(
    z.object({ before_at: Instant.nullable() }),
    'SELECT before_at FROM today_visit WHERE account_id = ?',
    [account.id],
  );
  return row?.before_at ?? null;
}

export interface PastItem {
  readonly kind: string;
  readonly words: string;
  readonly link: string;
  readonly at: string;
}

/** What became other since somebody was here. */
export interface SinceVisit {
  readonly since: string;
  /** They were not here before, or so long ago that all of it would be too much. */
  readonly isLong: boolean;
  /** On Today now, and not then. */
  readonly came: readonly PastItem[];
  /** Off Today since; not what stands there as something else now, such as late. */
  readonly ended: readonly PastItem[];
  /** What others changed, by kind of object, the most first; none for who is kept to a part. */
  readonly changed: readonly {
    readonly object: string;
    readonly words: string;
    readonly changes: number;
    readonly objects: number;
  }[];
}

export async function sinceVisit(ctx: Context, account: Account): Promise<SinceVisit> {
  const { store } = ctx;
  const earliest = new Date(ctx.now().getTime() - MOST_MS);
  const row = await store.one(
    z.object({ before_at: Instant.nullable() }),
    'SELECT before_at FROM today_visit WHERE account_id = ?',
    [account.id],
  );
  const before = row?.before_at ? new Date(row.before_at) : earliest;
  const isLong = before <= earliest;
  const since = isLong ? earliest : before;
  const at = toDatetime(since);
  const where = openTo(account);
  const Past = z.object({ kind: z.string(), words: z.string(), link: z.string(), at: Instant });
  const [came, ended, changed] = await Promise.all([
    store.all(
      Past,
      `SELECT kind, words, link, came_at AS at FROM today_item WHERE came_at > ? AND ${where.sql} ORDER BY came_at DESC LIMIT ${LISTED}`,
      [at, ...where.params],
    ),
    store.all(
      Past,
      `SELECT p.kind, p.words, p.link, p.ended_at AS at FROM today_past p WHERE p.ended_at > ? AND ${where.sql}
         AND NOT EXISTS (SELECT 1 FROM today_item i WHERE i.link = p.link AND i.item_key = p.item_key)
       ORDER BY p.ended_at DESC LIMIT ${LISTED}`,
      [at, ...where.params],
    ),
    isKept(account) ? [] : changedBy(store, account.id, at),
  ]);
  return {
    ...{ since: since.toISOString(), isLong, came, ended },
    changed: changed
      .filter((c) => maySee(account, c.object))
      .map((c) => ({ ...c, words: objectWords(c.object) })),
  };
}

/** What people changed since a moment, but for one of them. */
async function changedBy(store: Queries, but: number, since: string) {
  // Entries are found by their ids: what came before is not looked at.
  const before = await store.one(
    z.object({ id: BigId }),
    'SELECT id FROM ledger_entry WHERE at <= ? ORDER BY id DESC LIMIT 1',
    [since],
  );
  return store.all(
    z.object({ object: z.string(), changes: Count, objects: Count }),
    `SELECT object, COUNT(*) AS changes, COUNT(DISTINCT object_id) AS objects FROM ledger_entry
     WHERE id > ? AND at > ? AND actor <> ? AND actor REGEXP '^[0-9]+$' GROUP BY object ORDER BY changes DESC`,
    [before?.id ?? '0', since, String(but)],
  );
}
