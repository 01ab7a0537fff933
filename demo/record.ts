import { writeFileSync } from 'node:fs';
import { z } from 'zod';
import { TRACKER_KINDS, type ObservedTracker } from '../src/core/websites/tracker.ts';
import { openContext } from '../src/server/context.ts';
import { projectFolder } from '../src/server/process.ts';
import { latestSweeps, sightingsOf } from '../src/server/websites/sweeps.ts';
import type { RecordedSweep } from './recorded-sweeps.ts';

/**
 * Writes recorded-sweeps.json from the newest sweeps of the demo's sites in the database at DATABASE_URL, and an
 * earlier one of the booking site: before the chat and the fare trial came, when an old banner was still there.
 */
async function main(): Promise<void> {
  const ctx = openContext();
  const sites = await ctx.store.all(
    z.object({ id: z.number(), host: z.string(), site_key: z.string() }),
    'SELECT id, host, site_key FROM site ORDER BY id',
  );
  const recorded: RecordedSweep[] = [];
  for (const site of sites) {
    const [sweep] = await latestSweeps(ctx.store, site.id);
    if (!sweep) continue;
    const pages = await ctx.store.all(
      z.object({ url: z.string() }),
      'SELECT DISTINCT url FROM sweep_page WHERE sweep_id = ? ORDER BY url',
      [sweep.id],
    );
    const rows = await ctx.store.all(
      z.object({ id: z.number(), kind: z.enum(TRACKER_KINDS), name: z.string(), host: z.string() }),
      'SELECT t.id, t.kind, t.name, t.host FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? ORDER BY t.id',
      [sweep.id],
    );
    const trackers: ObservedTracker[] = [];
    for (const { id, ...key } of rows)
      trackers.push({ ...key, sightings: await sightingsOf(ctx.store, sweep.id, id) });
    const [host = ''] = site.host.split(':');
    const one = {
      host,
      hoursAgo: host.startsWith('brindle') ? 2 : 20,
      minutes: 2,
      pages: pages.map((p) => p.url),
      trackers,
    };
    if (host.startsWith('brindle')) recorded.push(earlier(one));
    recorded.push(one);
  }
  const text = JSON.stringify(recorded)
    .replaceAll(ctx.settings.VISITOR_ORIGIN, '{visitor}')
    .replaceAll(`localhost:${ctx.settings.STANDIN_PORT}`, 'localhost:{port}');
  const keyless = sites.reduce((t, s) => t.replaceAll(s.site_key, '{key}'), text);
  writeFileSync(
    `${projectFolder()}/demo/recorded-sweeps.json`,
    `${keyless.replaceAll('{"host"', '\n{"host"')}\n`,
  );
  await ctx.store.close();
}

function earlier(sweep: RecordedSweep): RecordedSweep {
  const kept = sweep.trackers.filter((t) => !t.host.includes('talkdeck') && t.name !== 'fare_ab');
  const shorter = kept.map((t) =>
    t.name === 'wave_uid'
      ? { ...t, sightings: t.sightings.map((s) => ({ ...s, lifetime: 30 * 86_400 })) }
      : t,
  );
  const session = kept.find((t) => t.name === 'bs_session') as ObservedTracker;
  return { ...sweep, hoursAgo: 7 * 24 + 3, trackers: [...shorter, { ...session, name: 'old_banner' }] };
}

void main();
