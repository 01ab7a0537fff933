import { z } from 'zod';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { viewSchedule } from '../../../../server/retention/schedule/schedule.ts';

/** The schedule against what is held, and against the records of processing. */
export const GET = endpoint({
  action: 'retention.read',
  input: z.object({}),
  run: ({ ctx, account }) => viewSchedule(ctx, account),
});
