import { z } from 'zod';
import { ExceptionContent } from '../../../../core/retention/rules/exception.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { itemsObject } from '../../../../server/holdings/offers.ts';
import { listExceptions, makeException } from '../../../../server/retention/exceptions/exceptions.ts';
import { whole } from '../../../../server/http/whole.ts';

/** Those that stand today. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  object: whole('source'),
  run: ({ ctx }) => listExceptions(ctx.store, ctx.now().toISOString().slice(0, 10)),
});

/** Has some items kept longer or shorter than the rules say. */
export const POST = endpoint({
  action: 'retention.except',
  input: z.object({
    items: z
      .array(z.int().positive())
      .min(1, 'Choose at least one item.')
      .max(5000, 'At most 5,000 at once.'),
    content: ExceptionContent,
    reason: z.string().trim().min(1, 'Say why.').max(400),
    until: z.iso.date().nullable(),
  }),
  object: (ctx, { items }) => itemsObject(ctx, items),
  run: ({ ctx, account, input: { items, ...wish } }) => makeException(ctx, account, items, wish),
});
