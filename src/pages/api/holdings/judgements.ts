import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import {
  countByPattern,
  judgeByPattern,
  measuredPrecision,
  PatternJudgement,
} from '../../../server/holdings/items/judgements.ts';

/** How right a detector was judged to be; with a pattern, how many matches it would judge. */
export const GET = endpoint({
  action: 'holdings.read',
  input: z.object({ detector: z.string().max(64), pattern: z.string().max(200).default('') }),
  run: async ({ ctx, account, input: { detector, pattern } }) => ({
    ...(await measuredPrecision(ctx.store, detector)),
    matching: pattern.trim() === '' ? 0 : await countByPattern(ctx, account, detector, pattern.trim()),
  }),
});

export const POST = endpoint({
  action: 'holdings.judge',
  input: PatternJudgement,
  run: ({ ctx, account, input }) => judgeByPattern(ctx, account, input),
});
