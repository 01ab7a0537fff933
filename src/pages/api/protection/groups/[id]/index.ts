import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { removeNamedGroup } from '../../../../../server/protection/handling/remove-group.ts';
import { rulesNaming } from '../../../../../server/rules/rule-references.ts';

const Input = z.object({ id: z.coerce.number().int().positive() });

/** The rules that name it. */
export const GET = endpoint({
  action: 'protection.read',
  input: Input,
  run: async ({ ctx, input }) => ({
    rules: (await rulesNaming(ctx.store, 'named group', String(input.id))).map(({ id, name, stage }) => ({
      ...{ id, name, stage },
    })),
  }),
});

export const DELETE = endpoint({
  action: 'protection.edit',
  input: Input,
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => removeNamedGroup(tx, ctx.now(), account.id, input.id)),
});
