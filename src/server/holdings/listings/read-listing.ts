import { z } from 'zod';
import { nextTime } from '../../../core/schedule/schedule.ts';
import { ListingContent } from '../../../core/holdings/listings/listing.ts';
import type { Json } from '../../../core/rules/change.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { addJob, openJobsAbout } from '../../jobs/job.ts';
import { FinalError, holdsLease, type JobKind } from '../../jobs/runner.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { SourceError } from '../connectors/connector.ts';
import { readAccount } from './account-listing.ts';
import { keepListing } from './keep-listing.ts';
import { findListing, listingKey } from './listings.ts';

const KIND = 'read-listing';
const Payload = z.object({ listing: z.int(), account: z.int().nullable() });

/** Queues the reading of an account's listing. Throws a RefusedError (409) while one goes on. */
export async function queueReading(ctx: Context, by: number | null, id: number): Promise<{ job: string }> {
  return ctx.store.transaction(async (tx) => {
    const { content, address } = await findListing(tx, id, true);
    if (address.kind === 'table')
      throw new RefusedError('This listing is a table.', [{ field: 'id', message: 'Send it anew.' }]);
    const about = { object: 'listing', id };
    if ((await openJobsAbout(tx, about)).some((j) => j.kind === KIND))
      throw new RefusedError('It is being read already.', [], 409);
    return {
      job: await addJob(tx, ctx.now(), {
        kind: KIND,
        title: `Reading ${content.name}`,
        about,
        payload: { listing: id, account: by },
        createdBy: by,
        link: `/holdings/listings/${id}`,
      }),
    };
  });
}

export const readListingJob: JobKind = {
  kind: KIND,
  lane: 'quick',
  see: 'holdings.read',
  start: 'holdings.sources',
  work: async (ctx, run): Promise<Json> => {
    const { listing: id, account } = Payload.parse(run.job.payload);
    const listing = await findListing(ctx.store, id).catch((error: Error) => {
      throw new FinalError(error.message);
    });
    if (listing.address.kind === 'table') throw new FinalError('This listing is a table.');
    try {
      const read = await readAccount(ctx.settings, listing.address, listingKey(ctx, listing), {
        signal: run.signal,
      });
      return await ctx.store.transaction(async (tx): Promise<Json> => {
        if (!(await holdsLease(tx, run))) return { lost: true };
        const { stores, new: added, changed, gone } = await keepListing(tx, ctx, account, id, read);
        return { stores, new: added, changed, gone };
      });
    } catch (error) {
      if (run.signal.aborted) return { cancelled: true };
      if (!(error instanceof SourceError)) throw error;
      await writeTried(ctx.store, ctx.now(), id, error.message);
      throw new FinalError(error.message);
    }
  },
};

/** What was known stays as it was. */
async function writeTried(store: Queries, now: Date, id: number, words: string): Promise<void> {
  await store.run('UPDATE listing SET health = ? WHERE id = ?', [
    JSON.stringify({ at: now.toISOString(), ok: false, words: words.slice(0, 500) }),
    id,
  ]);
}

/** Asks the accounts that are due by themselves. */
export async function readDueListings(ctx: Context): Promise<void> {
  const now = ctx.now();
  const due = await ctx.store.all(
    z.object({ id: z.number(), content: JsonColumn(ListingContent) }),
    'SELECT id, content FROM listing WHERE next_run <= ? ORDER BY next_run LIMIT 50',
    [toDatetime(now)],
  );
  for (const { id, content } of due) {
    const moved = await ctx.store.run('UPDATE listing SET next_run = ? WHERE id = ? AND next_run <= ?', [
      content.schedule ? toDatetime(nextTime(content.schedule, now)) : null,
      id,
      toDatetime(now),
    ]);
    // Another worker took it.
    if (moved.changed === 0) continue;
    try {
      await queueReading(ctx, null, id);
    } catch (error) {
      // The last one goes on still.
      if (!(error instanceof RefusedError)) throw error;
    }
  }
}
