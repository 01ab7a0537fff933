import { z } from 'zod';
import { TOOL_FORMATS } from '../../../../../core/websites/preferences/preference-message.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';
import { addTool, listTools } from '../../../../../server/websites/preferences/tools.ts';

export const GET = endpoint({
  action: 'preferences.read',
  input: z.object({}),
  object: whole('mailing tool', ['site']),
  run: async ({ ctx }) => ({ tools: await listTools(ctx.store) }),
});

/** Its secret is given out this once. */
export const POST = endpoint({
  action: 'preferences.connect',
  input: z.object({
    name: z.string().trim().min(1, 'Give it a name').max(80, 'At most 80 characters'),
    url: z.string().trim().max(500, 'At most 500 characters'),
    format: z.enum(TOOL_FORMATS),
  }),
  object: whole('mailing tool', ['site']),
  run: ({ ctx, account, input }) => addTool(ctx, account, input),
});
