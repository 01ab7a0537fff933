import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { BUILT_IN_ROLES } from '../src/core/accounts/roles/built-in-role.ts';
import { addAccount, findByEmail, hashPassword } from '../src/server/accounts/account.ts';
import { setPassword } from '../src/server/accounts/account-care.ts';
import { forgetFactors } from '../src/server/accounts/sign-in/factors.ts';
import { record } from '../src/server/evidence/ledger.ts';
import { isDuplicate, openStore } from '../src/server/store/pool.ts';
import { databaseUrl } from './database-url.ts';
import { LauncherError } from './launcher-error.ts';
import { say } from './project.ts';

const USAGE = `./yare add-account EMAIL NAME ROLE

  ROLE is one of: ${BUILT_IN_ROLES.join(', ')}. A password is made and printed once.
`;

const Input = z.tuple([
  z.email('EMAIL is no e-mail address'),
  z.string().trim().min(1, 'NAME is empty').max(120),
  z.enum(BUILT_IN_ROLES, `ROLE is one of: ${BUILT_IN_ROLES.join(', ')}`),
]);

/** Adds an account to the database at DATABASE_URL, or to the one that `./yare start` runs. */
export async function addAccountCommand(args: readonly string[]): Promise<number> {
  const input = Input.safeParse(args);
  if (!input.success) {
    process.stderr.write(`${args.length === 3 ? `${input.error.issues[0]?.message}.\n\n` : ''}${USAGE}`);
    return 2;
  }
  const [email, name, role] = input.data;
  const password = randomBytes(12).toString('base64url');
  const store = openStore(await databaseUrl(), 2);
  try {
    const passwordHash = await hashPassword(password);
    await store.transaction(async (tx) => {
      const id = await addAccount(tx, { email, name, title: '', role, passwordHash });
      await record(tx, new Date(), {
        actor: 'system',
        action: 'account.add',
        object: 'account',
        objectId: id,
        detail: { role },
      });
    });
    say(`${name} can sign in as ${email}, ${role}.\nPassword: ${password}`);
    return 0;
  } catch (error) {
    if (isDuplicate(error)) throw new LauncherError(`${email} has an account already.`);
    throw new LauncherError(`The account was not added: ${(error as Error).message}`);
  } finally {
    await store.close();
  }
}

const RESET_USAGE = `./yare reset-password EMAIL [--factors]

  A new password is made and printed once. With --factors, passkeys, one-time codes and recovery codes are taken
  away as well: for somebody who lost theirs, when no officer can sign in to do it.
`;

/** Gives an account a new password, which ends its sessions; for somebody who forgot theirs. */
export async function resetPasswordCommand([email, ...rest]: readonly string[]): Promise<number> {
  const factors = rest.length === 1 && rest[0] === '--factors';
  if (!email || (rest.length > 0 && !factors)) {
    process.stderr.write(RESET_USAGE);
    return 2;
  }
  const password = randomBytes(12).toString('base64url');
  const store = openStore(await databaseUrl(), 2);
  try {
    const found = await findByEmail(store, email);
    if (!found) throw new LauncherError(`Nobody has an account as ${email}.`);
    const hash = await hashPassword(password);
    const { ended } = await store.transaction(async (tx) => {
      if (factors) await forgetFactors(tx, new Date(), 'system', found.account.id);
      return setPassword(tx, new Date(), 'system', found.account.id, hash);
    });
    say(
      `${found.account.name} has a new password${factors ? ' and no second factor' : ''}; ${ended === 1 ? 'one session' : `${ended} sessions`} ended.${found.disabledAt ? ' The account is disabled still.' : ''}\nPassword: ${password}`,
    );
    return 0;
  } finally {
    await store.close();
  }
}
