import { hash, verify } from '@node-rs/argon2';
import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import type { BuiltInRole } from '../../core/accounts/roles/built-in-role.ts';
import { plainEmail } from '../../core/accounts/email.ts';
import { notFound } from '../../core/refusal.ts';
import { ROLES_SQL, RolesColumn } from './roles/roles-column.ts';
import { SCOPE_SQL, ScopeColumn } from './scope-column.ts';
import { Count, Instant } from '../store/columns.ts';
import { OPEN, openAt } from './open-session.ts';
import type { Queries } from '../store/pool.ts';

export const AccountRow = z.object({
  id: z.number(),
  email: z.string(),
  name: z.string(),
  title: z.string(),
  roles: RolesColumn,
  scope: ScopeColumn,
});

/** Argon2id as OWASP advises for it: 19 MiB, two passes, one lane. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

/** A hash nobody's password has, so that an unknown e-mail takes as long as a wrong password. */
const DECOY = hashPassword('no such account');

const FoundRow = AccountRow.extend({ password_hash: z.string(), disabled_at: Instant.nullable() });

export interface FoundAccount {
  readonly account: Account;
  readonly passwordHash: string;
  readonly disabledAt: string | null;
}

function toFound({ password_hash, disabled_at, ...account }: z.infer<typeof FoundRow>): FoundAccount {
  return { account, passwordHash: password_hash, disabledAt: disabled_at };
}

/** Of the account `a`, for `AccountRow`. */
export const ACCOUNT_SQL = `a.id, a.email, a.name, a.title, ${ROLES_SQL}, ${SCOPE_SQL}`;

const FOUND = `SELECT ${ACCOUNT_SQL}, a.password_hash, a.disabled_at FROM account a`;

/** The account that an e-mail address means, however it is spelled. */
export async function findByEmail(store: Queries, email: string): Promise<FoundAccount | undefined> {
  const row = await store.one(FoundRow, `${FOUND} WHERE a.email = ?`, [plainEmail(email)]);
  return row && toFound(row);
}

/** Throws a RefusedError (404). */
export async function findAccount(store: Queries, id: number, lock = false): Promise<FoundAccount> {
  const row = await store.one(FoundRow, `${FOUND} WHERE a.id = ?${lock ? ' FOR UPDATE' : ''}`, [id]);
  if (!row) throw notFound('account');
  return toFound(row);
}

/** Takes as long without an account as with one. */
export async function isPassword(found: FoundAccount | undefined, password: string): Promise<boolean> {
  // One who signs in otherwise has none.
  const has = found !== undefined && found.passwordHash !== '';
  const right = await verify(has ? found.passwordHash : await DECOY, password);
  return has && right;
}

const ListedRow = AccountRow.extend({
  disabled_at: Instant.nullable(),
  seen_at: Instant.nullable(),
  sessions: Count,
}).transform(({ disabled_at, seen_at, ...rest }) => ({ ...rest, disabledAt: disabled_at, seenAt: seen_at }));
export type ListedAccount = z.infer<typeof ListedRow>;

/** Everyone with an account, by name, with when they were last here. */
export async function listAccounts(store: Queries, now: Date): Promise<ListedAccount[]> {
  return store.all(
    ListedRow,
    `SELECT ${ACCOUNT_SQL}, a.disabled_at, MAX(s.seen_at) AS seen_at, COUNT(s.id) AS sessions
     FROM account a LEFT JOIN session s ON s.account_id = a.id AND ${OPEN}
     GROUP BY a.id ORDER BY a.name, a.id LIMIT 2000`,
    [...openAt(now)],
  );
}

export interface NewAccount {
  readonly email: string;
  readonly name: string;
  readonly title: string;
  readonly role: BuiltInRole;
  readonly passwordHash: string;
}

/** Of somebody who signs in by the word of a provider. It holds no role yet. */
export async function addWithoutPassword(
  store: Queries,
  { email, name, title }: Pick<NewAccount, 'email' | 'name' | 'title'>,
): Promise<number> {
  const { id } = await store.run(
    "INSERT INTO account (email, name, title, password_hash) VALUES (?, ?, ?, '')",
    [plainEmail(email), name, title],
  );
  return id;
}

export async function addAccount(store: Queries, account: NewAccount): Promise<number> {
  const { id } = await store.run(
    'INSERT INTO account (email, name, title, password_hash) VALUES (?, ?, ?, ?)',
    [plainEmail(account.email), account.name, account.title, account.passwordHash],
  );
  await store.run('INSERT INTO account_role (account_id, role, given_at) VALUES (?, ?, UTC_TIMESTAMP(3))', [
    ...[id, account.role],
  ]);
  return id;
}
