import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { askedPage, beginPage, isBegun } from '../../../../server/websites/preferences/page-kind.ts';
import { peopleFigures } from '../../../../server/websites/preferences/people.ts';

/** Whether the page was begun, and how people stand. */
export const GET = endpoint({
  action: 'preferences.read',
  input: z.object({ days: z.coerce.number().int().min(1).max(3660).default(90) }),
  object: whole('person', ['site']),
  run: async ({ ctx, input }) => ({
    begun: await isBegun(ctx.store),
    page: await askedPage(ctx.store),
    figures: await peopleFigures(ctx, input.days),
  }),
});

/** Begins the page. */
export const POST = endpoint({
  action: 'preferences.edit',
  input: z.object({
    name: z.string().trim().min(1, 'Say who writes to them').max(80, 'At most 80 characters'),
  }),
  object: whole('preference page', ['site']),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => beginPage(tx, ctx.now(), account.id, input.name)),
});
