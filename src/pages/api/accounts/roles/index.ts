import { z } from 'zod';
import { isAction } from '../../../../core/accounts/action.ts';
import { newOwnRole } from '../../../../core/accounts/roles/own-role.ts';
import { refuseMore } from '../../../../server/accounts/roles/refuse-more.ts';
import { addRole } from '../../../../server/accounts/roles/role-rule.ts';
import { listRoles } from '../../../../server/desk/role-outlook.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'accounts.read',
  input: z.object({}),
  run: ({ ctx }) => listRoles(ctx),
});

/** Begins one that allows these permissions. */
export const POST = endpoint({
  action: 'accounts.roles',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name.').max(80),
    actions: z.array(z.string().refine(isAction, 'There is no such permission.')).max(500).default([]),
  }),
  run: async ({ ctx, account, input }) => {
    const actions = input.actions.filter(isAction);
    refuseMore(account, actions, 'actions');
    return {
      id: await ctx.store.transaction((tx) =>
        addRole(tx, ctx.now(), account.id, newOwnRole(input.name, actions)),
      ),
    };
  },
});
