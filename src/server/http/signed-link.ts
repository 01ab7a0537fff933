import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Context } from '../context.ts';

const DAY = 86_400_000;

/** The last step of the address of a page that one person opens without an account, for so many days. */
export function signedToken({ settings, now }: Context, page: string, id: number, days: number): string {
  const until = Math.floor(now().getTime() / DAY) + days;
  return `${id}.${until}.${signed(settings.SECRET_KEY, page, id, until)}`;
}

/** Whose token for a page it is; `undefined` for one that is none, or over. */
export function idOfToken({ settings, now }: Context, page: string, token: string): number | undefined {
  const [, id = '', until = '', sign = ''] = /^(\d{1,10})\.(\d{1,6})\.([\w-]{43})$/.exec(token) ?? [];
  if (id === '' || Number(until) * DAY < now().getTime()) return undefined;
  const wanted = Buffer.from(signed(settings.SECRET_KEY, page, Number(id), Number(until)));
  return timingSafeEqual(wanted, Buffer.from(sign)) ? Number(id) : undefined;
}

function signed(key: string, page: string, id: number, until: number): string {
  return createHmac('sha256', Buffer.from(key, 'hex')).update(`${page} ${id} ${until}`).digest('base64url');
}
