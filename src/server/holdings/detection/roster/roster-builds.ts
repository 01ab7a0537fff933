import { randomBytes } from 'node:crypto';
import { deserialize, serialize } from 'node:v8';
import { z } from 'zod';
import type { Json } from '../../../../core/rules/change.ts';
import type { RosterDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { Roster, RosterRules } from '../../../../core/holdings/detection/roster/roster.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { addJob } from '../../../jobs/job.ts';
import { FinalError, type JobKind } from '../../../jobs/runner.ts';
import * as rules from '../../../rules/rule-store.ts';
import { openText, sealText } from '../../../secret.ts';
import { Bytes, Count, Instant, JsonColumn, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { dropUpload, readUpload } from '../../../files/uploads.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import { DETECTOR } from '../detectors/own-detectors.ts';
import { columnsDigest } from './roster-columns.ts';
import type { BuiltRoster, RosterCoverage } from './roster-table.ts';

const PART = 4_000_000;
const BUILD_MS = 600_000;
/** Builds of the same columns that are kept. */
const KEPT = 2;

export interface ListedBuild {
  readonly number: number;
  readonly coverage: RosterCoverage;
  readonly source: string;
  readonly builtAt: string;
  readonly builtBy: string | null;
  /** Whether it was built with the columns that the draft names. */
  readonly fits: boolean;
}

const Coverage = JsonColumn(z.custom<RosterCoverage>((v) => typeof v === 'object' && v !== null));

/** Newest first. */
export async function listBuilds(store: Queries, of: RosterDetector): Promise<readonly ListedBuild[]> {
  const rows = await store.all(
    z.object({
      number: z.number(),
      columns_digest: Bytes,
      coverage: Coverage,
      source: z.string(),
      built_at: Instant,
      built_by: z.string().nullable(),
    }),
    'SELECT b.number, b.columns_digest, b.coverage, b.source, b.built_at, a.name AS built_by FROM roster_build b LEFT JOIN account a ON a.id = b.built_by WHERE b.detector_id = ? ORDER BY b.number DESC LIMIT 20',
    [of.id],
  );
  const digest = columnsDigest(of);
  return rows.map((r) => ({
    number: r.number,
    coverage: r.coverage,
    source: r.source,
    builtAt: r.built_at,
    builtBy: r.built_by,
    fits: r.columns_digest.equals(digest),
  }));
}

const Payload = z.object({ detector: z.string(), upload: z.number(), account: z.number() });

/** Queues the building of a roster from a file that was sent, with the columns of its draft. */
export async function queueBuild(
  ctx: Context,
  accountId: number,
  id: string,
  upload: number,
): Promise<{ job: string }> {
  const { content } = await rules.readRule(ctx.store, DETECTOR, id);
  if (content.kind !== 'roster' || content.keys.length === 0)
    throw new RefusedError('Choose the columns first.', [
      { field: 'keys', message: 'At least one column that names a record.' },
    ]);
  const job = await ctx.store.transaction((tx) =>
    addJob(tx, ctx.now(), {
      kind: 'build-roster',
      title: `Building ${content.name}`,
      about: { object: 'detector', id },
      payload: { detector: id, upload, account: accountId },
      createdBy: accountId,
      link: `/holdings/detectors/${id}`,
    }),
  );
  return { job };
}

export const buildRosterJob: JobKind = {
  kind: 'build-roster',
  lane: 'long',
  see: 'holdings.read',
  start: 'holdings.edit',
  work: async (ctx, run): Promise<Json> => {
    const { detector: id, upload, account } = Payload.parse(run.job.payload);
    const { content } = await rules.readRule(ctx.store, DETECTOR, id);
    if (content.kind !== 'roster') throw new FinalError('This detector is no roster any more.');
    const { name, bytes } = await readUpload(ctx, account, upload).catch((error: Error) => {
      throw new FinalError(error.message);
    });
    const key = randomBytes(16);
    const began = Date.now();
    const built = await detectorPool()
      .run(
        {
          what: 'roster',
          bytes,
          file: name,
          input: { id, name: content.name, version: 1, keys: content.keys, beside: content.beside },
          key,
        },
        BUILD_MS,
        (share) =>
          run.progress({
            words: 'Reading the table',
            share,
            secondsLeft: Math.round((((Date.now() - began) / 1000) * (1 - share)) / Math.max(0.05, share)),
          }),
      )
      .catch((error: Error) => {
        throw new FinalError(error.message);
      });
    if (run.signal.aborted) return { cancelled: true };
    const number = await ctx.store.transaction((tx) =>
      storeBuild(tx, ctx, account, content, built, key, name),
    );
    return { number };
  },
  ended: (tx, _ctx, job) => dropUpload(tx, Payload.parse(job.payload).upload),
};

/** Stores a build whole, and only then lets older ones go: there is no moment without one. */
export async function storeBuild(
  tx: Queries,
  ctx: Context,
  accountId: number,
  of: RosterDetector,
  { roster, coverage }: BuiltRoster,
  key: Uint8Array,
  source: string,
  at = ctx.now(),
): Promise<number> {
  const last = await tx.one(
    z.object({ n: Count }),
    'SELECT MAX(number) AS n FROM roster_build WHERE detector_id = ? FOR UPDATE',
    [of.id],
  );
  const number = (last?.n ?? 0) + 1;
  const digest = columnsDigest(of);
  await tx.run(
    'INSERT INTO roster_build (detector_id, number, columns_digest, hash_key, coverage, source, built_by, built_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
    [
      of.id,
      number,
      digest,
      sealText(ctx.settings.SECRET_KEY, Buffer.from(key).toString('hex')),
      JSON.stringify(coverage),
      source,
      accountId,
      toDatetime(at),
    ],
  );
  const body = serialize(roster);
  for (let part = 0; part * PART < body.length; part++)
    await tx.run('INSERT INTO roster_part (detector_id, number, part, body) VALUES (?, ?, ?, ?)', [
      of.id,
      number,
      part,
      body.subarray(part * PART, (part + 1) * PART),
    ]);
  const older = await tx.all(
    z.object({ number: z.number() }),
    'SELECT number FROM roster_build WHERE detector_id = ? AND columns_digest = ? ORDER BY number DESC LIMIT 100 OFFSET ?',
    [of.id, digest, KEPT],
  );
  for (const o of older)
    await tx.run('DELETE FROM roster_build WHERE detector_id = ? AND number = ?', [of.id, o.number]);
  await record(tx, at, {
    actor: accountId,
    action: 'detector.build',
    object: 'detector',
    objectId: of.id,
    detail: { number, rows: coverage.rows, usable: coverage.usable },
  });
  return number;
}

export interface UsableRoster {
  readonly roster: Roster;
  readonly rules: RosterRules;
  readonly key: Uint8Array;
}

const loaded = new Map<string, UsableRoster>();
const MOST_LOADED = 4;

/** The newest build of a roster’s columns, ready for use; `undefined` where there is none. */
export async function usableRoster(
  ctx: Context,
  of: RosterDetector,
  version: number,
): Promise<UsableRoster | undefined> {
  const build = await ctx.store.one(
    z.object({ number: z.number(), hash_key: z.string() }),
    'SELECT number, hash_key FROM roster_build WHERE detector_id = ? AND columns_digest = ? ORDER BY number DESC LIMIT 1',
    [of.id, columnsDigest(of)],
  );
  if (!build) return undefined;
  const name = `${of.id} ${build.number} ${build.hash_key}`;
  let known = loaded.get(name);
  if (!known) {
    const parts = await ctx.store.all(
      z.object({ body: Bytes }),
      'SELECT body FROM roster_part WHERE detector_id = ? AND number = ? ORDER BY part',
      [of.id, build.number],
    );
    known = {
      roster: deserialize(Buffer.concat(parts.map((p) => p.body))) as Roster,
      rules: { corroboration: 0, within: 0, keepFrom: 0 },
      key: Buffer.from(openText(ctx.settings.SECRET_KEY, build.hash_key), 'hex'),
    };
    if (loaded.size >= MOST_LOADED) loaded.delete(loaded.keys().next().value as string);
    loaded.set(name, known);
  }
  return {
    ...known,
    roster: { ...known.roster, version },
    rules: { corroboration: of.corroboration, within: of.within, keepFrom: of.keepFrom },
  };
}
