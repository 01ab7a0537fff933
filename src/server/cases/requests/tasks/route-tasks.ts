import { peopleWho } from '../../../accounts/account-names.ts';
import { z } from 'zod';
import { addDays } from '../../../../core/cases/requests/law/clock.ts';
import { changesHoldings, requestNumber } from '../../../../core/cases/requests/request.ts';
import type { Context } from '../../../context.ts';
import { Count, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { knowRequest } from '../request-facts.ts';
import { addStep } from '../request-row.ts';
import { showTask } from './tasks.ts';

const Found = z.object({
  system: z.number().nullable(),
  name: z.string().nullable(),
  steward: z.coerce.number().nullable(),
  look: Count,
  unread: Count,
  hand: Count,
  ask: Count,
});

/**
 * Gives whoever looks after the systems that hold the person what the program cannot do by itself there: items to look over,
 * whose they are, what cannot be read, and what has to be deleted or put right by hand; and has systems looked through by hand
 * that hold data of people and have no source that is read. A task that is open is worded anew, not given twice.
 */
export async function routeTasks(tx: Queries, ctx: Context, id: number): Promise<void> {
  const { row, policy, today, clock } = await knowRequest(tx, ctx, id);
  const due = [addDays(today, policy.taskDays), clock.answerBy].toSorted()[0] ?? today;
  const dueOn = due < today ? today : due;
  const found = await tx.all(
    Found,
    `SELECT i.system_id AS \`system\`, s.name, JSON_VALUE(s.content, '$.steward') AS steward,
       SUM(i.theirs = 'yes' AND i.state = 'to look over') AS \`look\`, SUM(i.theirs <> 'no' AND i.state = 'unreadable') AS unread,
       SUM(i.theirs = 'yes' AND i.change_state = 'by hand') AS hand, SUM(i.theirs = 'ask' AND i.state <> 'unreadable') AS ask
     FROM request_item i LEFT JOIN data_system s ON s.id = i.system_id WHERE i.request_id = ? GROUP BY i.system_id`,
    [id],
  );
  const unread = await tx.all(
    z.object({ system: z.number(), name: z.string(), steward: z.coerce.number().nullable() }),
    `SELECT s.id AS \`system\`, s.name, JSON_VALUE(s.content, '$.steward') AS steward FROM data_system s
     WHERE NOT EXISTS (SELECT 1 FROM source o WHERE o.system_id = s.id)
       AND EXISTS (SELECT 1 FROM activity a WHERE JSON_CONTAINS(a.content, JSON_QUOTE(CAST(s.id AS CHAR)), '$.systems'))`,
  );
  const able = new Set((await peopleWho(tx, 'cases.task')).filter((p) => p.able).map((p) => p.id));
  let routed = 0;
  const give = async (system: number | null, owner: number | null, what: string) => {
    const before = await tx.one(
      z.object({ id: z.number() }),
      'SELECT id FROM request_task WHERE request_id = ? AND system_id <=> ? AND done_at IS NULL FOR UPDATE',
      [id, system],
    );
    if (before) {
      await tx.run('UPDATE request_task SET what = ? WHERE id = ?', [what.slice(0, 300), before.id]);
      await showTask(tx, before.id);
    } else {
      const { id: task } = await tx.run(
        'INSERT INTO request_task (request_id, system_id, what, owner, due_on) VALUES (?)',
        [[id, system, what.slice(0, 300), owner !== null && able.has(owner) ? owner : row.handler, dueOn]],
      );
      await showTask(tx, task);
      routed++;
    }
  };
  for (const f of found) {
    const parts = [
      f.ask > 0 && `say of ${items(f.ask)} whose ${f.ask === 1 ? 'it is' : 'they are'}`,
      !changesHoldings(row.kind) && f.look > 0 && `look over ${items(f.look)}`,
      f.unread > 0 && `look into ${items(f.unread)} that could not be read`,
      f.hand > 0 && `${row.kind === 'delete' ? 'delete' : 'put right'} ${items(f.hand)} by hand`,
    ].filter((p) => p !== false);
    if (parts.length > 0)
      await give(
        f.system,
        f.steward,
        `${f.name ?? 'Outside of systems'}: ${parts.join('; ')} (${requestNumber(id)})`,
      );
  }
  // Where nothing is left to do, nobody has to say so.
  const busy = new Set<number | null>(unread.map((u) => u.system));
  for (const f of found)
    if (f.ask + f.unread + f.hand + (changesHoldings(row.kind) ? 0 : f.look) > 0) busy.add(f.system);
  for (const t of await tx.all(
    z.object({ id: z.number(), system_id: z.number().nullable() }),
    'SELECT id, system_id FROM request_task WHERE request_id = ? AND done_at IS NULL FOR UPDATE',
    [id],
  ))
    if (!busy.has(t.system_id)) {
      await tx.run(
        "UPDATE request_task SET done_at = ?, outcome = 'nothing is left to do there' WHERE id = ?",
        [toDatetime(ctx.now()), t.id],
      );
      await showTask(tx, t.id);
    }
  const done = new Set(
    (
      await tx.all(
        z.object({ system_id: z.number().nullable() }),
        'SELECT system_id FROM request_task WHERE request_id = ? AND done_at IS NOT NULL',
        [id],
      )
    ).map((t) => t.system_id),
  );
  for (const u of unread)
    if (!done.has(u.system))
      await give(
        u.system,
        u.steward,
        `${u.name}: look by hand for whom ${requestNumber(id)} is about; no source of it is read`,
      );
  if (routed > 0)
    await addStep(tx, ctx.now(), id, 'routed', null, `${routed} ${routed === 1 ? 'task' : 'tasks'}`);
}

const items = (n: number) => (n === 1 ? '1 item' : `${n} items`);
