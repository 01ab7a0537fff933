import { z } from 'zod';
import type { Context } from '../../context.ts';
import { idOfToken, signedToken } from '../../http/signed-link.ts';

/** Mails are read long after they were sent, and leaving must stay possible. */
const DAYS = 1100;
const PAGE = 'preferences';

export interface PersonLinks {
  /** Their own page. */
  readonly page: string;
  /** Where a mail program posts that they leave: RFC 8058. */
  readonly leave: string;
}

/** What opens somebody’s own page without an account. */
export function personLinks(ctx: Context, person: number): PersonLinks {
  const token = signedToken(ctx, PAGE, person, DAYS);
  const { WEB_ORIGIN } = ctx.settings;
  return { page: `${WEB_ORIGIN}/preferences/${token}`, leave: `${WEB_ORIGIN}/interface/leave/${token}` };
}

/** Whose link it is; `undefined` for one that is none, is over, or of somebody who is not known any more. */
export async function personOfLink(ctx: Context, token: string): Promise<number | undefined> {
  const id = idOfToken(ctx, PAGE, token);
  if (id === undefined) return undefined;
  const row = await ctx.store.one(
    z.object({ id: z.number() }),
    'SELECT id FROM preference_person WHERE id = ?',
    [id],
  );
  return row?.id;
}
