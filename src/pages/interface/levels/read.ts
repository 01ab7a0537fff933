import { z } from 'zod';
import { programEndpoint } from '../../../server/http/program-endpoint.ts';
import { carried } from '../../../server/protection/publishing/choose-level.ts';

/** The level that a document or a message says it has. */
export const POST = programEndpoint({
  scope: 'levels',
  input: z.object({}),
  run: async ({ program, body }) => ({ level: (await carried(program, body)) ?? null }),
});
