import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { z } from 'zod';
import type { Json } from '../../src/core/rules/change.ts';
import { FIRST_LIBRARY, TrackerLibrary } from '../../src/core/websites/trackers/known-tracker.ts';
import { WHOLE_SITE } from '../../src/core/websites/sweeps/scope.ts';
import { reportDigest } from '../../src/core/websites/sweeps/sweep-report.ts';
import type { ObservedTracker } from '../../src/core/websites/trackers/tracker.ts';
import { VISITORS, type Visitor } from '../../src/core/websites/trackers/visitor.ts';
import { projectFolder } from '../../src/server/processes/process.ts';
import { toDatetime } from '../../src/server/store/columns.ts';
import type { Queries } from '../../src/server/store/pool.ts';
import { listPurposes } from '../../src/server/websites/notices/purposes.ts';
import { chunks, storeSightings } from '../../src/server/websites/trackers/sightings.ts';
import { sealFindings } from '../../src/server/websites/sweeps/sweep-end.ts';
import { findSweep } from '../../src/server/websites/sweeps/sweeps.ts';
import { DEMO_LIBRARY } from './library.ts';
import type { Demo } from '../demo.ts';
import { line } from '../ledger.ts';

/** A sweep of a stand-in site, recorded from a real one; its port stands as `{port}`, the visitor service as `{visitor}`, the site's key as `{key}`. */
export interface RecordedSweep {
  readonly host: string;
  readonly hoursAgo: number;
  readonly minutes: number;
  readonly region: string;
  readonly pages: readonly string[];
  readonly operated: Readonly<Partial<Record<Visitor, string | null>>>;
  readonly notes: readonly { readonly visitor: Visitor | null; readonly words: string }[];
  readonly trackers: readonly ObservedTracker[];
  readonly matters: string;
}

interface LoadedReport {
  readonly sweep: number;
  readonly body: Buffer;
  readonly digest: string;
}

const RECORDED = 'demo/websites/recorded-sweeps.json';

/** The picture of the start page as a visitor saw it, where one was recorded. */
export function pictureFile(host: string, visitor: Visitor): string {
  return `${projectFolder()}/demo/websites/pictures/${host}-${visitor}.jpg`;
}

function readRecordedSweeps(port: number, visitor: string): readonly RecordedSweep[] {
  const file = `${projectFolder()}/${RECORDED}`;
  if (!existsSync(file)) return [];
  return JSON.parse(
    readFileSync(file, 'utf8').replaceAll('{port}', String(port)).replaceAll('{visitor}', visitor),
  ) as RecordedSweep[];
}

/** Stores the recorded sweeps as if they had run; the decisions on their trackers stay with the officer. */
export async function loadRecordedSweeps(demo: Demo, by: number): Promise<void> {
  const { ctx, tx, now, lines } = demo;
  const { STANDIN_PORT: port, VISITOR_ORIGIN: visitor } = ctx.settings;
  const reports: LoadedReport[] = [];
  const purposes = await listPurposes(tx);
  const library = new TrackerLibrary([...DEMO_LIBRARY, ...FIRST_LIBRARY]);
  for (const sweep of readRecordedSweeps(port, visitor)) {
    const site = await tx.one(
      z.object({ id: z.number(), site_key: z.string() }),
      'SELECT id, site_key FROM site WHERE host = ?',
      [`${sweep.host}:${port}`],
    );
    if (!site) continue;
    const begun = new Date(now.getTime() - sweep.hoursAgo * 3600_000);
    const ended = new Date(begun.getTime() + sweep.minutes * 60_000);
    const { id } = await tx.run(
      "INSERT INTO sweep (site_id, state, visitors, scope, region, operated, pages, trackers, matters, notes, started_by, created_at, started_at, finished_at) VALUES (?, 'complete', ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
      [
        site.id,
        JSON.stringify(VISITORS),
        JSON.stringify(WHOLE_SITE),
        sweep.region,
        JSON.stringify(sweep.operated),
        sweep.pages.length,
        sweep.trackers.length,
        sweep.matters,
        JSON.stringify(sweep.notes),
        by,
        toDatetime(begun),
        toDatetime(begun),
        toDatetime(ended),
      ],
    );
    await tx.run('INSERT INTO sweep_page (sweep_id, visitor, number, url, status) VALUES ?', [
      VISITORS.flatMap((v) => sweep.pages.map((url, i) => [id, v, i, url, 200])),
    ]);
    const trackers = JSON.parse(
      JSON.stringify(sweep.trackers).replaceAll('{key}', site.site_key),
    ) as ObservedTracker[];
    const sighted = trackers.flatMap(({ sightings, ...key }) =>
      sightings.map((sighting) => ({ ...key, sighting })),
    );
    for (const part of chunks(sighted, 300))
      await storeSightings(tx, { id, site_id: site.id }, toDatetime(ended), part);
    await loadPictures(tx, id, sweep.host);
    const report = await sealFindings(tx, await findSweep(tx, id), purposes, library, 'localhost');
    await tx.run('UPDATE sweep SET leaks = ? WHERE id = ?', [report.counts.leaks, id]);
    const digest = reportDigest(report);
    reports.push({ sweep: id, body: await promisify(gzip)(JSON.stringify(report)), digest });
    const start = { site: site.id, maxPages: 250, maxMinutes: 30, region: sweep.region, visitors: VISITORS };
    lines.push(line(begun, by, 'sweep.start', 'sweep', id, start as unknown as Json));
    const end = {
      state: 'complete',
      site: site.id,
      ...report.counts,
      matters: sweep.matters,
      report: digest,
    };
    lines.push(line(ended, 'worker', 'sweep.end', 'sweep', id, end));
  }
  demo.afterwards((places) => storeReports(tx, reports, places));
}

/** Once the ledger has numbered its entries. */
async function storeReports(
  tx: Queries,
  reports: readonly LoadedReport[],
  places: ReadonlyMap<string, number>,
): Promise<void> {
  for (const r of reports)
    await tx.run('INSERT INTO sweep_report (sweep_id, body, digest, ledger_id) VALUES (?, ?, ?, ?)', [
      r.sweep,
      r.body,
      Buffer.from(r.digest, 'hex'),
      places.get(r.digest) as number,
    ]);
}

async function loadPictures(tx: Queries, sweep: number, host: string): Promise<void> {
  for (const visitor of VISITORS) {
    const file = pictureFile(host, visitor);
    if (!existsSync(file)) continue;
    const jpeg = readFileSync(file);
    await tx.run('INSERT INTO sweep_picture (sweep_id, visitor, jpeg, digest) VALUES (?, ?, ?, ?)', [
      sweep,
      visitor,
      jpeg,
      createHash('sha256').update(jpeg).digest(),
    ]);
  }
}
