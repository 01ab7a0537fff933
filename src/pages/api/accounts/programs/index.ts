import { z } from 'zod';
import { addProgram, listPrograms } from '../../../../server/accounts/programs/program.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'programs.read',
  input: z.object({}),
  run: ({ ctx }) => listPrograms(ctx.store),
});

/** Lets a program in; its token is told this once. */
export const POST = endpoint({
  action: 'programs.edit',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(120),
    scope: z.enum(['levels']),
  }),
  run: ({ ctx, account, input }) =>
    ctx.store.transaction((tx) => addProgram(tx, ctx.now(), account.id, input)),
});
