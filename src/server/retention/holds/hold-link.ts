import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Context } from '../../context.ts';

/** Where a custodian of a hold says that they know of it, without an account. */
export function holdLink({ settings }: Context, hold: string, address: string): string {
  const who = Buffer.from(address.toLowerCase()).toString('base64url');
  return `${settings.WEB_ORIGIN}/held/${hold}.${who}.${signed(settings.SECRET_KEY, hold, who)}`;
}

/** Whose link it is, to which hold; `undefined` for one that is none. It is of use as long as the hold is. */
export function custodianOfLink(
  { settings }: Pick<Context, 'settings'>,
  token: string,
): { readonly hold: string; readonly address: string } | undefined {
  const [, hold = '', who = '', sign = ''] = /^(\d{1,10})\.([\w-]{1,400})\.([\w-]{43})$/.exec(token) ?? [];
  if (hold === '') return undefined;
  const wanted = Buffer.from(signed(settings.SECRET_KEY, hold, who));
  return timingSafeEqual(wanted, Buffer.from(sign))
    ? { hold, address: Buffer.from(who, 'base64url').toString() }
    : undefined;
}

function signed(key: string, hold: string, who: string): string {
  return createHmac('sha256', Buffer.from(key, 'hex')).update(`hold ${hold} ${who}`).digest('base64url');
}
