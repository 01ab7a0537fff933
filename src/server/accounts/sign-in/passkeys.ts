import { createHash, createHmac } from 'node:crypto';
import { isIP } from 'node:net';
import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type AuthenticatorTransport,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
} from '@simplewebauthn/server';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Bytes, Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const MOST_EACH = 20;

/** What a browser sends of a passkey; the library reads the rest of it. */
export const PasskeyAnswer = z.looseObject({
  id: z.string().min(1).max(2000),
  type: z.literal('public-key'),
});
export type PasskeyAnswer = z.infer<typeof PasskeyAnswer>;

const hashOf = (id: string) => createHash('sha256').update(Buffer.from(id, 'base64url')).digest();

/** Passkeys belong to a name: a desk that is reached by a number has none. */
export function passkeyHost(ctx: Context): string | undefined {
  const { hostname } = new URL(ctx.settings.WEB_ORIGIN);
  return isIP(hostname.replace(/^\[|\]$/g, '')) ? undefined : hostname;
}

function hostOf(ctx: Context): string {
  const host = passkeyHost(ctx);
  if (host === undefined)
    throw new RefusedError('Passkeys belong to a name, and this desk is reached by a number.', [], 409);
  return host;
}

const Row = z.object({
  id: Count,
  account_id: Count,
  credential_id: Bytes,
  public_key: Bytes,
  counter: Count,
  transports: JsonColumn(z.array(z.string())),
});
const COLUMNS = 'id, account_id, credential_id, public_key, counter, transports';

function keysOf(store: Queries, account: number): Promise<z.infer<typeof Row>[]> {
  return store.all(Row, `SELECT ${COLUMNS} FROM passkey WHERE account_id = ?`, [account]);
}

const named = (keys: readonly z.infer<typeof Row>[]) =>
  keys.map((k) => ({
    id: k.credential_id.toString('base64url'),
    transports: k.transports as AuthenticatorTransport[],
  }));

/** What a browser is asked to make a passkey for; it has to see that it is the person, by a PIN or the like. */
export async function askForNewPasskey(
  ctx: Context,
  account: Account,
): Promise<PublicKeyCredentialCreationOptionsJSON> {
  const keys = await keysOf(ctx.store, account.id);
  if (keys.length >= MOST_EACH)
    throw new RefusedError(`You have ${MOST_EACH} passkeys. Take one away first.`, [], 409);
  return generateRegistrationOptions({
    ...{ rpName: 'Yare Warden', rpID: hostOf(ctx) },
    ...{ userName: account.email, userDisplayName: account.name },
    userID: new Uint8Array(
      createHmac('sha256', Buffer.from(ctx.settings.SECRET_KEY, 'hex'))
        .update(`passkey ${account.id}`)
        .digest(),
    ),
    excludeCredentials: named(keys),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  });
}

/** A passkey that a browser made, checked, to be kept. */
export interface MadePasskey {
  readonly credential: string;
  readonly publicKey: Buffer;
  readonly counter: number;
  readonly transports: readonly string[];
  readonly synced: boolean;
}

/** Checks what a browser made (Web Authentication, 7.1). Throws a RefusedError. */
export async function readNewPasskey(
  ctx: Context,
  challenge: string,
  answer: PasskeyAnswer,
): Promise<MadePasskey> {
  const { verified, registrationInfo } = await verifyRegistrationResponse({
    response: answer as unknown as RegistrationResponseJSON,
    ...{ expectedChallenge: challenge, expectedOrigin: new URL(ctx.settings.WEB_ORIGIN).origin },
    ...{ expectedRPID: hostOf(ctx), requireUserVerification: true },
  }).catch(unreadable);
  if (!verified) throw NOT_GOOD;
  const { id, publicKey, counter, transports } = registrationInfo.credential;
  return {
    ...{ credential: id, publicKey: Buffer.from(publicKey), counter, transports: transports ?? [] },
    synced: registrationInfo.credentialBackedUp,
  };
}

/** Throws a RefusedError (409) for one that is kept already. */
export async function keepPasskey(
  tx: Queries,
  now: Date,
  account: number,
  name: string,
  { credential, publicKey, counter, transports, synced }: MadePasskey,
): Promise<number> {
  const hash = hashOf(credential);
  const known = await tx.one(
    z.object({ id: Count }),
    'SELECT id FROM passkey WHERE credential_hash = ? FOR UPDATE',
    [hash],
  );
  if (known) throw new RefusedError('This passkey is kept already.', [], 409);
  const { id } = await tx.run(
    `INSERT INTO passkey (account_id, name, credential_id, credential_hash, public_key, counter, transports, synced, made_at)
     VALUES (?)`,
    [
      [
        ...[account, name, Buffer.from(credential, 'base64url'), hash, publicKey, counter],
        ...[JSON.stringify(transports), synced, toDatetime(now)],
      ],
    ],
  );
  return id;
}

/** What a browser is asked to show a passkey for: one of an account, or whichever it has. */
export async function askForPasskey(
  ctx: Context,
  account?: number,
): Promise<PublicKeyCredentialRequestOptionsJSON> {
  const keys = account === undefined ? [] : await keysOf(ctx.store, account);
  return generateAuthenticationOptions({
    ...{ rpID: hostOf(ctx), userVerification: 'required' },
    ...(account === undefined ? {} : { allowCredentials: named(keys) }),
  });
}

/** Whose passkey was shown (Web Authentication, 7.2). Throws a RefusedError (401). */
export async function takePasskey(
  ctx: Context,
  challenge: string,
  answer: PasskeyAnswer,
): Promise<{ readonly account: number }> {
  const key = await ctx.store.one(Row, `SELECT ${COLUMNS} FROM passkey WHERE credential_hash = ?`, [
    hashOf(answer.id),
  ]);
  if (!key) throw new RefusedError('This passkey is none that is kept here.', [], 401);
  const { verified, authenticationInfo } = await verifyAuthenticationResponse({
    response: answer as unknown as AuthenticationResponseJSON,
    ...{ expectedChallenge: challenge, expectedOrigin: new URL(ctx.settings.WEB_ORIGIN).origin },
    ...{ expectedRPID: hostOf(ctx), requireUserVerification: true },
    credential: {
      id: key.credential_id.toString('base64url'),
      publicKey: new Uint8Array(key.public_key),
      counter: key.counter,
    },
  }).catch(unreadable);
  if (!verified) throw NOT_GOOD;
  await ctx.store.run('UPDATE passkey SET counter = GREATEST(counter, ?), used_at = ? WHERE id = ?', [
    authenticationInfo.newCounter,
    toDatetime(ctx.now()),
    key.id,
  ]);
  return { account: key.account_id };
}

const NOT_GOOD = new RefusedError('That passkey did not show that it is yours. Try again.', [], 401);

/** What the library says is for those who wrote the browser. */
function unreadable(): never {
  throw NOT_GOOD;
}
