import { createHmac, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import type { Context } from '../../context.ts';

const DAYS = 30;
const DAY = 86_400_000;

/** Pages on which somebody answers without an account, by the first step of their address. */
export type StaffPage = 'proposed' | 'letting-go' | 'who-may-keep';

/** Opens what one person is asked on a page, without an account, for a month. */
export function staffLink({ settings, now }: Context, page: StaffPage, staff: number): string {
  const until = Math.floor(now().getTime() / DAY) + DAYS;
  return `${settings.WEB_ORIGIN}/${page}/${staff}.${until}.${signed(settings.SECRET_KEY, page, staff, until)}`;
}

/** Whose link to a page it is; `undefined` for one that is none, or over. */
export function staffOfLink({ settings, now }: Context, page: StaffPage, token: string): number | undefined {
  const [, staff = '', until = '', sign = ''] = /^(\d{1,10})\.(\d{1,6})\.([\w-]{43})$/.exec(token) ?? [];
  if (staff === '' || Number(until) * DAY < now().getTime()) return undefined;
  const wanted = Buffer.from(signed(settings.SECRET_KEY, page, Number(staff), Number(until)));
  return timingSafeEqual(wanted, Buffer.from(sign)) ? Number(staff) : undefined;
}

/** Somebody who opened a link of theirs. */
export interface LinkedStaff {
  readonly id: number;
  readonly address: string;
  readonly name: string;
}

/** The same of somebody who is here today: whoever left answers for nothing. */
export async function hereByLink(
  ctx: Context,
  page: StaffPage,
  token: string,
): Promise<LinkedStaff | undefined> {
  const staff = staffOfLink(ctx, page, token);
  if (staff === undefined) return undefined;
  return ctx.store.one(
    z.object({ id: z.number(), address: z.string(), name: z.string() }),
    'SELECT id, address, name FROM staff WHERE id = ? AND (left_on IS NULL OR left_on > ?)',
    [staff, ctx.now().toISOString().slice(0, 10)],
  );
}

function signed(key: string, page: StaffPage, staff: number, until: number): string {
  return createHmac('sha256', Buffer.from(key, 'hex'))
    .update(`${page} ${staff} ${until}`)
    .digest('base64url');
}
