import { createHmac } from 'node:crypto';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { meets } from '../../../core/accounts/sign-in/policy.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Instant } from '../../store/columns.ts';
import { findAccount, isPassword } from '../account.ts';
import { sessionId } from '../session.ts';
import { demandOf } from './demand.ts';
import { dropFactor, factorsOf, hasFactor, tellFactor } from './factors.ts';
import { newSecret, type NewSecret } from './one-time-codes.ts';
import { askForNewPasskey } from './passkeys.ts';
import { newRecoveryCodes } from './recovery-codes.ts';
import { keepFactor } from './sign-in.ts';
import { beginAttempt } from './sign-in-limit.ts';
import { keepStep, tryStep } from './sign-in-step.ts';
import { SetUpInput } from './set-up-input.ts';

/** Whoever has no password shows that it is them by having signed in so lately. */
const FRESH_MS = 15 * 60_000;

const WithPassword = { password: z.string().max(500) };

/** What somebody does to how they sign in. */
export const OwnFactorInput = z.discriminatedUnion('do', [
  z.object({ do: z.literal('code'), ...WithPassword }),
  z.object({ do: z.literal('passkey'), ...WithPassword }),
  SetUpInput.options[2],
  SetUpInput.options[3],
  z.object({ do: z.literal('drop code'), ...WithPassword }),
  z.object({ do: z.literal('drop passkey'), passkey: z.int(), ...WithPassword }),
  z.object({ do: z.literal('recovery'), ...WithPassword }),
]);
export type OwnFactorInput = z.infer<typeof OwnFactorInput>;

/** What somebody has to sign in with, what is asked of them, and how they can show that it is them. */
export async function ownFactors(ctx: Context, account: Account) {
  const { passwordHash } = await findAccount(ctx.store, account.id);
  return {
    ...(await factorsOf(ctx.store, account.id)),
    hasPassword: passwordHash !== '',
    demand: await demandOf(ctx.store, account),
  };
}

/** What came of it: what to set up next, or recovery codes, told this once. */
export interface FactorChange {
  readonly secret?: NewSecret;
  readonly options?: Awaited<ReturnType<typeof askForNewPasskey>>;
  readonly recovery?: readonly string[];
}

/** Changes how one signs in. Throws a RefusedError where it is not shown that it is them, or more is asked of them. */
export async function changeFactors(
  ctx: Context,
  account: Account,
  input: OwnFactorInput,
  session: { readonly token: string; readonly address: string },
): Promise<FactorChange> {
  // What was begun belongs to this session.
  const step = createHmac('sha256', ctx.settings.SECRET_KEY).update(session.token).digest('base64url');
  if (input.do === 'keep code' || input.do === 'keep passkey') {
    const begun = z.object({ secret: z.string().optional(), challenge: z.string().optional() });
    const { content } = await tryStep(ctx, 'own factor', step, begun);
    return { recovery: await keepFactor(ctx, account, input, content) };
  }
  await showThatItIsThem(ctx, account, input.password, session);
  switch (input.do) {
    case 'code': {
      const secret = await newSecret(account);
      await keepStep(ctx, 'own factor', account.id, { secret: secret.secret }, step);
      return { secret };
    }
    case 'passkey': {
      const options = await askForNewPasskey(ctx, account);
      await keepStep(ctx, 'own factor', account.id, { challenge: options.challenge }, step);
      return { options };
    }
    case 'recovery':
      return ctx.store.transaction(async (tx) => {
        if (!hasFactor(await factorsOf(tx, account.id)))
          throw new RefusedError('There is no second factor yet that they would stand in for.', [], 409);
        await tellFactor(tx, ctx, account.id, account, 'account.factor-added', { factor: 'recovery codes' });
        return { recovery: await newRecoveryCodes(tx, ctx, account.id) };
      });
    case 'drop code':
    case 'drop passkey':
      return ctx.store.transaction(async (tx) => {
        const what = input.do === 'drop code' ? 'code' : { passkey: input.passkey };
        await dropFactor(tx, account.id, what);
        await refuseTooLittle(tx, account);
        await tellFactor(tx, ctx, account.id, account, 'account.factor-removed', {
          factor: what === 'code' ? 'one-time codes' : 'passkey',
        });
        return {};
      });
  }
}

/** Throws a RefusedError (409) where more is asked of somebody than what they have left. */
async function refuseTooLittle(tx: Parameters<typeof factorsOf>[0], account: Account): Promise<void> {
  const demand = await demandOf(tx, account);
  const { passkeys, code } = await factorsOf(tx, account.id);
  const best = passkeys.length > 0 ? 'passkey' : code ? 'two factors' : 'password';
  if (demand.signOn || meets(demand, best)) return;
  throw new RefusedError('This is what your role asks for.', [
    { field: 'do', message: 'Set up another first, then take this one away.' },
  ]);
}

async function showThatItIsThem(
  ctx: Context,
  account: Account,
  password: string,
  { token, address }: { readonly token: string; readonly address: string },
): Promise<void> {
  const found = await findAccount(ctx.store, account.id);
  const device = sessionId(token);
  if (found.passwordHash === '') {
    const begun = await ctx.store.one(
      z.object({ created_at: Instant }),
      'SELECT created_at FROM session WHERE id = ? AND account_id = ?',
      [Buffer.from(device, 'hex'), account.id],
    );
    if (begun && ctx.now().getTime() - Date.parse(begun.created_at) < FRESH_MS) return;
    throw new RefusedError('Sign out and in again first, so that it is sure that it is you.', [], 403);
  }
  const attempt = await beginAttempt(ctx, {
    ...{ accountId: account.id, email: account.email, address, device: Buffer.from(device, 'hex') },
  });
  if (!(await isPassword(found, password)))
    throw new RefusedError('This is not your password.', [
      { field: 'password', message: 'It is not this one. Type the one you sign in with.' },
    ]);
  await attempt.succeeded();
}
