import { z } from 'zod';
import type { Context } from '../../context.ts';
import { idOfToken, signedToken } from '../../http/signed-link.ts';

const DAYS = 30;

/** Pages on which somebody answers without an account, by the first step of their address. */
export type StaffPage = 'proposed' | 'letting-go' | 'who-may-keep';

/** Opens what one person is asked on a page, without an account, for a month. */
export function staffLink(ctx: Context, page: StaffPage, staff: number): string {
  return `${ctx.settings.WEB_ORIGIN}/${page}/${signedToken(ctx, page, staff, DAYS)}`;
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
  const staff = idOfToken(ctx, page, token);
  if (staff === undefined) return undefined;
  return ctx.store.one(
    z.object({ id: z.number(), address: z.string(), name: z.string() }),
    'SELECT id, address, name FROM staff WHERE id = ? AND (left_on IS NULL OR left_on > ?)',
    [staff, ctx.now().toISOString().slice(0, 10)],
  );
}
