import { z } from 'zod';
import { cancelJob, jobObject } from '../../../server/desk/job-authority.ts';
import { endpoint } from '../../../server/http/endpoint.ts';

export const DELETE = endpoint({
  action: 'jobs.cancel',
  input: z.object({ id: z.string().regex(/^\d{1,18}$/, 'a job’s number') }),
  object: jobObject,
  run: ({ ctx, account, input }) => cancelJob(ctx, account, input.id),
});
