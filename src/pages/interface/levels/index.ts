import { z } from 'zod';
import { programEndpoint } from '../../../server/http/program-endpoint.ts';
import { levelsFor } from '../../../server/protection/publishing/choose-level.ts';

/** Levels that somebody may choose. */
export const GET = programEndpoint({
  scope: 'levels',
  input: z.object({ person: z.string().max(254) }),
  run: ({ ctx, input }) => levelsFor(ctx, input.person),
});
