import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { truncateAddress } from '../../core/address.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { meets } from '../../core/accounts/sign-in/policy.ts';
import { WAYS, type Way } from '../../core/accounts/sign-in/way.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Bytes, Count, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { ACCOUNT_SQL, AccountRow } from './account.ts';
import { OPEN, openAt } from './open-session.ts';
import { demandOf } from './sign-in/demand.ts';
import { WINDOW_MS } from './sign-in/sign-in-limit.ts';

export const SESSION_COOKIE = 'yare_session';
export const DEVICE_COOKIE = 'yare_device';
/** A browser in which somebody has signed in stays known for this long. */
export const DEVICE_MS = 180 * 24 * 3600_000;
/** Writing `seen_at` at most this often keeps reads cheap. */
const SEEN_EVERY_MS = 60_000;

/** The browser that asks. */
export interface From {
  readonly address: string;
  readonly userAgent: string;
  /** Cookie of a browser in which somebody signed in before. */
  readonly device?: string | undefined;
}

interface Begun extends From {
  readonly way: Way;
  /** Whose word it began with, where it was a provider’s. */
  readonly provider?: number;
}

export interface SignedIn {
  readonly token: string;
  /** For the cookie that makes this browser a known one. */
  readonly device: string;
  readonly account: Account;
  /** How many other sessions of this account are open. */
  readonly others: number;
}

/** Starts a session of somebody who came this way. Throws a RefusedError (409) where that is not what is asked of them. */
export async function beginSession(
  ctx: Context,
  account: Account,
  { way, provider, ...input }: Begun,
): Promise<SignedIn> {
  const now = ctx.now();
  const token = randomBytes(32).toString('base64url');
  const device = isToken(input.device) ? input.device : randomBytes(32).toString('base64url');
  return ctx.store.transaction(async (tx) => {
    const demand = await demandOf(tx, account, true);
    // What is asked may have changed since the first step.
    if (!meets(demand, way))
      throw new RefusedError('More is asked of you since a moment ago. Sign in again.', [], 409);
    const others = await tx.one(
      z.object({ n: Count }),
      `SELECT COUNT(*) AS n FROM session s WHERE s.account_id = ? AND ${OPEN}`,
      [account.id, ...openAt(now)],
    );
    await tx.run(
      `INSERT INTO session (id, account_id, created_at, seen_at, expires_at, browser, address, way, idle_seconds, provider_id)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        idOf(token),
        account.id,
        toDatetime(now),
        toDatetime(now),
        toDatetime(new Date(now.getTime() + demand.mostHours * 3600_000)),
        browserName(input.userAgent),
        truncateAddress(input.address) ?? '',
        ...[way, demand.idleMinutes * 60, provider ?? null],
      ],
    );
    await tx.run(
      'INSERT INTO known_device (id, account_id, seen_at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seen_at = VALUES(seen_at)',
      [idOf(device), account.id, toDatetime(now)],
    );
    await record(tx, now, {
      actor: account.id,
      action: 'session.start',
      object: 'account',
      objectId: account.id,
      detail: { way },
    });
    return { token, device, account, others: others?.n ?? 0 };
  });
}

/** The hash of a device cookie, where this account has signed in with it lately. */
export async function knownDevice(
  ctx: Context,
  accountId: number,
  device: string | undefined,
): Promise<Buffer | undefined> {
  if (!isToken(device)) return undefined;
  const id = idOf(device);
  const row = await ctx.store.one(
    z.object({ seen_at: Instant }),
    'SELECT seen_at FROM known_device WHERE id = ? AND account_id = ? AND seen_at > ?',
    [id, accountId, toDatetime(new Date(ctx.now().getTime() - DEVICE_MS))],
  );
  return row && id;
}

function isToken(text: string | undefined): text is string {
  return text !== undefined && /^[A-Za-z0-9_-]{43}$/.test(text);
}

/** The account behind a cookie; `undefined` when the session has ended. */
export async function accountOf(ctx: Context, token: string | undefined): Promise<Account | undefined> {
  if (!token || token.length > 100) return undefined;
  const now = ctx.now();
  const row = await ctx.store.one(
    AccountRow.extend({ seen_at: Instant }),
    `SELECT ${ACCOUNT_SQL}, s.seen_at FROM session s JOIN account a ON a.id = s.account_id
     WHERE s.id = ? AND ${OPEN} AND a.disabled_at IS NULL`,
    [idOf(token), ...openAt(now)],
  );
  if (!row) return undefined;
  if (now.getTime() - Date.parse(row.seen_at) > SEEN_EVERY_MS)
    await ctx.store.run('UPDATE session SET seen_at = ? WHERE id = ?', [toDatetime(now), idOf(token)]);
  const { seen_at: _seen, ...account } = row;
  return account;
}

const Listed = z
  .object({
    id: Bytes,
    created_at: Instant,
    seen_at: Instant,
    browser: z.string(),
    address: z.string(),
    way: z.enum(WAYS),
  })
  .transform((s) => ({
    id: s.id.toString('hex'),
    startedAt: s.created_at,
    seenAt: s.seen_at,
    browser: s.browser,
    address: s.address,
    way: s.way,
  }));
export type ListedSession = z.infer<typeof Listed>;

export async function listSessions(ctx: Context, accountId: number): Promise<ListedSession[]> {
  return ctx.store.all(
    Listed,
    `SELECT s.id, s.created_at, s.seen_at, s.browser, s.address, s.way FROM session s
     WHERE s.account_id = ? AND ${OPEN} ORDER BY s.seen_at DESC`,
    [accountId, ...openAt(ctx.now())],
  );
}

/** Whether a session is still open; for what goes on without requests of its own. */
export async function isOpen(ctx: Context, token: string): Promise<boolean> {
  const row = await ctx.store.one(
    z.object({ ok: z.number() }),
    `SELECT 1 AS ok FROM session s JOIN account a ON a.id = s.account_id
     WHERE s.id = ? AND s.expires_at > ? AND a.disabled_at IS NULL`,
    [idOf(token), toDatetime(ctx.now())],
  );
  return row !== undefined;
}

export function sessionId(token: string): string {
  return idOf(token).toString('hex');
}

/** The session cookie of a request; '' where it has none. */
export function sessionToken(request: Request): string {
  return new RegExp(`(?:^|; )${SESSION_COOKIE}=([^;]+)`).exec(request.headers.get('cookie') ?? '')?.[1] ?? '';
}

/** The account a session belongs to, for `authorize`. */
export async function sessionOwner(ctx: Context, id: string): Promise<number | undefined> {
  const row = await ctx.store.one(
    z.object({ account_id: z.number() }),
    'SELECT account_id FROM session WHERE id = ?',
    [Buffer.from(id, 'hex')],
  );
  return row?.account_id;
}

export async function endSession(ctx: Context, account: Account, id: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM session WHERE id = ? AND account_id = ?', [
      Buffer.from(id, 'hex'),
      account.id,
    ]);
    if (changed === 0) throw new RefusedError('That session has already ended.', [], 404);
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'session.end',
      object: 'account',
      objectId: account.id,
      detail: {},
    });
  });
}

/** Ends the sessions of an account in the caller's transaction, but for `keep`; how many. Its browsers become strange ones. */
export async function endSessionsOf(tx: Queries, accountId: number, keep?: string): Promise<number> {
  const { changed } = await tx.run('DELETE FROM session WHERE account_id = ? AND id <> ?', [
    accountId,
    Buffer.from(keep ?? '', 'hex'),
  ]);
  if (keep === undefined) await tx.run('DELETE FROM known_device WHERE account_id = ?', [accountId]);
  return changed;
}

/** Forgets what has run out; called by the worker now and then. */
export async function forgetOldSessions(ctx: Context): Promise<void> {
  const now = ctx.now().getTime();
  await ctx.store.run('DELETE FROM session WHERE expires_at < ?', [toDatetime(new Date(now))]);
  await ctx.store.run('DELETE FROM sign_in_failure WHERE at < ?', [toDatetime(new Date(now - WINDOW_MS))]);
  await ctx.store.run('DELETE FROM sign_in_step WHERE expires_at < ?', [toDatetime(new Date(now))]);
  await ctx.store.run('DELETE FROM known_device WHERE seen_at < ?', [toDatetime(new Date(now - DEVICE_MS))]);
}

function idOf(token: string): Buffer {
  return createHash('sha256').update(token).digest();
}

/** Enough to tell one's own devices apart, and no more. */
function browserName(userAgent: string): string {
  const browser = /Firefox|Edg|OPR|Chrome|Safari|curl/.exec(userAgent)?.[0] ?? 'Unknown browser';
  const system = /Windows|Android|iPhone|iPad|Mac OS X|Linux/.exec(userAgent)?.[0];
  const names: Record<string, string> = { Edg: 'Edge', OPR: 'Opera', 'Mac OS X': 'macOS' };
  return [names[browser] ?? browser, system ? (names[system] ?? system) : ''].filter(Boolean).join(' on ');
}
