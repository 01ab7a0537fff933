import { createHmac, timingSafeEqual } from 'node:crypto';
import { z } from 'zod';
import type { Context } from '../../context.ts';

const DAYS = 30;
const DAY = 86_400_000;

/** Opens what one person is asked, without an account, for a month. */
export function proposalLink({ settings, now }: Context, staff: number): string {
  const until = Math.floor(now().getTime() / DAY) + DAYS;
  return `${settings.WEB_ORIGIN}/proposed/${staff}.${until}.${signed(settings.SECRET_KEY, staff, until)}`;
}

/** Whose link it is; `undefined` for one that is none, or over. */
export function staffOfLink({ settings, now }: Context, token: string): number | undefined {
  const [, staff = '', until = '', sign = ''] = /^(\d{1,10})\.(\d{1,6})\.([\w-]{43})$/.exec(token) ?? [];
  if (staff === '' || Number(until) * DAY < now().getTime()) return undefined;
  const wanted = Buffer.from(signed(settings.SECRET_KEY, Number(staff), Number(until)));
  return timingSafeEqual(wanted, Buffer.from(sign)) ? Number(staff) : undefined;
}

/** The same of somebody who is here today: whoever left answers for nothing. */
export async function ownerOfLink(ctx: Context, token: string): Promise<number | undefined> {
  const staff = staffOfLink(ctx, token);
  if (staff === undefined) return undefined;
  const here = await ctx.store.one(
    z.object({ id: z.number() }),
    'SELECT id FROM staff WHERE id = ? AND (left_on IS NULL OR left_on > ?)',
    [staff, ctx.now().toISOString().slice(0, 10)],
  );
  return here?.id;
}

function signed(key: string, staff: number, until: number): string {
  return createHmac('sha256', Buffer.from(key, 'hex'))
    .update(`proposals ${staff} ${until}`)
    .digest('base64url');
}
