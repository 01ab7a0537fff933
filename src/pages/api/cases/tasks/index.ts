import { z } from 'zod';
import { tasksOf } from '../../../../server/cases/requests/tasks/tasks.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

/** Open tasks of whoever asks. */
export const GET = endpoint({
  action: 'cases.tasks.read',
  input: z.object({}),
  run: ({ ctx, account }) => tasksOf(ctx.store, account.id),
});
