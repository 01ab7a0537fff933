import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { publicationOutlook } from '../../../../../server/protection/publishing/published.ts';

/** What the publication, as its draft stands, would change for people. */
export const GET = endpoint({
  action: 'protection.read',
  input: z.object({ id: z.string().max(64) }),
  run: ({ ctx, input }) => publicationOutlook(ctx, input.id),
});
