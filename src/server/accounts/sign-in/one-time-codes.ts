import { Secret, TOTP } from 'otpauth';
import QRCode from 'qrcode';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import { openText, sealText } from '../../secret.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const PERIOD_S = 30;

/** A secret that an application is given, as one reads, types or photographs it. */
export interface NewSecret {
  /** Base32. */
  readonly secret: string;
  /** As applications read it. */
  readonly uri: string;
  /** The same as a picture, a data URL. */
  readonly picture: string;
}

/** A secret for one-time codes of an account (RFC 6238), which is kept once a code of it was typed. */
export async function newSecret(account: Account): Promise<NewSecret> {
  const secret = new Secret({ size: 20 });
  const uri = codes(secret.base32, account.email).toString();
  return { secret: secret.base32, uri, picture: await QRCode.toDataURL(uri, { margin: 2, width: 208 }) };
}

function codes(secret: string, label = ''): TOTP {
  return new TOTP({ issuer: 'Yare Warden', label, secret: Secret.fromBase32(secret), period: PERIOD_S });
}

/** The step of time whose code this is, the one before and after let in; `undefined` where it is none. */
export function stepOfCode(secret: string, code: string, now: Date): number | undefined {
  const delta = codes(secret).validate({ token: code, timestamp: now.getTime(), window: 1 });
  return delta === null ? undefined : Math.floor(now.getTime() / 1000 / PERIOD_S) + delta;
}

/** Takes a secret of which a code was typed, in place of one before. */
export async function keepSecret(
  tx: Queries,
  ctx: Context,
  account: number,
  secret: string,
  step: number,
): Promise<void> {
  await tx.run('REPLACE INTO one_time_code (account_id, secret, made_at, last_step) VALUES (?)', [
    [account, sealText(ctx.settings.SECRET_KEY, secret), toDatetime(ctx.now()), step],
  ]);
}

/** Whether this is the code of now; it is good this once. */
export async function takeOneTimeCode(ctx: Context, account: number, code: string): Promise<boolean> {
  const row = await ctx.store.one(
    z.object({ secret: z.string(), last_step: Count }),
    'SELECT secret, last_step FROM one_time_code WHERE account_id = ?',
    [account],
  );
  const step = row && stepOfCode(openText(ctx.settings.SECRET_KEY, row.secret), code, ctx.now());
  if (step === undefined) return false;
  // Of two who type it at once, one is let in.
  const { changed } = await ctx.store.run(
    'UPDATE one_time_code SET last_step = ?, used_at = ? WHERE account_id = ? AND last_step < ?',
    [step, toDatetime(ctx.now()), account, step],
  );
  return changed === 1;
}
