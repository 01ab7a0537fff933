import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { z } from 'zod';
import type { Json } from '../src/core/change.ts';
import { propose } from '../src/core/websites/proposal.ts';
import { trackerKey, type ObservedTracker } from '../src/core/websites/tracker.ts';
import { VISITORS } from '../src/core/websites/visitor.ts';
import { projectFolder } from '../src/server/process.ts';
import { toDatetime } from '../src/server/store/columns.ts';
import type { Queries } from '../src/server/store/pool.ts';
import { line, type LedgerDraft } from './load.ts';

/** A sweep of a stand-in site, recorded from a real one; its port stands as `{port}`, the visitor service as `{visitor}`, the site's key as `{key}`. */
export interface RecordedSweep {
  readonly host: string;
  readonly hoursAgo: number;
  readonly minutes: number;
  readonly pages: readonly string[];
  readonly trackers: readonly ObservedTracker[];
}

function readRecordedSweeps(port: number, visitor: string): readonly RecordedSweep[] {
  const file = `${projectFolder()}/demo/recorded-sweeps.json`;
  if (!existsSync(file)) return [];
  return JSON.parse(
    readFileSync(file, 'utf8').replaceAll('{port}', String(port)).replaceAll('{visitor}', visitor),
  ) as RecordedSweep[];
}

/** Stores the recorded sweeps as if they had run; the decisions on their trackers stay with the officer. */
export async function loadRecordedSweeps(
  tx: Queries,
  port: number,
  visitor: string,
  now: Date,
  by: number,
): Promise<LedgerDraft[]> {
  const lines: LedgerDraft[] = [];
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
      "INSERT INTO sweep (site_id, state, visitors, max_pages, max_seconds, pages, trackers, notes, started_by, created_at, started_at, finished_at) VALUES (?, 'complete', ?, 250, 1800, ?, ?, '[]', ?, ?, ?, ?)",
      [
        site.id,
        JSON.stringify(VISITORS),
        sweep.pages.length,
        sweep.trackers.length,
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
    for (const t of trackers) await storeTracker(tx, site.id, id, t, toDatetime(ended));
    lines.push(line(begun, by, 'sweep.start', 'sweep', id, { site: site.id, maxPages: 250, maxMinutes: 30 }));
    lines.push(
      line(ended, 'worker', 'sweep.end', 'sweep', id, {
        state: 'complete',
        site: site.id,
        pages: sweep.pages.length,
        trackers: sweep.trackers.length,
      } as Json),
    );
  }
  return lines;
}

async function storeTracker(
  tx: Queries,
  siteId: number,
  sweepId: number,
  t: ObservedTracker,
  at: string,
): Promise<void> {
  const identity = createHash('sha256').update(trackerKey(t)).digest();
  const proposal = propose(t, { host: 'localhost' });
  await tx.run(
    'INSERT INTO tracker (site_id, identity, kind, name, host, proposed, proposal, first_seen, last_seen) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE last_seen = VALUES(last_seen), proposed = VALUES(proposed), proposal = VALUES(proposal)',
    [siteId, identity, t.kind, t.name, t.host, proposal.purpose, JSON.stringify(proposal), at, at],
  );
  const row = await tx.one(
    z.object({ id: z.number() }),
    'SELECT id FROM tracker WHERE site_id = ? AND identity = ?',
    [siteId, identity],
  );
  const seen = t.sightings.reduce((bits, s) => bits | (1 << VISITORS.indexOf(s.visitor)), 0);
  const lifetimes = t.sightings.flatMap((s) => (s.lifetime === null ? [] : [s.lifetime]));
  await tx.run(
    'INSERT INTO swept_tracker (sweep_id, tracker_id, seen, party, lifetime, pages) VALUES (?, ?, ?, ?, ?, ?)',
    [
      sweepId,
      row?.id,
      seen,
      t.sightings[0]?.party ?? 'first',
      lifetimes.length ? Math.max(...lifetimes) : null,
      Math.max(...t.sightings.map((s) => s.pages)),
    ],
  );
  await tx.run(
    'INSERT INTO sighting (sweep_id, tracker_id, visitor, pages, first_page, party, lifetime, set_by, value_length, value_bits, cause, resource) VALUES ?',
    [
      t.sightings.map((s) => [
        sweepId,
        row?.id,
        s.visitor,
        s.pages,
        s.firstPage,
        s.party,
        s.lifetime,
        s.setBy,
        s.valueLength,
        s.valueBits,
        JSON.stringify(s.cause),
        s.resource,
      ]),
    ],
  );
}
