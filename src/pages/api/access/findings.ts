import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { FINDING_LIST } from '../../../core/access/breadth/finding-list.ts';
import { lastRound, listFindings } from '../../../server/access/breadth/find-breadth.ts';
import { pageShape } from '../../../server/lists/list-source.ts';

/** What is too broad, and when that was counted. */
export const GET = endpoint({
  action: 'access.read',
  input: z.object(pageShape(FINDING_LIST)),
  object: whole('estate'),
  run: async ({ ctx, input }) => ({
    ...(await listFindings(ctx, input, input.after, input.size)),
    round: (await lastRound(ctx.store)) ?? null,
  }),
});
