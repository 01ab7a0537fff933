import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { stopTool, tellToolAll } from '../../../../../server/websites/preferences/tools.ts';

const Tool = z.object({ id: z.coerce.number().int().positive() });

/** Tells it of everybody anew. */
export const POST = endpoint({
  action: 'preferences.connect',
  input: Tool,
  object: whole('mailing tool', ['site']),
  run: ({ ctx, account, input }) => tellToolAll(ctx, account, input.id),
});

export const DELETE = endpoint({
  action: 'preferences.connect',
  input: Tool,
  object: whole('mailing tool', ['site']),
  run: ({ ctx, account, input }) => stopTool(ctx, account, input.id),
});
