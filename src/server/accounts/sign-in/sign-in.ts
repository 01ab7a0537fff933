import type { PublicKeyCredentialRequestOptionsJSON } from '@simplewebauthn/server';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { roleWords } from '../../../core/accounts/roles/held-role.ts';
import { isOneTimeCode } from '../../../core/accounts/sign-in/one-time.ts';
import { meets, type DemandOn } from '../../../core/accounts/sign-in/policy.ts';
import { WAYS, type OwnWay, type Way } from '../../../core/accounts/sign-in/way.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { findAccount } from '../account.ts';
import { beginSession, knownDevice, type From, type SignedIn } from '../session.ts';
import { demandOf } from './demand.ts';
import { factorsOf, hasFactor, tellFactor } from './factors.ts';
import { keepSecret, newSecret, stepOfCode, takeOneTimeCode, type NewSecret } from './one-time-codes.ts';
import {
  askForNewPasskey,
  askForPasskey,
  keepPasskey,
  passkeyHost,
  readNewPasskey,
  takePasskey,
  type PasskeyAnswer,
} from './passkeys.ts';
import { provePassword, refuseDisabled, tellRefused, type Typed } from './prove-password.ts';
import { newRecoveryCodes, takeRecoveryCode } from './recovery-codes.ts';
import { endStep, keepStep, tryStep } from './sign-in-step.ts';
import type { SetUpInput } from './set-up-input.ts';
import { beginAttempt } from './sign-in-limit.ts';

/** What is asked next of somebody who signs in. */
export type Next =
  | {
      readonly asks: 'factor';
      /** They have one-time codes. */
      readonly code: boolean;
      /** What their browser is to show a passkey for, where they have one. */
      readonly passkey: PublicKeyCredentialRequestOptionsJSON | null;
    }
  | { readonly asks: 'set up'; readonly least: OwnWay; readonly because: string; readonly passkeys: boolean };

export type SigningIn =
  | { readonly signedIn: SignedIn; readonly recovery?: readonly string[] }
  | { readonly step: string; readonly next: Next };

const Factor = z.object({ challenge: z.string().nullable() });
const Begun = z.object({
  way: z.enum(WAYS),
  secret: z.string().optional(),
  challenge: z.string().optional(),
});

/** The first step: an e-mail and a password. Throws what `provePassword` does, and a RefusedError (403) where neither will do. */
export async function signInByPassword(ctx: Context, input: Typed): Promise<SigningIn> {
  const account = await provePassword(ctx, input);
  const demand = await demandOf(ctx.store, account);
  if (demand.own === 'none')
    throw new RefusedError(
      `${becauseWords(account, demand, 'own')} signs in through sign-on alone.`,
      [{ field: 'email', message: 'Use the button of your provider below.' }],
      403,
    );
  const factors = await factorsOf(ctx.store, account.id);
  if (!hasFactor(factors)) return comeSoFar(ctx, account, 'password', input);
  const passkey =
    factors.passkeys.length > 0 && passkeyHost(ctx) ? await askForPasskey(ctx, account.id) : null;
  const step = await keepStep(ctx, 'factor', account.id, { challenge: passkey?.challenge ?? null });
  return { step, next: { asks: 'factor', code: factors.code !== null, passkey } };
}

/** The second step: a code, or a passkey. Throws a RefusedError (401, 429). */
export async function signInByFactor(
  ctx: Context,
  token: string | undefined,
  shown: { readonly code: string } | { readonly passkey: PasskeyAnswer },
  from: From,
): Promise<SigningIn> {
  const { account: id, content } = await tryStep(ctx, 'factor', token, Factor);
  const { account, ...found } = await findAccount(ctx.store, id ?? 0);
  refuseDisabled(found);
  const attempt = await beginAttempt(ctx, {
    ...{ accountId: account.id, email: account.email, address: from.address },
    device: await knownDevice(ctx, account.id, from.device),
    // Of its own: whoever has the password cannot forgive themselves what they guessed of this.
    what: 'factor',
  });
  if (!(await isShown(ctx, account.id, content.challenge, shown))) {
    await tellRefused(ctx, account.id, { factor: 'code' in shown ? 'code' : 'passkey' });
    throw new RefusedError(
      'That code is not good.',
      [
        {
          field: 'code',
          message:
            'Type the one that is shown now; each is good once. See that the clock of the device is right.',
        },
      ],
      401,
    );
  }
  await attempt.succeeded();
  await endStep(ctx, token ?? '');
  // A passkey shows both that it is there and that it is the person.
  return comeSoFar(ctx, account, 'code' in shown ? 'two factors' : 'passkey', from);
}

async function isShown(
  ctx: Context,
  account: number,
  challenge: string | null,
  shown: { readonly code: string } | { readonly passkey: PasskeyAnswer },
): Promise<boolean> {
  if ('passkey' in shown)
    return challenge !== null && (await takePasskey(ctx, challenge, shown.passkey)).account === account;
  return isOneTimeCode(shown.code)
    ? takeOneTimeCode(ctx, account, shown.code)
    : takeRecoveryCode(ctx, account, shown.code);
}

/** Begins to sign in with a passkey and nothing besides. */
export async function askWhichPasskey(
  ctx: Context,
): Promise<{ readonly step: string; readonly options: PublicKeyCredentialRequestOptionsJSON }> {
  const options = await askForPasskey(ctx);
  return { options, step: await keepStep(ctx, 'passkey', undefined, { challenge: options.challenge }) };
}

/** Throws a RefusedError (401), and (403) where a passkey is not what is asked. */
export async function signInByPasskey(
  ctx: Context,
  token: string | undefined,
  answer: PasskeyAnswer,
  from: From,
): Promise<SigningIn> {
  const { content } = await tryStep(ctx, 'passkey', token, z.object({ challenge: z.string() }));
  const { account, ...found } = await findAccount(
    ctx.store,
    (await takePasskey(ctx, content.challenge, answer)).account,
  );
  refuseDisabled(found);
  await endStep(ctx, token ?? '');
  return comeSoFar(ctx, account, 'passkey', from);
}

/** Lets in whoever did what is asked; whoever did not sets up what is missing first. */
async function comeSoFar(ctx: Context, account: Account, way: Way, from: From): Promise<SigningIn> {
  const demand = await demandOf(ctx.store, account);
  if (meets(demand, way)) return { signedIn: await beginSession(ctx, account, { way, ...from }) };
  if (demand.own === 'none')
    throw new RefusedError(
      `${becauseWords(account, demand, 'own')} signs in through sign-on alone.`,
      [{ field: 'email', message: 'Use the button of your provider below.' }],
      403,
    );
  const step = await keepStep(ctx, 'set up', account.id, { way });
  return {
    step,
    next: {
      ...{ asks: 'set up', least: demand.own, passkeys: passkeyHost(ctx) !== undefined },
      because: becauseWords(account, demand, 'own'),
    },
  };
}

function becauseWords(account: Account, { because }: DemandOn, part: keyof DemandOn['because']): string {
  const by = because[part];
  if (by === 'all') return 'Everybody here';
  const role = account.roles.find((r) => r.id === by.role);
  return `Whoever is ${roleWords({ roles: role ? [role] : [] })}`;
}

/** Sets up what is asked and missing, as part of signing in. Throws a RefusedError (400, 401). */
export async function setUpToSignIn(
  ctx: Context,
  token: string | undefined,
  input: SetUpInput,
  from: From,
): Promise<
  | { readonly secret: NewSecret }
  | { readonly options: Awaited<ReturnType<typeof askForNewPasskey>> }
  | (SigningIn & { readonly recovery: readonly string[] })
> {
  const { account: id, content } = await tryStep(ctx, 'set up', token, Begun);
  const { account, ...found } = await findAccount(ctx.store, id ?? 0);
  refuseDisabled(found);
  const goOn = (more: Partial<z.infer<typeof Begun>>) =>
    keepStep(ctx, 'set up', account.id, { ...content, ...more }, token);
  if (input.do === 'code') {
    const secret = await newSecret(account);
    await goOn({ secret: secret.secret });
    return { secret };
  }
  if (input.do === 'passkey') {
    const options = await askForNewPasskey(ctx, account);
    await goOn({ challenge: options.challenge });
    return { options };
  }
  const kept = await keepFactor(ctx, account, input, content);
  await endStep(ctx, token ?? '');
  return {
    ...(await comeSoFar(ctx, account, input.do === 'keep passkey' ? 'passkey' : 'two factors', from)),
    recovery: kept,
  };
}

/**
 * Keeps one-time codes or a passkey that was just shown to work, in the ledger and told by mail; the recovery codes where it is
 * the first. Throws a RefusedError where it was not begun, or does not work.
 */
export async function keepFactor(
  ctx: Context,
  account: Account,
  input: Extract<SetUpInput, { readonly do: `keep ${string}` }>,
  begun: { readonly secret?: string | undefined; readonly challenge?: string | undefined },
): Promise<readonly string[]> {
  const notBegun = new RefusedError('Begin to set it up first.', [], 409);
  const first = !hasFactor(await factorsOf(ctx.store, account.id));
  if (input.do === 'keep code') {
    const { secret } = begun;
    if (secret === undefined) throw notBegun;
    const step = stepOfCode(secret, input.code, ctx.now());
    if (step === undefined)
      throw new RefusedError('This is not the code that is shown now.', [
        {
          field: 'code',
          message: 'Type the one that is shown now. See that the clock of the device is right.',
        },
      ]);
    return ctx.store.transaction(async (tx) => {
      await keepSecret(tx, ctx, account.id, secret, step);
      await tellFactor(tx, ctx, account.id, account, 'account.factor-added', { factor: 'one-time codes' });
      return first ? newRecoveryCodes(tx, ctx, account.id) : [];
    });
  }
  if (begun.challenge === undefined) throw notBegun;
  const made = await readNewPasskey(ctx, begun.challenge, input.answer);
  return ctx.store.transaction(async (tx) => {
    await keepPasskey(tx, ctx.now(), account.id, input.name, made);
    await tellFactor(tx, ctx, account.id, account, 'account.factor-added', { factor: 'passkey' });
    return first ? newRecoveryCodes(tx, ctx, account.id) : [];
  });
}
