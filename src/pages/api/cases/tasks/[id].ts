import { z } from 'zod';
import { actOnTask, TaskAct, viewTask } from '../../../../server/cases/requests/tasks/tasks.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';

export const GET = endpoint({
  action: 'cases.tasks.read',
  input: z.object({ id: z.coerce.number().int().min(1) }),
  run: ({ ctx, account, input }) => viewTask(ctx, account, input.id),
});

/** Does something about a task of one’s own, or of a request one handles. */
export const POST = endpoint({
  action: 'cases.task',
  input: z.object({ id: z.coerce.number().int().min(1), does: TaskAct }),
  run: ({ ctx, account, input }) => actOnTask(ctx, account, input.id, input.does),
});
