import { z } from 'zod';
import { leftWords } from '../../../core/cases/requests/progress.ts';
import { KIND_WORDS, requestNumber } from '../../../core/cases/requests/request.ts';
import { dayIn, lastDayOf } from '../../../core/retention/offers.ts';
import { peopleWho } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { putOnToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { itemsWithPeople, removeCopy } from '../../holdings/offers.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { BigId, Bytes, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { DUE, TASK_DUE, TASK_LATE } from './letters/staff-letters.ts';
import { knowRequest, showRequest } from './request-facts.ts';
import { readRequestPolicy } from './request-policy.ts';
import { addStep } from './request-row.ts';
import { showTask } from './tasks/tasks.ts';

/** Once so few days are left, whoever handles a request is written to; once for each. */
const WARNED = [7, 3, 1, 0, -1];

/** Brings what Today tells of open requests to the day it is, and writes to whom it is theirs to see to. */
export async function watchRequests(ctx: Context): Promise<void> {
  const open = await ctx.store.all(
    z.object({ id: z.number() }),
    'SELECT id FROM subject_request WHERE outcome IS NULL ORDER BY due_on, id LIMIT 20000',
  );
  for (const { id } of open)
    await ctx.store.transaction(async (tx) => {
      const { row, clock } = await knowRequest(tx, ctx, id, true);
      if (row.outcome !== null) return;
      await showRequest(tx, ctx, id);
      const warned = WARNED.findLast((days) => clock.daysLeft <= days);
      if (row.answered_on !== null || clock.isPaused || warned === undefined) return;
      for (const to of await addressesOf(tx, row.handler))
        await queueMail(tx, ctx, {
          ...{
            key: `request due ${id} ${warned} ${clock.answerBy} ${to}`,
            about: { object: 'request', id },
            to,
            template: DUE,
          },
          values: {
            ...{ number: requestNumber(id), asks: KIND_WORDS[row.kind], left: leftWords(clock) },
            link: `${ctx.settings.WEB_ORIGIN}/cases/requests/${id}`,
          },
        });
    });
}

/** Whoever handles it; of one that nobody does, those who say how requests are handled. */
async function addressesOf(tx: Queries, handler: number | null): Promise<readonly string[]> {
  const ids =
    handler === null
      ? (await peopleWho(tx, 'cases.policy')).filter((p) => p.able).map((p) => p.id)
      : [handler];
  if (ids.length === 0) return [];
  const rows = await tx.all(
    z.object({ email: z.string() }),
    'SELECT email FROM account WHERE id IN (?) AND disabled_at IS NULL',
    [ids],
  );
  return rows.map((r) => r.email);
}

/** Reminds owners of tasks on the day they are due, and tells those above once they are late for too long. */
export async function remindOfTasks(ctx: Context): Promise<void> {
  const policy = await readRequestPolicy(ctx.store);
  const today = dayIn(ctx.now().toISOString(), policy.zone);
  const tasks = await ctx.store.all(
    z.object({
      id: z.number(),
      request_id: z.number(),
      what: z.string(),
      due_on: z.string(),
      email: z.string().nullable(),
      handler: z.number().nullable(),
      reminded_on: z.string().nullable(),
      nudged_on: z.string().nullable(),
    }),
    `SELECT t.id, t.request_id, t.what, t.due_on, a.email, r.handler, t.reminded_on, t.nudged_on FROM request_task t
     JOIN subject_request r ON r.id = t.request_id LEFT JOIN account a ON a.id = t.owner
     WHERE t.done_at IS NULL AND t.due_on <= ? AND (t.reminded_on IS NULL OR t.nudged_on IS NULL) ORDER BY t.due_on LIMIT 500`,
    [lastDayOf(today, { count: 1, unit: 'days' })],
  );
  for (const t of tasks)
    await ctx.store.transaction(async (tx) => {
      const values = {
        what: t.what,
        day: t.due_on,
        link: `${ctx.settings.WEB_ORIGIN}/cases/tasks?task=${t.id}`,
      };
      if (t.reminded_on === null) {
        await tx.run('UPDATE request_task SET reminded_on = ? WHERE id = ? AND reminded_on IS NULL', [
          today,
          t.id,
        ]);
        if (t.email !== null)
          await queueMail(tx, ctx, {
            key: `request task ${t.id} ${t.due_on}`,
            about: { object: 'request', id: t.request_id },
            to: t.email,
            template: TASK_DUE,
            values,
          });
        await addStep(tx, ctx.now(), t.request_id, 'reminded', null, t.what.split(':')[0] ?? '');
      }
      const nudgeFrom = lastDayOf(t.due_on, { count: policy.nudgeDays, unit: 'days' });
      if (t.nudged_on === null && nudgeFrom <= today) {
        await tx.run('UPDATE request_task SET nudged_on = ? WHERE id = ? AND nudged_on IS NULL', [
          today,
          t.id,
        ]);
        const above = new Set([...(await addressesOf(tx, t.handler)), ...(await addressesOf(tx, null))]);
        for (const to of above)
          await queueMail(tx, ctx, {
            key: `request task late ${t.id} ${t.due_on} ${to}`,
            about: { object: 'request', id: t.request_id },
            to,
            template: TASK_LATE,
            values,
          });
        await addStep(tx, ctx.now(), t.request_id, 'nudged', null, t.what.split(':')[0] ?? '');
      }
      await showTask(tx, t.id);
    });
}

/** Lets go of what was gathered for requests that ended long enough ago; that there was one, and how it ended, stays. */
export async function forgetRequests(ctx: Context): Promise<void> {
  const { zone } = await readRequestPolicy(ctx.store);
  const today = dayIn(ctx.now().toISOString(), zone);
  for (let gone = 1; gone > 0;)
    gone = await ctx.store.transaction(async (tx) => {
      const due = await tx.all(
        z.object({ id: z.number() }),
        'SELECT id FROM subject_request WHERE forget_on < ? ORDER BY forget_on, id LIMIT 20 FOR UPDATE SKIP LOCKED',
        [today],
      );
      for (const { id } of due) {
        const copies = await tx.all(
          z.object({ copy_id: BigId }),
          'SELECT copy_id FROM request_package WHERE request_id = ? AND copy_id IS NOT NULL',
          [id],
        );
        for (const c of copies) await removeCopy(tx, c.copy_id);
        await tx.run('UPDATE request_package SET copy_id = NULL, phrase = NULL WHERE request_id = ?', [id]);
        for (const table of ['request_item', 'request_proof', 'request_link'])
          await tx.run(`DELETE FROM ${table} WHERE request_id = ?`, [id]);
        await tx.run('UPDATE request_letter SET content = NULL WHERE request_id = ?', [id]);
        await tx.run(
          'UPDATE subject_request SET content = NULL, learned = NULL, forget_on = NULL WHERE id = ?',
          [id],
        );
        await addStep(tx, ctx.now(), id, 'forgot', null);
        await record(tx, ctx.now(), {
          actor: 'system',
          action: 'request.forget',
          object: 'request',
          objectId: id,
          detail: {},
        });
      }
      return due.length;
    });
}

/**
 * Looks whether people who were deleted are back: in an item that was read since, out of a backup or an import. Whoever
 * handles requests sees which; nothing is deleted by itself.
 */
export async function watchForgotten(ctx: Context): Promise<void> {
  const watch = await ctx.store.one(
    z.object({ looked_at: Instant }),
    'SELECT looked_at FROM forgotten_watch WHERE id = 1',
  );
  const since = new Date(watch?.looked_at ?? 0);
  const now = ctx.now();
  const people = await ctx.store.all(
    z.object({ person: Bytes, request_id: z.number(), since: Instant }),
    'SELECT person, request_id, since FROM forgotten_person ORDER BY request_id LIMIT 100000',
  );
  const byRequest = new Map<number, { keys: Buffer[]; since: string }>();
  for (const p of people) {
    const of = byRequest.get(p.request_id) ?? { keys: [], since: p.since };
    of.keys.push(p.person);
    byRequest.set(p.request_id, of);
  }
  for (const [request, of] of byRequest) {
    const from = new Date(Math.max(since.getTime(), Date.parse(of.since)));
    const back = (await itemsWithPeople(ctx, of.keys, from)).filter((id) => id > 0);
    const kept = back.length === 0 ? new Set<number>() : await keptItems(ctx.store, request);
    for (const item of back.filter((id) => !kept.has(id)))
      await ctx.store.transaction((tx) =>
        putOnToday(tx, {
          ...{ kind: 'came back', key: `${request} ${item}`, action: 'cases.handle', dismissable: true },
          words: `Somebody who was deleted is back, in item ${item}`,
          ...{
            detail: `They were deleted by ${requestNumber(request)}`,
            link: `/holdings/items/${item}`,
            since: now,
          },
        }),
      );
  }
  await ctx.store.run('UPDATE forgotten_watch SET looked_at = ? WHERE id = 1', [toDatetime(now)]);
}

/** Items that were kept knowingly. */
async function keptItems(store: Queries, request: number): Promise<ReadonlySet<number>> {
  const rows = await store.all(
    z.object({ item_id: BigId.transform(Number) }),
    "SELECT item_id FROM request_item WHERE request_id = ? AND item_id IS NOT NULL AND (change_state = 'kept' OR theirs = 'no')",
    [request],
  );
  return new Set(rows.map((r) => r.item_id));
}
