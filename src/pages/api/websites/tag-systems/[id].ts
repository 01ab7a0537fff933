import { z } from 'zod';
import { TagSystem } from '../../../../core/websites/gate/tag-system.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';
import { sayTagSystem, takeOutTagSystem } from '../../../../server/websites/gate/tag-systems.ts';

const Id = z.object({ id: z.coerce.number().int().positive() });

export const PUT = endpoint({
  action: 'websites.edit',
  /** `revision` of what the editor saw. */
  input: Id.extend({ system: TagSystem, revision: z.int().positive() }),
  object: whole('tag system', ['site']),
  run: ({ ctx, account, input: { system, ...at } }) => sayTagSystem(ctx, account.id, system, at),
});

export const DELETE = endpoint({
  action: 'websites.edit',
  input: Id,
  object: whole('tag system', ['site']),
  run: ({ ctx, account, input }) => takeOutTagSystem(ctx, account.id, input.id),
});
