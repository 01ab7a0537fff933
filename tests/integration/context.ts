import { ownDatabase } from '../own-database.ts';
import { readSettings } from '../../src/server/settings.ts';
import { openContext, type Context } from '../../src/server/context.ts';
import { addAccount, hashPassword } from '../../src/server/accounts/account.ts';
import { beginSession, type SignedIn } from '../../src/server/accounts/session.ts';
import { provePassword, type Typed } from '../../src/server/accounts/sign-in/prove-password.ts';
import { builtIn } from '../../src/core/accounts/roles/held-role.ts';
import type { Account } from '../../src/core/accounts/authority.ts';
import type { BuiltInRole } from '../../src/core/accounts/roles/built-in-role.ts';
import { insertSite } from '../../src/server/websites/sites/sites.ts';

export interface TestContext extends Context {
  /** Moves this context's clock. */
  at(instant: string): void;
}

/** A context on the tests' database, with a clock of its own. */
export function testContext(): TestContext {
  let clock: Date | undefined;
  const ctx = openContext(
    readSettings({ DATABASE_URL: ownDatabase(), SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' }),
  );
  return { ...ctx, now: () => clock ?? new Date(), at: (instant) => (clock = new Date(instant)) };
}

/** Somebody who may do everything. */
export const OFFICER: Account = {
  id: 1,
  email: 'officer@test.example',
  name: 'O',
  title: '',
  roles: [builtIn('officer')],
};

let n = 0;

export function unique(word: string): string {
  return `${word}${Date.now().toString(36)}${n++}`;
}

export const PASSWORD = 'correct horse battery';
let hashed: Promise<string> | undefined;

export async function testAccount(ctx: Context, role: BuiltInRole = 'officer'): Promise<Account> {
  hashed ??= hashPassword(PASSWORD);
  const email = `${unique('person')}@test.example`;
  const id = await addAccount(ctx.store, {
    email,
    name: 'Test Person',
    title: '',
    role,
    passwordHash: await hashed,
  });
  return { id, email, name: 'Test Person', title: '', roles: [builtIn(role)] };
}

export async function testSite(
  ctx: Context,
  by: number | null = null,
): Promise<{ id: number; host: string; siteKey: string }> {
  const host = `${unique('site')}.example`;
  const made = await ctx.store.transaction((tx) =>
    insertSite(tx, ctx.now(), { host, startUrl: `https://${host}/`, name: 'Test site', by }),
  );
  return { ...made, host };
}

/** Begins a session of somebody with a password. */
export async function signIn(ctx: Context, typed: Typed): Promise<SignedIn> {
  return beginSession(ctx, await provePassword(ctx, typed), { way: 'password', ...typed });
}
