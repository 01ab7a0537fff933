import { z } from 'zod';
import { requestClock, type Pause, type RequestClock } from '../../../core/cases/requests/law/clock.ts';
import { PAUSES } from '../../../core/cases/requests/law/request-law.ts';
import { leftWords, needsOf, type Need, type RequestFacts } from '../../../core/cases/requests/progress.ts';
import { changesHoldings, KIND_WORDS, requestNumber } from '../../../core/cases/requests/request.ts';
import type { RequestPolicy } from '../../../core/cases/requests/request-policy.ts';
import { dayEnd, dayIn, type Day } from '../../../core/retention/offers.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday, type NewItem } from '../../desk/today.ts';
import { Bytes, Count, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { madeFrom } from './package/made-from.ts';
import { readRequestPolicy } from './request-policy.ts';
import { findRequest, type RequestRow } from './request-row.ts';
import { workingDays } from './working-days.ts';

export interface KnownRequest {
  readonly row: RequestRow;
  readonly policy: RequestPolicy;
  readonly today: Day;
  readonly pauses: readonly Pause[];
  readonly clock: RequestClock;
  readonly facts: RequestFacts;
  readonly needs: readonly Need[];
}

const PauseRow = z.object({ why: z.enum(PAUSES), from: z.string(), to: z.string().nullable() });

/** A request with its clock, and what has to happen still. Throws a RefusedError (404). */
export async function knowRequest(
  store: Queries,
  ctx: Pick<Context, 'now'>,
  id: number,
  lock = false,
): Promise<KnownRequest> {
  const row = await findRequest(store, id, lock);
  const policy = await readRequestPolicy(store);
  const today = dayIn(ctx.now().toISOString(), policy.zone);
  const pauses = await store.all(
    PauseRow,
    'SELECT why, from_on AS `from`, to_on AS `to` FROM request_pause WHERE request_id = ? ORDER BY from_on, id',
    [id],
  );
  const clock = clockOf(row, pauses, policy, today);
  const facts = await factsOf(store, row, clock, today);
  return { row, policy, today, pauses, clock, facts, needs: needsOf(facts) };
}

export function clockOf(
  row: Pick<RequestRow, 'law' | 'kind' | 'received_on' | 'extended_on' | 'answered_on'>,
  pauses: readonly Pause[],
  policy: RequestPolicy,
  today: Day,
): RequestClock {
  return requestClock({
    ...{ law: row.law, kind: row.kind, received: row.received_on, pauses },
    ...{ extended: row.extended_on, answered: row.answered_on, today },
    isWorkingDay: workingDays(policy.country),
  });
}

async function factsOf(
  store: Queries,
  row: RequestRow,
  clock: RequestClock,
  today: Day,
): Promise<RequestFacts> {
  const { id } = row;
  const [items, bearers, tasks, made] = await Promise.all([
    store.one(
      z.object({
        ...{ theirs: Count, ask: Count, look: Count, unread: Count },
        ...{ waiting: Count, failed: Count, done: Count },
      }),
      `SELECT SUM(theirs = 'yes') AS theirs, SUM(theirs = 'ask') AS ask,
         SUM(theirs = 'yes' AND state = 'to look over') AS look, SUM(theirs <> 'no' AND state = 'unreadable') AS unread,
         SUM(theirs = 'yes' AND change_state IN ('waiting', 'by hand')) AS waiting,
         SUM(theirs = 'yes' AND change_state = 'failed') AS failed,
         SUM(theirs = 'yes' AND change_state IN ('done', 'kept')) AS done
       FROM request_item WHERE request_id = ?`,
      [id],
    ),
    store.one(
      z.object({ n: Count }),
      "SELECT COUNT(DISTINCT bearer_hash) AS n FROM request_item WHERE request_id = ? AND theirs = 'ask' AND bearer_hash <> ?",
      [id, Buffer.alloc(16)],
    ),
    store.one(
      z.object({ all: Count, open: Count, late: Count }),
      'SELECT COUNT(*) AS `all`, SUM(done_at IS NULL) AS open, SUM(done_at IS NULL AND due_on < ?) AS late FROM request_task WHERE request_id = ?',
      [today, id],
    ),
    store.one(
      z.object({ leftovers: JsonColumn(z.array(z.unknown())), made_from: Bytes }),
      'SELECT leftovers, made_from FROM request_package WHERE request_id = ? ORDER BY id DESC LIMIT 1',
      [id],
    ),
  ]);
  const counts = items ?? { theirs: 0, ask: 0, look: 0, unread: 0, waiting: 0, failed: 0, done: 0 };
  return {
    ...{ kind: row.kind, outcome: row.outcome, knownBy: row.known_by },
    identity: row.proof ?? (row.asked_at === null ? 'not asked' : 'asked'),
    ...{ search: row.search, bearers: bearers?.n ?? 0, clock, answered: row.answered_on !== null },
    tasks: tasks ?? { all: 0, open: 0, late: 0 },
    items: { theirs: counts.theirs, ask: counts.ask, toLookOver: counts.look, unread: counts.unread },
    package: made
      ? { leftovers: made.leftovers.length, stale: !made.made_from.equals(await madeFrom(store, id)) }
      : null,
    changes:
      changesHoldings(row.kind) && row.agreed_at !== null
        ? { waiting: counts.waiting, failed: counts.failed, done: counts.done }
        : null,
    toConfirm: clock.confirmBy !== null && row.confirmed_on === null,
  };
}

/** Within so many days of its end, Today tells of a request to everybody who may handle it, and not to its handler alone. */
const SOON = 7;

/** Brings what lists and Today tell of a request up to date, in the transaction of whatever changed about it. */
export async function showRequest(tx: Queries, ctx: Pick<Context, 'now'>, id: number): Promise<void> {
  const { row, policy, clock, needs, today } = await knowRequest(tx, ctx, id);
  const [first] = needs;
  await tx.run(
    'UPDATE subject_request SET due_on = ?, next_words = ?, is_wrong = ?, version = version + 1 WHERE id = ?',
    [
      clock.answerBy,
      (row.outcome ?? first?.words ?? 'close it').slice(0, 200),
      needs.some((n) => n.wrong) ? 1 : 0,
      id,
    ],
  );
  await replaceOnToday(tx, `request ${id}`, row.outcome === null ? todayItems() : []);

  function todayItems(): NewItem[] {
    const name = `${requestNumber(id)}, ${KIND_WORDS[row.kind]}`;
    const base = {
      ...{
        key: String(id),
        action: 'cases.handle' as const,
        link: `/cases/requests/${id}`,
        since: row.received_at,
      },
    };
    const handler = row.handler === null ? {} : { assignedTo: row.handler };
    const due = dayEnd(clock.answerBy, policy.zone);
    const items: NewItem[] = [];
    const detail = `${row.law.name}, ${row.law.answerArticle} · ${first?.words ?? 'close it'}`;
    if (clock.isLate)
      items.push({ ...base, kind: 'request late', words: `${name}: ${leftWords(clock)}`, detail, due });
    else if (!clock.isPaused && clock.daysLeft <= SOON)
      items.push({ ...base, kind: 'request due', words: `${name}: ${leftWords(clock)}`, detail, due });
    else if (row.known_by === null && row.asked_at === null)
      items.push({
        ...base,
        ...{ ...handler, kind: 'request news', words: `${name} came in`, detail, due },
      });
    if (clock.confirmBy !== null && row.confirmed_on === null && clock.confirmBy >= today)
      items.push({
        ...{ ...base, ...handler, key: `${id} confirm`, kind: 'request due' },
        words: `${requestNumber(id)}: confirm that it came in`,
        detail: `${row.law.name}, ${row.law.confirm?.article ?? ''}`,
        due: dayEnd(clock.confirmBy, policy.zone),
      });
    return items;
  }
}
