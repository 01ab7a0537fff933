import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { publicationNames } from '../../../../server/protection/publishing/publications.ts';

/** Levels and groups that a publication can name. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx }) => publicationNames(ctx.store),
});
