import { z } from 'zod';
import { knownFigure } from '../../../../../server/desk/figures.ts';
import { findAccount } from '../../../../../server/accounts/account.ts';
import { setAim } from '../../../../../server/figures/aims.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';

/** A target is of what is told: a share is in [0, 1]. */
export const POST = endpoint({
  action: 'figures.aim',
  input: z.object({
    id: z.string().max(60),
    target: z.number().min(0, 'Nothing below 0').max(1e12).nullable(),
    owner: z.int().positive().nullable(),
  }),
  run: async ({ ctx, account, input: { id, ...aim } }) => {
    knownFigure(account, id);
    if (aim.owner !== null) await findAccount(ctx.store, aim.owner);
    await setAim(ctx, account.id, id, aim);
  },
});
