import { z } from 'zod';
import type { EstateRow } from '../../../core/access/estate/estate-row.ts';
import { eventsOf } from '../../../core/access/history/access-event.ts';
import type { Context } from '../../context.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { BigId, Count, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { nextRevision, revisionOf, standingDigests } from '../estate/line-rows.ts';
import { endRows, insertEvents, insertRows, newRow, type NewRow } from '../estate/write-rows.ts';
import { openReader } from '../readers/open-reader.ts';
import { ReaderError } from '../readers/reader.ts';
import { settleOrders } from '../change/work-orders.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { findAccessSource, type AccessSource } from './access-sources.ts';
import { principalNames } from './directory-people.ts';
import { placesBy, rowsOfLines, ToldLines, writeUses, type Told } from './told-lines.ts';

export interface ReadOutcome {
  readonly came: number;
  readonly went: number;
  readonly faults: number;
}

const MOST_FAULTS = 50;
/** A change that was written meanwhile is not to be undone by what was read before it. */
const ATTEMPTS = 3;

/**
 * Reads a source to its end and takes over what changed, whole or not at all. What cannot be taken of it is told. Throws a
 * ReaderError where it cannot be read to its end; then everything stays as it was, and Today tells.
 */
export async function readAccessSource(ctx: Context, id: number, signal: AbortSignal): Promise<ReadOutcome> {
  try {
    for (let attempt = 1; ; attempt++) {
      const done = await readOnce(ctx, id, signal);
      if (done) return done;
      if (attempt >= ATTEMPTS)
        throw new ReaderError('It was changed from here again and again while it was read; try later.');
    }
  } catch (error) {
    if (error instanceof ReaderError) await noteProblem(ctx, id, error.message);
    throw error;
  }
}

async function noteProblem(ctx: Context, id: number, problem: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { name } = await findAccessSource(tx, id, true);
    await tx.run('UPDATE access_source SET problem = ?, tried_at = ? WHERE id = ?', [
      problem.slice(0, 500),
      toDatetime(ctx.now()),
      id,
    ]);
    await putOnToday(tx, {
      ...{ kind: 'access not read', key: String(id), action: 'access.read' },
      words: `${name} could not be read`,
      detail: problem.slice(0, 300),
      link: '/access/sources',
      since: ctx.now(),
      within: WHOLE_ESTATE,
      act: {
        ...{ words: 'Read it again', done: 'It is being read.', needs: 'access.sources' },
        ...{ path: `/api/access/sources/${id}/read`, body: {} },
      },
    });
  });
}

/** `undefined` where something was written to it meanwhile. */
async function readOnce(ctx: Context, id: number, signal: AbortSignal): Promise<ReadOutcome | undefined> {
  const { store } = ctx;
  const source = await findAccessSource(store, id);
  const begunAt = await revisionOf(store);
  const standing = await standingDigests(store, id);
  const isFirst = source.read_at === null;
  const told = await linesOf(ctx, source, signal);
  const came: NewRow[] = [];
  const endedIds: string[] = [];
  const rows = await rowsOfLines(store, source, told);
  for (const { row, holds } of rows) {
    const fresh = newRow(row, holds);
    const key = fresh.key.toString('hex');
    const was = standing.get(key);
    standing.delete(key);
    if (was?.digest === fresh.digest.toString('hex')) continue;
    if (was) endedIds.push(was.id);
    came.push(fresh);
  }
  endedIds.push(...[...standing.values()].map((s) => s.id));
  return store.transaction(async (tx) => {
    const locked = await findAccessSource(tx, id, true);
    // What was said of it meanwhile counts too.
    if (!isSaidSame(source, locked)) return undefined;
    const revision = await nextRevision(tx);
    const meanwhile = await tx.one(
      z.object({ n: Count }),
      'SELECT COUNT(*) AS n FROM access_line WHERE source_id = ? AND ((came > ? AND came < ?) OR (went > ? AND went < ?))',
      [id, begunAt, revision, begunAt, revision],
    );
    if ((meanwhile?.n ?? 0) > 0) return undefined;
    const now = ctx.now();
    const went = await rowsById(tx, endedIds);
    await endRows(tx, now, revision, endedIds);
    await insertRows(tx, now, id, revision, came);
    if (!isFirst) {
      const names = await principalNames(tx);
      const person = (of: string) => names.get(of) ?? of;
      const events = eventsOf({ came: came.map((c) => c.row), went }, { person });
      await insertEvents(tx, now, events, {
        ...{ source: id, change: null, initiator: '', person },
        place: placesBy([...went, ...rows.map((r) => r.row)]),
      });
    }
    await writeUses(tx, source, told.uses);
    await settleOrders(tx, now, source);
    await tx.run(
      'UPDATE access_source SET read_at = ?, tried_at = ?, problem = NULL, faults = ?, known_since = COALESCE(known_since, ?) WHERE id = ?',
      [
        ...[toDatetime(now), toDatetime(now), JSON.stringify(told.faults.slice(0, MOST_FAULTS))],
        ...[toDatetime(now), id],
      ],
    );
    await takeOffToday(tx, 'access not read', String(id));
    const outcome = { came: came.length, went: endedIds.length, faults: told.faults.length };
    await record(tx, now, {
      ...{ actor: 'worker', action: 'access-source.read', object: 'access source', objectId: id },
      detail: outcome,
    });
    if (outcome.came + outcome.went > 0)
      await record(tx, now, {
        ...{ actor: 'worker', action: 'estate.change', object: 'estate', objectId: 1 },
        detail: { revision },
      });
    return outcome;
  });
}

function isSaidSame(one: AccessSource, other: AccessSource): boolean {
  const said = ({ content, address, secret }: AccessSource) => JSON.stringify([content, address, secret]);
  return said(one) === said(other);
}

async function rowsById(tx: Queries, ids: readonly string[]): Promise<readonly EstateRow[]> {
  const rows: EstateRow[] = [];
  for (let at = 0; at < ids.length; at += 1000)
    for (const { content } of await tx.all(
      z.object({ id: BigId, content: z.string() }),
      'SELECT id, content FROM access_line WHERE id IN (?)',
      [ids.slice(at, at + 1000)],
    ))
      rows.push(JSON.parse(content) as EstateRow);
  return rows;
}

async function linesOf(ctx: Context, source: AccessSource, signal: AbortSignal): Promise<Told> {
  const told = new ToldLines();
  const reader = await openReader(ctx, source);
  try {
    for await (const one of reader.lines(signal)) told.add(one);
  } finally {
    await reader.close();
  }
  return told;
}
