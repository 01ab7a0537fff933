import { createHash, createHmac } from 'node:crypto';
import { z } from 'zod';
import { builtInDetectors } from '../../../core/holdings/detection/library/library.ts';
import { onlyNarrows } from '../../../core/holdings/surveys/narrowing.ts';
import type { ReadWith } from '../../../core/holdings/surveys/reading.ts';
import type { Context } from '../../context.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { detectorSetting } from '../detection/detectors/detector-setting.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { DETECTOR, usedDetectors, type UsedDetector } from '../detection/detectors/own-detectors.ts';
import type { DetectSetting } from '../detection/threads/detection-thread.ts';

/** What items are read with. */
export interface ReadingSetting {
  readonly id: number;
  /** In the order of their ids. */
  readonly detectors: readonly ReadWith[];
  readonly force: DetectSetting;
  readonly rehearsed: DetectSetting | undefined;
}

const ReadWithList = z.array(z.tuple([z.string(), z.number(), z.boolean()]));

type Used = Pick<UsedDetector, 'detector' | 'version'> & { readonly rehearsed: boolean };

/** Those in force and those rehearsed; of `only`, where it names any. */
export async function detectorsInUse(store: Queries, only: readonly string[] = []): Promise<readonly Used[]> {
  const own = await usedDetectors(store);
  const ids = new Set(own.map((u) => u.detector.id));
  const shipped = builtInDetectors()
    .filter((d) => !ids.has(d.id))
    .map((detector) => ({ detector, version: detector.version, rehearsed: false }));
  return [...shipped, ...own]
    .filter((u) => only.length === 0 || only.includes(u.detector.id))
    .toSorted((a, b) =>
      a.detector.id < b.detector.id ? -1 : a.detector.id > b.detector.id ? 1 : a.version - b.version,
    );
}

/** What it is read with now, kept so that items can say what they were read with. */
export async function readingSetting(ctx: Context, only: readonly string[] = []): Promise<ReadingSetting> {
  const used = await detectorsInUse(ctx.store, only);
  const detectors = used.map((u): ReadWith => ({
    id: u.detector.id,
    version: u.version,
    rehearsed: u.rehearsed,
  }));
  const rehearsed = used.filter((u) => u.rehearsed);
  const key = valueKey(ctx);
  const force = await detectorSetting(
    ctx,
    used.filter((u) => !u.rehearsed),
  );
  return {
    id: await keepReading(ctx, detectors),
    detectors,
    force: { ...force, key },
    rehearsed: rehearsed.length > 0 ? { ...(await detectorSetting(ctx, rehearsed)), key } : undefined,
  };
}

/** Key of the hashes of found values; the same for all readings, so that they can be compared. */
export function valueKey(ctx: Pick<Context, 'settings'>): string {
  return createHmac('sha256', Buffer.from(ctx.settings.SECRET_KEY, 'hex'))
    .update('found values')
    .digest('hex');
}

/** The id of a list of detectors that items were read with. */
export async function keepReading(ctx: Context, detectors: readonly ReadWith[]): Promise<number> {
  const list = JSON.stringify(detectors.map((d) => [d.id, d.version, d.rehearsed]));
  const digest = createHash('sha256').update(list).digest();
  const find = () =>
    ctx.store.one(z.object({ id: z.number() }), 'SELECT id FROM reading WHERE digest = ?', [digest]);
  const known = await find();
  if (known) return known.id;
  await ctx.store.run('INSERT IGNORE INTO reading (digest, detectors, created_at) VALUES (?, ?, ?)', [
    digest,
    list,
    toDatetime(ctx.now()),
  ]);
  return (await find())?.id ?? 0;
}

/** What the latest readings were made with, by id; what was read with an older one is read anew. */
export async function latestReadings(store: Queries): Promise<ReadonlyMap<number, readonly ReadWith[]>> {
  const rows = await store.all(
    z.object({ id: z.number(), detectors: JsonColumn(ReadWithList) }),
    'SELECT id, detectors FROM reading ORDER BY id DESC LIMIT 200',
  );
  return new Map(
    rows.map((r) => [r.id, r.detectors.map(([id, version, rehearsed]) => ({ id, version, rehearsed }))]),
  );
}

/**
 * Versions of own detectors that items were read with, as `id version`, of which the one in force finds nothing more: what
 * it did not find anything in need not be read again.
 */
export async function narrowedVersions(
  store: Queries,
  detectors: readonly ReadWith[],
  readings: ReadonlyMap<number, readonly ReadWith[]>,
): Promise<ReadonlySet<string>> {
  const own = await usedDetectors(store);
  const inForce = detectors.filter((d) => !d.rehearsed);
  const narrowed = new Set<string>();
  for (const { detector, version, rehearsed } of own) {
    if (rehearsed || !inForce.some((d) => d.id === detector.id && d.version === version)) continue;
    const before = new Set(
      [...readings.values()].flatMap((r) =>
        r.flatMap((d) => (d.id === detector.id && !d.rehearsed && d.version < version ? [d.version] : [])),
      ),
    );
    for (const v of before) {
      const was = await readRuleVersion(store, DETECTOR, detector.id, v).catch(() => undefined);
      if (was && onlyNarrows(was, detector)) narrowed.add(`${detector.id} ${v}`);
    }
  }
  return narrowed;
}
