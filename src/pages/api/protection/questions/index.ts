import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { listQuestions } from '../../../../server/protection/questions/questions.ts';

/** What people asked from where they were stopped. */
export const GET = endpoint({
  action: 'protection.activity',
  input: z.object({}),
  run: ({ ctx }) => listQuestions(ctx.store),
});
