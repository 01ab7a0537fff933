import type { JobKind } from '../../../jobs/runner.ts';
import { openRequestOf } from '../open-request.ts';
import { z } from 'zod';
import { withoutPerson } from '../../../../core/cases/requests/erasure/without-person.ts';
import { recognise } from '../../../../core/cases/requests/person/recognise.ts';
import type { Subject } from '../../../../core/cases/requests/person/subject.ts';
import { requestNumber } from '../../../../core/cases/requests/request.ts';
import type { Json } from '../../../../core/rules/change.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import {
  connectSource,
  decodeText,
  encodeText,
  fetchWhole,
  findItem,
  findSource,
  ItemError,
  personKeys,
  replaceWhole,
  SourceError,
  touchBlocks,
} from '../../../holdings/offers.ts';
import { addJob } from '../../../jobs/job.ts';

import { forgetFindings, guardItems, keepersOf } from '../../../retention/offers.ts';
import { BigId, Bytes, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { erasePersonRecords } from '../../../websites/offers.ts';
import { showRequest } from '../request-facts.ts';
import { addStep, findRequest, knownSubject } from '../request-row.ts';
import { readDocument } from '../search/look-through.ts';
import { ORIGINS } from '../search/keep-item.ts';
import { wantedOf } from '../search/wanted.ts';
import { planChanges } from './plan-changes.ts';

const Payload = z.object({ request: z.number(), account: z.number() });

/**
 * Agrees to what goes of somebody who asked to have it deleted, and has it carried out. Throws a RefusedError (409) while it
 * is not known who asks, or whose something is.
 */
export async function agreeToChanges(tx: Queries, ctx: Context, id: number, account: number): Promise<void> {
  const row = await findRequest(tx, id, true);
  if (row.outcome !== null || row.content === null) throw new RefusedError('It is closed.', [], 409);
  if (row.kind !== 'delete' && row.kind !== 'correct')
    throw new RefusedError('Nothing is changed by it.', [], 409);
  if (row.known_by === null) throw new RefusedError('It is not known yet who asks.', [], 409);
  if (row.search !== 'done') throw new RefusedError('Look for what is held first.', [], 409);
  const asked = await tx.one(
    z.object({ n: z.coerce.number() }),
    "SELECT COUNT(*) AS n FROM request_item WHERE request_id = ? AND theirs = 'ask' AND state <> 'unreadable'",
    [id],
  );
  if ((asked?.n ?? 0) > 0)
    throw new RefusedError(
      `Nobody said yet whose ${asked?.n === 1 ? '1 item is' : `${asked?.n} items are`}.`,
      [],
      409,
    );
  await planChanges(tx, ctx, id);
  const { changed } = await tx.run(
    "UPDATE request_item SET change_state = 'waiting' WHERE request_id = ? AND theirs = 'yes' AND fate IN ('removed', 'taken out') AND (change_state IS NULL OR change_state = 'failed')",
    [id],
  );
  await tx.run('UPDATE subject_request SET agreed_at = COALESCE(agreed_at, ?) WHERE id = ?', [
    toDatetime(ctx.now()),
    id,
  ]);
  await addStep(tx, ctx.now(), id, 'agreed', account, `${changed} to be carried out`);
  await record(tx, ctx.now(), {
    ...{ actor: account, action: 'request.agree', object: 'request', objectId: id },
    detail: { items: changed },
  });
  if (changed > 0)
    await addJob(tx, ctx.now(), {
      ...{ kind: 'carry-out-request', title: `Carrying out ${requestNumber(id)}` },
      about: { object: 'request', id },
      payload: { request: id, account },
      ...{ createdBy: account, link: `/cases/requests/${id}` },
    });
  await showRequest(tx, ctx, id);
}

const Waiting = z.object({
  id: BigId,
  origin: z.enum(ORIGINS),
  item_id: BigId.transform(Number).nullable(),
  source_id: z.number().nullable(),
  path: z.string(),
  fate: z.string(),
  hash: Bytes.nullable(),
});
type Waiting = z.infer<typeof Waiting>;

interface Became {
  readonly state: 'done' | 'failed' | 'kept' | 'by hand';
  readonly why: string;
  readonly article?: string;
}

/**
 * Deletes what was agreed to, item by item: each is looked at once more at the moment it goes, whether it is what was looked
 * at and whether nothing keeps it by now; afterwards it is looked for again. Whom it was is remembered as keyed hashes alone.
 */
export const carryOutJob: JobKind = {
  kind: 'carry-out-request',
  lane: 'long',
  see: 'cases.read',
  start: 'cases.carry-out',
  work: async (ctx, run): Promise<Json> => {
    const { request: id, account } = Payload.parse(run.job.payload);
    const { row, request } = await openRequestOf(ctx, id);
    const subject = knownSubject(ctx, row, request);
    const waiting = await ctx.store.all(
      Waiting,
      "SELECT id, origin, item_id, source_id, path, fate, hash FROM request_item WHERE request_id = ? AND change_state = 'waiting' ORDER BY source_id, id",
      [id],
    );
    let done = 0;
    for (const [i, w] of waiting.entries()) {
      if (run.signal.aborted) return { done };
      run.progress({ words: 'Deleting', share: i / waiting.length, secondsLeft: null });
      const became = await carryOutOne(ctx, account, subject, w, requestNumber(id));
      if (became.state === 'done') done++;
      await ctx.store.run(
        "UPDATE request_item SET change_state = ?, fate = IF(? = 'kept', 'kept', fate), fate_why = ?, fate_article = COALESCE(?, fate_article), reading = IF(? = 'done', NULL, reading) WHERE id = ? AND change_state = 'waiting'",
        [became.state, became.state, became.why.slice(0, 500), became.article ?? null, became.state, w.id],
      );
    }
    await ctx.store.transaction(async (tx) => {
      if (done > 0) await rememberForgotten(tx, ctx, id, subject);
      await addStep(tx, ctx.now(), id, 'carried out', account, `${done} of ${waiting.length}`);
      await record(tx, ctx.now(), {
        ...{ actor: account, action: 'request.carry-out', object: 'request', objectId: id },
        detail: { done, of: waiting.length },
      });
      await showRequest(tx, ctx, id);
    });
    return { done };
  },
};

/** Keyed hashes of what they were known by. */
async function rememberForgotten(tx: Queries, ctx: Context, id: number, subject: Subject): Promise<void> {
  const keys = personKeys(ctx, wantedOf(subject));
  if (keys.length > 0)
    await tx.run(
      'INSERT INTO forgotten_person (person, request_id, since) VALUES ? ON DUPLICATE KEY UPDATE since = VALUES(since), request_id = VALUES(request_id)',
      [keys.map((k) => [k, id, toDatetime(ctx.now())])],
    );
}

async function carryOutOne(
  ctx: Context,
  account: number,
  subject: Subject,
  w: Waiting,
  because: string,
): Promise<Became> {
  if (w.origin === 'preferences' || w.origin === 'choices') {
    await erasePersonRecords(ctx, account, { origin: w.origin, key: w.path }, because);
    return { state: 'done', why: '' };
  }
  if (w.item_id === null || w.source_id === null)
    return { state: 'by hand', why: 'it is no item that can be deleted from here' };
  try {
    const item = await findItem(ctx.store, w.item_id);
    const connector = await connectSource(ctx, await findSource(ctx.store, w.source_id));
    try {
      const fetched = await fetchWhole(connector, item);
      if (!w.hash || !fetched.hash.equals(w.hash))
        return { state: 'failed', why: 'it was changed since it was looked at: look for what is held again' };
      const made = w.fate === 'taken out' ? await textWithout(ctx, subject, fetched) : undefined;
      if (typeof made === 'string') return { state: 'by hand', why: made };
      return await ctx.store.transaction(async (tx): Promise<Became> => {
        // Whoever places a hold now waits, or was first.
        await guardItems(tx, 'let go');
        const [keeper] = (await keepersOf(ctx, [Number(item.id)], tx)).get(Number(item.id)) ?? [];
        if (keeper)
          return {
            ...{ state: 'kept', why: `${keeper.name}, since a moment ago` },
            article: keeper.is === 'hold' ? 'Art. 17(3)(e)' : 'Art. 17(3)(b)',
          };
        if (made) {
          await replaceWhole(connector, item, fetched, made);
          await forgetFindings(tx, [Number(item.id)]);
        } else {
          if (!connector.remove)
            return { state: 'by hand', why: 'its source lets nothing be deleted from here' };
          await connector.remove(item.path, fetched.listed);
          const [still] = await connector.details(item.path, [item.name]);
          if (still) return { state: 'failed', why: 'it is still there after it was deleted' };
          await forgetFindings(tx, [Number(item.id)]);
          await tx.run("UPDATE item SET state = 'gone' WHERE id = ?", [item.id]);
        }
        await touchBlocks(tx, [Number(item.id)]);
        return { state: 'done', why: '' };
      });
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (error instanceof ItemError && error.message === 'it is gone')
      return { state: 'done', why: 'it was gone already' };
    if (error instanceof ItemError || error instanceof SourceError || error instanceof RefusedError)
      return { state: 'failed', why: error.message };
    throw error;
  }
}

/** The bytes of a text without somebody, read again and found free of them; why not, where that cannot be. */
async function textWithout(
  ctx: Context,
  subject: Subject,
  { bytes, format }: { readonly bytes: Uint8Array; readonly format: string },
): Promise<Buffer | string> {
  const was = decodeText(bytes);
  const document = await readDocument(ctx, { name: format, bytes });
  if (document.text !== was.text) return 'it cannot be written back as it is read';
  const encoded = encodeText(withoutPerson(document, recognise(subject, document)), was);
  if (!encoded) return `its text is in ${was.encoding}, in which it cannot be written back`;
  const again = recognise(subject, await readDocument(ctx, { name: format, bytes: encoded }));
  return again.sure === 'certain' ? 'they are still found in it after they were taken out' : encoded;
}
