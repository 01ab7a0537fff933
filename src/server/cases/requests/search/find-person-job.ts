import { withSource } from './with-source.ts';
import type { JobKind } from '../../../jobs/runner.ts';
import { openRequestOf } from '../open-request.ts';
import { isMailKind } from './mail-search.ts';
import { z } from 'zod';
import { searches } from '../../../../core/cases/requests/progress.ts';
import {
  isTellingKey,
  withLearned,
  type LearnedValue,
} from '../../../../core/cases/requests/person/learned.ts';
import type { Subject } from '../../../../core/cases/requests/person/subject.ts';
import { requestNumber } from '../../../../core/cases/requests/request.ts';
import type { Json } from '../../../../core/rules/change.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import {
  fetchWhole,
  findItem,
  findSource,
  ItemError,
  itemsOfPerson,
  SourceError,
  sourceNames,
  type Source,
  type Connector,
  type ItemDetail,
} from '../../../holdings/offers.ts';
import { addJob } from '../../../jobs/job.ts';

import { RefusedError } from '../../../../core/refusal.ts';
import { BigId, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { recordsOfPerson } from '../../../websites/offers.ts';
import { showRequest } from '../request-facts.ts';
import { addStep, findRequest, sealJson } from '../request-row.ts';
import { routeTasks } from '../tasks/route-tasks.ts';
import { planChanges } from '../changes/plan-changes.ts';
import { itemKey, keepItem, type FoundItem } from './keep-item.ts';
import { linkedRows, tableText, type FoundTable } from './linked-rows.ts';
import { lookThrough } from './look-through.ts';
import { mailWords, messagesWith, type FoundMessage } from './mail-search.ts';
import { wantedOf } from './wanted.ts';

const Payload = z.object({ request: z.number(), account: z.number().nullable() });

/** Queues the search for whom a request is about. Throws a RefusedError (409). */
export async function queueSearch(
  tx: Queries,
  ctx: Context,
  id: number,
  account: number | null,
): Promise<void> {
  const row = await findRequest(tx, id, true);
  if (row.outcome !== null || row.content === null) throw new RefusedError('It is closed.', [], 409);
  if (!searches(row.kind)) throw new RefusedError('Nothing has to be found for it.', [], 409);
  if (row.search === 'running') throw new RefusedError('It is being looked for already.', [], 409);
  await tx.run("UPDATE subject_request SET search = 'running' WHERE id = ?", [id]);
  await addStep(tx, ctx.now(), id, 'search', account);
  await addJob(tx, ctx.now(), {
    ...{ kind: 'find-person', title: `Looking for whom ${requestNumber(id)} is about` },
    about: { object: 'request', id },
    payload: { request: id, account },
    ...{ createdBy: account, link: `/cases/requests/${id}` },
  });
  await showRequest(tx, ctx, id);
}

/**
 * Looks for whom a request is about: by keyed hashes over all that was surveyed, reading what they cannot tell; then what
 * databases tie to their rows, and what this program keeps itself. What their own rows tell of them, such as a booking number,
 * is learned first, and looked for as well.
 */
export const findPersonJob: JobKind = {
  kind: 'find-person',
  lane: 'long',
  see: 'cases.read',
  start: 'cases.handle',
  work: async (ctx, run): Promise<Json> => {
    const { request: id, account } = Payload.parse(run.job.payload);
    const { request } = await openRequestOf(ctx, id);
    const learned = await learnOf(ctx, request.subject, run.signal);
    const subject = withLearned(request.subject, learned);
    const candidates = await itemsOfPerson(ctx, wantedOf(subject));
    const bySource = new Map(await itemsBySource(ctx, candidates));
    for (const s of await sourceNames(ctx.store))
      if (isMailKind(s.kind) && !bySource.has(Number(s.id))) bySource.set(Number(s.id), []);
    const seen = new Set<string>();
    const keep = async (found: FoundItem) => {
      seen.add(found.key);
      await keepItem(ctx, id, found);
    };
    const all = candidates.length;
    let read = 0;
    const begun = Date.now();
    for (const [source, items] of bySource) {
      if (run.signal.aborted) return { cancelled: true };
      const of = await findSource(ctx.store, source);
      const base = { source, system: of.content.system };
      const problem = await withSource(ctx, of, async (connector) => {
        const tables: FoundTable[] = [];
        const known = new Set(items.map((i) => `${i.path}\n${i.name}`));
        for (const m of isMailbox(of) ? await messagesWith(connector, mailWords(subject), run.signal) : []) {
          if (known.has(`${m.place}\n${m.name}`)) continue;
          const found = await readMessage(ctx, connector, subject, source, m);
          if (found) await keep({ ...found, ...base });
        }
        for (const item of items) {
          if (run.signal.aborted) return;
          const found = await readItem(ctx, connector, subject, item);
          read++;
          run.progress({
            words: `Reading ${of.name}`,
            share: all === 0 ? null : read / all,
            secondsLeft: read < 5 ? null : Math.round((((Date.now() - begun) / 1000) * (all - read)) / read),
          });
          if (!found) continue;
          await keep({ ...found, ...base });
          if (found.looked?.sure === 'certain') tables.push({ place: item.path, text: found.looked });
        }
        for (const linked of await linkedRows(connector, tables))
          await keep({
            ...{ ...base, origin: 'linked rows', key: `linked ${source} ${linked.table}`, item: null },
            ...{ path: linked.table, name: linked.table, title: linked.words, changed: null },
            ...tableText(linked, subject),
          });
      });
      // What was there cannot be looked through now: somebody has to see that.
      if (problem !== undefined)
        await keep({
          ...{
            ...base,
            origin: 'item',
            key: `source ${source}`,
            item: null,
            path: '',
            name: of.name,
            title: '',
          },
          ...{ changed: null, looked: undefined, hash: null, problem },
        });
    }
    for (const own of await recordsOfPerson(ctx, subject))
      await keep({
        ...{ origin: own.origin, key: `${own.origin} ${own.key}`, source: null, system: null, item: null },
        ...{ path: own.key, name: own.title, title: '', changed: null },
        ...tableText({ columns: own.columns, rows: own.rows, by: own.by }, subject),
      });
    if (run.signal.aborted) return { cancelled: true };
    const counts = await ctx.store.transaction(async (tx) => {
      const closed = (await findRequest(tx, id, true)).outcome !== null;
      await dropGone(tx, id, seen);
      const now = ctx.now();
      await tx.run("UPDATE subject_request SET search = 'done', searched_at = ?, learned = ? WHERE id = ?", [
        ...[toDatetime(now), sealJson(ctx, learned), id],
      ]);
      const found = await tx.one(
        z.object({ items: z.coerce.number(), systems: z.coerce.number() }),
        "SELECT COUNT(*) AS items, COUNT(DISTINCT system_id) AS systems FROM request_item WHERE request_id = ? AND theirs <> 'no'",
        [id],
      );
      await addStep(
        tx,
        now,
        id,
        'found',
        account,
        `${found?.items ?? 0} items in ${found?.systems ?? 0} systems`,
      );
      // Nobody has to do anything more for one that was closed meanwhile.
      if (!closed) {
        await planChanges(tx, ctx, id);
        await routeTasks(tx, ctx, id);
      }
      await record(tx, now, {
        ...{ actor: account ?? 'system', action: 'request.find', object: 'request', objectId: id },
        detail: { items: found?.items ?? 0, systems: found?.systems ?? 0, read },
      });
      await showRequest(tx, ctx, id);
      return found;
    });
    return { items: counts?.items ?? 0, read };
  },
  ended: async (tx, ctx, job, end) => {
    if (end.how === 'done') return;
    const { request: id } = Payload.parse(job.payload);
    await tx.run("UPDATE subject_request SET search = ? WHERE id = ? AND search = 'running'", [
      end.how === 'cancelled' ? 'never' : 'failed',
      id,
    ]);
    await showRequest(tx, ctx, id);
  },
};

/** What is found no more is not part of the case, unless somebody decided about it. */
async function dropGone(tx: Queries, request: number, seen: ReadonlySet<string>): Promise<void> {
  const keys = [...seen].map(itemKey);
  await tx.run(
    `DELETE FROM request_item WHERE request_id = ? AND looked_by IS NULL AND change_state IS NULL${keys.length > 0 ? ' AND item_key NOT IN (?)' : ''}`,
    [request, ...(keys.length > 0 ? [keys] : [])],
  );
}

const isMailbox = ({ address }: Source) => isMailKind(address.kind);

/** A message that the mailbox itself told of, and Holdings may not know yet. */
async function readMessage(
  ctx: Context,
  connector: Connector,
  subject: Subject,
  source: number,
  { place, name }: FoundMessage,
): Promise<Omit<FoundItem, 'source' | 'system'> | undefined> {
  const row = await ctx.store.one(
    z.object({ id: BigId.transform(Number) }),
    "SELECT i.id FROM item i JOIN place p ON p.id = i.place_id WHERE i.source_id = ? AND p.path = ? AND i.name = ? AND i.state <> 'gone'",
    [source, place, name],
  );
  if (row) return readItem(ctx, connector, subject, await findItem(ctx.store, row.id));
  const base = {
    origin: 'item' as const,
    key: `mail ${source} ${place} ${name}`,
    item: null,
    path: place,
    name,
  };
  try {
    const { listed, bytes, hash, format } = await fetchWhole(connector, { path: place, name });
    const looked = await lookThrough(ctx, subject, { name: format, bytes });
    return (
      looked && { ...base, title: listed.title ?? '', changed: listed.changed, looked, hash, problem: '' }
    );
  } catch (error) {
    if (error instanceof SourceError) throw error;
    return {
      ...base,
      title: '',
      changed: null,
      looked: undefined,
      hash: null,
      problem: (error as Error).message,
    };
  }
}

/** More need not be read to learn by what else somebody is known. */
const MOST_TO_LEARN = 200;

/** What rows that are surely theirs tell of them: in items that hold one of their values, and in rows tied to those. */
async function learnOf(
  ctx: Context,
  subject: Subject,
  signal: AbortSignal,
): Promise<readonly LearnedValue[]> {
  const learned: LearnedValue[] = [];
  const candidates = (await itemsOfPerson(ctx, wantedOf(subject))).filter((c) => c.because === 'a value');
  for (const [source, items] of await itemsBySource(ctx, candidates.slice(0, MOST_TO_LEARN)))
    await withSource(ctx, await findSource(ctx.store, source), async (connector) => {
      const tables: FoundTable[] = [];
      for (const item of items) {
        if (signal.aborted) return;
        const found = await readItem(ctx, connector, subject, item);
        if (found?.looked?.sure !== 'certain') continue;
        learned.push(...found.looked.learned);
        tables.push({ place: item.path, text: found.looked });
      }
      for (const { columns, rows, key } of await linkedRows(connector, tables))
        for (const r of rows.slice(0, 20))
          for (const [i, value] of r.entries())
            if (key.includes(columns[i] ?? '') && isTellingKey(value))
              learned.push({ trait: 'number', value });
    });
  return learned;
}

/** Items by the source they lie in. */
async function itemsBySource(
  ctx: Context,
  candidates: readonly { readonly id: number }[],
): Promise<ReadonlyMap<number, readonly ItemDetail[]>> {
  const bySource = new Map<number, ItemDetail[]>();
  for (const c of candidates) {
    const item = await findItem(ctx.store, c.id).catch(() => undefined);
    if (!item) continue;
    const known = bySource.get(item.source_id);
    if (known) known.push(item);
    else bySource.set(item.source_id, [item]);
  }
  return bySource;
}

async function readItem(
  ctx: Context,
  connector: Connector,
  subject: Subject,
  item: ItemDetail,
): Promise<Omit<FoundItem, 'source' | 'system'> | undefined> {
  const base = {
    ...{ origin: 'item' as const, key: `item ${item.id}`, item: Number(item.id), path: item.path },
    ...{ name: item.name, title: item.title ?? '', changed: item.changed_at },
  };
  try {
    const { bytes, hash, format } = await fetchWhole(connector, item);
    const looked = await lookThrough(ctx, subject, { name: format, bytes });
    return looked && { ...base, looked, hash, problem: '' };
  } catch (error) {
    if (error instanceof ItemError && error.message === 'it is gone') return undefined;
    if (error instanceof SourceError) throw error;
    return { ...base, looked: undefined, hash: null, problem: (error as Error).message };
  }
}
