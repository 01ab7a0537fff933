import { z } from 'zod';
import { programEndpoint } from '../../../server/http/program-endpoint.ts';
import { chooseLevel } from '../../../server/protection/publishing/choose-level.ts';

/** A document or a message with the level that somebody chose. */
export const POST = programEndpoint({
  scope: 'levels',
  input: z.object({
    person: z.string().max(254),
    level: z.string().max(64),
    reason: z.string().max(400).default(''),
    name: z.string().max(300).default(''),
  }),
  run: async ({ ctx, program, input, body }) => {
    const { bytes, level, before } = await chooseLevel(ctx, program, input, body);
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        'content-type': 'application/octet-stream',
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
        'yare-level': level.id,
        'yare-level-before': before ?? '',
      },
    });
  },
});
