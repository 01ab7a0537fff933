import { z } from 'zod';
import type { Context } from '../../context.ts';
import { addJob, openJobAbout } from '../../jobs/job.ts';
import type { Json } from '../../../core/rules/change.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { JobKind } from '../../jobs/runner.ts';
import type { Queries } from '../../store/pool.ts';
import { ReaderError } from '../readers/reader.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { allAccessSources, findAccessSource } from './access-sources.ts';
import { readAccessSource } from './read-source.ts';

const Payload = z.object({ source: z.number() });

/** Reads one source of rights, or of people and groups. */
export const ACCESS_READING: JobKind = {
  kind: 'access-reading',
  lane: 'quick',
  see: 'access.read',
  start: 'access.sources',
  async work(ctx, { job, signal }): Promise<Json> {
    const { source } = Payload.parse(job.payload);
    try {
      return { ...(await readAccessSource(ctx, source, signal)) };
    } catch (error) {
      // Today tells of it already, and it is read again at its time; one that was taken out meanwhile is not.
      if (error instanceof ReaderError) return { problem: error.message };
      if (error instanceof RefusedError && error.status === 404) return { problem: 'It was taken out.' };
      throw error;
    }
  },
};

/** Has a source read; one that is being read already is not read twice. */
export async function askForReading(tx: Queries, ctx: Context, id: number, by: number | null): Promise<void> {
  const source = await findAccessSource(tx, id, true);
  const about = { object: 'access source', id };
  if (await openJobAbout(tx, ACCESS_READING.kind, about)) return;
  await addJob(tx, ctx.now(), {
    ...{ kind: ACCESS_READING.kind, title: `Read ${source.name}`, about, payload: { source: id } },
    ...{ createdBy: by, link: '/access/sources', within: WHOLE_ESTATE },
  });
}

const HOUR = 3_600_000;

/** Reads sources by themselves, directories before those that name their people. */
export async function readByThemselves(ctx: Context): Promise<void> {
  const now = ctx.now().getTime();
  for (const source of await allAccessSources(ctx.store)) {
    const every = source.content.everyHours;
    const isDue =
      source.tried_at === null || (every !== null && now - Date.parse(source.tried_at) >= every * HOUR);
    if (isDue) await ctx.store.transaction((tx) => askForReading(tx, ctx, source.id, null));
  }
}
