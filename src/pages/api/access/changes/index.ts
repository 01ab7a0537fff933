import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { askAccess } from '../../../../server/access/index/ask-access.ts';
import { keepChange } from '../../../../server/access/change/access-changes.ts';
import { listChanges } from '../../../../server/access/change/view-change.ts';
import { ChangeWish } from '../../../../server/access/index/change-answers.ts';

export const GET = endpoint({
  action: 'access.read',
  input: z.object({}),
  object: whole('estate'),
  run: ({ ctx }) => listChanges(ctx.store),
});

/** Keeps what is wanted as a draft. */
export const POST = endpoint({
  action: 'access.change',
  input: z.object({ wish: ChangeWish, reason: z.string().trim().max(1000).default('') }),
  object: whole('estate'),
  run: async ({ ctx, account, input }) => {
    const composed = await askAccess(ctx, 'compose', { wish: input.wish });
    const by = { by: account.id, reason: input.reason };
    return { id: await ctx.store.transaction((tx) => keepChange(tx, ctx, composed, by)) };
  },
});
