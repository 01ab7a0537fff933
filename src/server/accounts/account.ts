import { hash, verify } from '@node-rs/argon2';
import { z } from 'zod';
import { ROLES, type Account } from '../../core/accounts/authority.ts';
import type { Queries } from '../store/pool.ts';

export const AccountRow = z.object({
  id: z.number(),
  email: z.string(),
  name: z.string(),
  title: z.string(),
  role: z.enum(ROLES),
});

/** Argon2id as OWASP advises for it: 19 MiB, two passes, one lane. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, ARGON2);
}

/** A hash nobody's password has, so that an unknown e-mail takes as long as a wrong password. */
const DECOY = hashPassword('no such account');

/** The account of this e-mail if the password is its own. */
export async function findByPassword(
  store: Queries,
  email: string,
  password: string,
): Promise<Account | undefined> {
  const row = await store.one(
    AccountRow.extend({ password_hash: z.string() }),
    'SELECT id, email, name, title, role, password_hash FROM account WHERE email = ?',
    [email.trim().toLowerCase()],
  );
  const right = await verify(row?.password_hash ?? (await DECOY), password);
  if (!row || !right) return undefined;
  const { password_hash: _hash, ...account } = row;
  return account;
}

export async function listAccounts(store: Queries): Promise<Account[]> {
  return store.all(AccountRow, 'SELECT id, email, name, title, role FROM account ORDER BY name');
}

export interface NewAccount {
  readonly email: string;
  readonly name: string;
  readonly title: string;
  readonly role: Account['role'];
  readonly passwordHash: string;
}

export async function addAccount(store: Queries, account: NewAccount): Promise<number> {
  const { id } = await store.run(
    'INSERT INTO account (email, name, title, role, password_hash) VALUES (?, ?, ?, ?, ?)',
    [account.email.trim().toLowerCase(), account.name, account.title, account.role, account.passwordHash],
  );
  return id;
}
