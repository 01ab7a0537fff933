import { mkdirSync, writeFileSync } from 'node:fs';
import { z } from 'zod';
import type { ObservedTracker } from '../../src/core/websites/trackers/tracker.ts';
import { VISITORS } from '../../src/core/websites/trackers/visitor.ts';
import { openContext } from '../../src/server/context.ts';
import { projectFolder } from '../../src/server/processes/process.ts';
import { observedIn } from '../../src/server/websites/trackers/sightings.ts';
import { readPicture } from '../../src/server/websites/sweeps/sweep-end.ts';
import { latestSweeps } from '../../src/server/websites/sweeps/sweeps.ts';
import { pictureFile, type RecordedSweep } from './recorded-sweeps.ts';

/**
 * Writes `recorded-sweeps.json` and the pictures from the newest sweeps of the demo's sites in the database at
 * DATABASE_URL, and an earlier one of the booking site: before the chat and the fare trial came, when an old banner was
 * still there. Freight stays unswept.
 */
async function main(): Promise<void> {
  const ctx = openContext();
  const sites = await ctx.store.all(
    z.object({ id: z.number(), host: z.string(), site_key: z.string() }),
    'SELECT id, host, site_key FROM site ORDER BY id',
  );
  const recorded: RecordedSweep[] = [];
  mkdirSync(`${projectFolder()}/demo/websites/pictures`, { recursive: true });
  for (const site of sites) {
    const [sweep] = await latestSweeps(ctx.store, site.id);
    const [host = ''] = site.host.split(':');
    if (!sweep || host.startsWith('freight')) continue;
    const pages = await ctx.store.all(
      z.object({ url: z.string() }),
      'SELECT DISTINCT url FROM sweep_page WHERE sweep_id = ? ORDER BY url',
      [sweep.id],
    );
    const trackers = (await observedIn(ctx.store, sweep.id)).map((o) => o.tracker).map(fewerPages);
    const booking = host.startsWith('brindle');
    const one: RecordedSweep = {
      host,
      hoursAgo: booking ? 2 : 20,
      minutes: 4,
      region: sweep.region,
      pages: pages.map((p) => p.url),
      operated: sweep.operated,
      notes: sweep.notes,
      trackers,
      matters: booking ? '6 new trackers' : '',
    };
    if (booking) {
      recorded.push(earlier(one));
      for (const v of VISITORS)
        writeFileSync(pictureFile(host, v), await readPicture(ctx.store, sweep.id, v));
    }
    recorded.push(one);
  }
  const text = JSON.stringify(recorded)
    .replaceAll(ctx.settings.VISITOR_ORIGIN, '{visitor}')
    .replaceAll(`localhost:${ctx.settings.STANDIN_PORT}`, 'localhost:{port}');
  const keyless = sites.reduce((t, s) => t.replaceAll(s.site_key, '{key}'), text);
  writeFileSync(
    `${projectFolder()}/demo/websites/recorded-sweeps.json`,
    `${keyless.replaceAll('{"host"', '\n{"host"')}\n`,
  );
  await ctx.store.close();
}

/** Enough pages to look at, without the file growing large. */
function fewerPages(t: ObservedTracker): ObservedTracker {
  return { ...t, sightings: t.sightings.map((s) => ({ ...s, onPages: s.onPages.slice(0, 12) })) };
}

function earlier(sweep: RecordedSweep): RecordedSweep {
  const kept = sweep.trackers.filter((t) => !t.host.includes('talkdeck') && t.name !== 'fare_ab');
  const shorter = kept.map((t) =>
    t.name === 'wave_uid'
      ? { ...t, sightings: t.sightings.map((s) => ({ ...s, lifetime: 30 * 86_400 })) }
      : t,
  );
  const session = kept.find((t) => t.name === 'bs_session') as ObservedTracker;
  return {
    ...sweep,
    hoursAgo: 7 * 24 + 3,
    matters: '',
    trackers: [...shorter, { ...session, name: 'old_banner' }],
  };
}

void main();
