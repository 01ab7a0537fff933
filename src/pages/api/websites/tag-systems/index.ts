import { z } from 'zod';
import { TagSystem } from '../../../../core/websites/gate/tag-system.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { listTagSystems, sayTagSystem } from '../../../../server/websites/gate/tag-systems.ts';

export const GET = endpoint({
  action: 'websites.read',
  input: z.object({}),
  run: ({ ctx }) => listTagSystems(ctx.store),
});

export const POST = endpoint({
  action: 'websites.edit',
  input: z.object({ system: TagSystem }),
  object: whole('tag system', ['site']),
  run: ({ ctx, account, input }) => sayTagSystem(ctx, account.id, input.system, { revision: 0 }),
});
