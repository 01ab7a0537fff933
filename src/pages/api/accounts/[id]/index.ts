import { z } from 'zod';
import { accountObject } from '../../../../server/accounts/account-object.ts';
import { findAccount } from '../../../../server/accounts/account.ts';
import { setDisabled } from '../../../../server/accounts/account-care.ts';
import { listSessions } from '../../../../server/accounts/session.ts';
import { signsInBy } from '../../../../server/accounts/sign-on/signs-in-by.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

const Input = z.object({ id: z.coerce.number().int().positive().max(4_294_967_295) });

export const GET = endpoint({
  action: 'accounts.read',
  input: Input,
  object: accountObject,
  run: async ({ ctx, input }) => {
    const { account, disabledAt } = await findAccount(ctx.store, input.id);
    // The ids of somebody else’s sessions end them; they stay here.
    const sessions = (await listSessions(ctx, input.id)).map(({ id: _id, ...rest }) => rest);
    return { ...account, disabledAt, sessions, ...(await signsInBy(ctx.store, input.id)) };
  },
});

export const PATCH = endpoint({
  action: 'accounts.edit',
  input: Input.extend({ disabled: z.boolean() }),
  object: accountObject,
  run: ({ ctx, account, input }) => setDisabled(ctx, account, input.id, input.disabled),
});
