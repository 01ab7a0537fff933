import { dayEnd } from '../../../../core/retention/offers.ts';
import { peopleWho } from '../../../accounts/account-names.ts';
import { readRequestPolicy } from '../request-policy.ts';
import { z } from 'zod';
import type { Account } from '../../../../core/accounts/authority.ts';
import { may } from '../../../../core/accounts/authority.ts';
import type { RequestKind } from '../../../../core/cases/requests/request.ts';
import { notFound, RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { replaceOnToday } from '../../../desk/today.ts';
import { record } from '../../../evidence/ledger.ts';
import { Instant, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { showRequest } from '../request-facts.ts';
import { listItems, type RequestItem } from '../items/list-items.ts';
import { addStep, findRequest } from '../request-row.ts';

const TaskRow = z.object({
  id: z.number(),
  requestId: z.number(),
  systemId: z.number().nullable(),
  system: z.string().nullable(),
  what: z.string(),
  ownerId: z.number().nullable(),
  owner: z.string().nullable(),
  dueOn: z.string(),
  doneAt: Instant.nullable(),
  doneBy: z.string().nullable(),
  outcome: z.string(),
  remindedOn: z.string().nullable(),
  nudgedOn: z.string().nullable(),
});
export type RequestTask = z.infer<typeof TaskRow>;

const SELECT = `SELECT t.id, t.request_id AS requestId, t.system_id AS systemId, s.name AS \`system\`, t.what, t.owner AS ownerId, a.name AS owner,
  t.due_on AS dueOn, t.done_at AS doneAt, d.name AS doneBy, t.outcome, t.reminded_on AS remindedOn, t.nudged_on AS nudgedOn
  FROM request_task t LEFT JOIN data_system s ON s.id = t.system_id LEFT JOIN account a ON a.id = t.owner LEFT JOIN account d ON d.id = t.done_by`;

export function listTasks(store: Queries, request: number): Promise<readonly RequestTask[]> {
  return store.all(
    TaskRow,
    `${SELECT} WHERE t.request_id = ? ORDER BY t.done_at IS NOT NULL, t.due_on, t.id LIMIT 500`,
    [request],
  );
}

/** Open ones of one person, of all requests. */
export function tasksOf(store: Queries, owner: number): Promise<readonly RequestTask[]> {
  return store.all(
    TaskRow,
    `${SELECT} WHERE t.owner = ? AND t.done_at IS NULL ORDER BY t.due_on, t.id LIMIT 200`,
    [owner],
  );
}

export const TaskAct = z.discriminatedUnion('act', [
  z.strictObject({
    act: z.literal('done'),
    outcome: z.string().trim().min(3, 'Say what you found or did').max(500),
  }),
  z.strictObject({ act: z.literal('hand on'), to: z.int().min(1) }),
  z.strictObject({ act: z.literal('due'), on: z.iso.date() }),
]);
export type TaskAct = z.infer<typeof TaskAct>;

/** Does something about a task: its owner, or who handles the request. Throws a RefusedError (403, 404, 409). */
export async function actOnTask(ctx: Context, account: Account, id: number, act: TaskAct): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const task = await tx.one(TaskRow, `${SELECT} WHERE t.id = ? FOR UPDATE`, [id]);
    if (!task) throw notFound('task');
    if (task.ownerId !== account.id && !may(account, 'cases.handle'))
      throw new RefusedError('This task is somebody else’s.', [], 403);
    if (task.doneAt !== null) throw new RefusedError('It is done already.', [], 409);
    const now = ctx.now();
    switch (act.act) {
      case 'done':
        await tx.run('UPDATE request_task SET done_at = ?, done_by = ?, outcome = ? WHERE id = ?', [
          ...[toDatetime(now), account.id, act.outcome, id],
        ]);
        // What its owner deleted or put right by hand is done with it.
        await tx.run(
          "UPDATE request_item SET change_state = 'done', fate_why = ? WHERE request_id = ? AND system_id <=> ? AND change_state = 'by hand'",
          [act.outcome, task.requestId, task.systemId],
        );
        await addStep(tx, now, task.requestId, 'task done', account.id, task.system ?? '');
        break;
      case 'hand on': {
        if (!(await peopleWho(tx, 'cases.task')).some((p) => p.able && p.id === act.to))
          throw new RefusedError('They may not do tasks.', [
            { field: 'to', message: 'Choose somebody whose role includes it.' },
          ]);
        await tx.run('UPDATE request_task SET owner = ?, reminded_on = NULL, nudged_on = NULL WHERE id = ?', [
          act.to,
          id,
        ]);
        break;
      }
      case 'due':
        await tx.run(
          'UPDATE request_task SET due_on = ?, reminded_on = NULL, nudged_on = NULL WHERE id = ?',
          [act.on, id],
        );
    }
    await record(tx, now, {
      ...{
        actor: account.id,
        action: `request-task.${act.act.replaceAll(' ', '-')}`,
        object: 'request',
        objectId: task.requestId,
      },
      detail: { task: id },
    });
    await showTask(tx, id);
    await showRequest(tx, ctx, task.requestId);
  });
}

/** What Today tells its owner of a task. */
export async function showTask(tx: Queries, id: number): Promise<void> {
  const task = await tx.one(TaskRow, `${SELECT} WHERE t.id = ?`, [id]);
  const { zone } = await readRequestPolicy(tx);
  await replaceOnToday(
    tx,
    `request task ${id}`,
    task && task.doneAt === null && task.ownerId !== null
      ? [
          {
            ...{ kind: 'request task', key: String(id), action: 'cases.task', words: task.what },
            ...{
              detail: 'A person waits for it',
              link: `/cases/tasks?task=${id}`,
              since: `${task.dueOn}T00:00:00Z`,
            },
            ...{ due: dayEnd(task.dueOn, zone), assignedTo: task.ownerId },
          },
        ]
      : [],
  );
}

export interface ViewedTask {
  readonly task: RequestTask;
  readonly kind: RequestKind;
  readonly open: boolean;
  /** Of the system that it is about. */
  readonly items: readonly RequestItem[];
}

/** A task with what there is of the person in its system. Throws a RefusedError (403, 404). */
export async function viewTask(ctx: Context, account: Account, id: number): Promise<ViewedTask> {
  const task = await ctx.store.one(TaskRow, `${SELECT} WHERE t.id = ?`, [id]);
  if (!task) throw notFound('task');
  if (task.ownerId !== account.id && !may(account, 'cases.handle'))
    throw new RefusedError('This task is somebody else’s.', [], 403);
  const row = await findRequest(ctx.store, task.requestId);
  const items = await listItems(ctx.store, task.requestId);
  return {
    ...{ task, kind: row.kind, open: row.outcome === null && task.doneAt === null },
    items: items.filter((i) => i.systemId === task.systemId && i.theirs !== 'no'),
  };
}

/** Whoever handles requests sees every item of one; whoever has a task, those of its system as long as it is open. Throws a RefusedError (404). */
export async function requireItemRight(
  ctx: Context,
  account: Account,
  request: number,
  item: string,
): Promise<void> {
  if (may(account, 'cases.handle')) return;
  const mine = await ctx.store.one(
    z.object({ id: z.number() }),
    `SELECT t.id FROM request_task t JOIN request_item i ON i.request_id = t.request_id AND i.system_id <=> t.system_id
     WHERE t.request_id = ? AND i.id = ? AND t.owner = ? AND t.done_at IS NULL LIMIT 1`,
    [request, item, account.id],
  );
  if (!mine) throw notFound('item');
}
