import { builtIn } from '../src/core/accounts/roles/held-role.ts';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import type { Context } from '../src/server/context.ts';
import { deskState } from '../src/server/desk/desk-state.ts';
import { RecentChanges } from '../src/server/desk/recent-changes.ts';
import { readSettings } from '../src/server/settings.ts';
import { openStore } from '../src/server/store/pool.ts';
import { fillEstate, type EstateSize } from './estate.ts';
import { figure, median } from './figure.ts';

const CLIENT = join(import.meta.dirname, '../dist/web/client/_astro');

/** Script that the desk's first view loads: the desk and a site's trackers with all they import, gzipped. */
async function firstView(): Promise<void> {
  const files = (await readdir(CLIENT)).filter((f) => f.endsWith('.js'));
  const wanted = files.filter((f) => /^(DeskApp|WebsitesArea|client)\./.test(f));
  const loaded = new Set<string>();
  const queue = [...wanted];
  let bytes = 0;
  for (let file = queue.pop(); file; file = queue.pop()) {
    if (loaded.has(file)) continue;
    loaded.add(file);
    const text = await readFile(join(CLIENT, file), 'utf8');
    bytes += gzipSync(text, { level: 9 }).length;
    for (const match of text.matchAll(/(?:from|import)\s*["']\.\/([^"']+\.js)["']/g))
      queue.push(match[1] as string);
  }
  figure('desk', 'first_view_script_gzip', bytes / 1024, 'KiB');
}

const SMALL: EstateSize = {
  sites: 4,
  sweepsPerSite: 3,
  trackersPerSite: 40,
  detectors: 20,
  entries: 5000,
  consents: 5000,
  jobs: 100,
};
const LARGE: EstateSize = {
  sites: 400,
  sweepsPerSite: 5,
  trackersPerSite: 40,
  detectors: 10_000,
  entries: 1_000_000,
  consents: 100_000,
  jobs: 20_000,
};
const LOOKS = 200;
const OFFICER = { id: 1, email: '', name: 'Ines', title: '', roles: [builtIn('officer')] } as const;

/** What every open desk asks for each second, with a small and a large estate side by side. */
async function polling(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    const now = new Date('2026-11-20T09:00:00.000Z');
    const server = openStore(database.url, 1);
    const estates: Context[] = [];
    for (const [name, size] of Object.entries({ small: SMALL, large: LARGE })) {
      await server.run(`CREATE DATABASE yare_${name}`);
      const url = new URL(database.url);
      url.pathname = `/yare_${name}`;
      const { store } = await prepareDatabase(url.href);
      await fillEstate(store, now, size);
      estates.push({ store, settings: readSettings({ SECRET_KEY: 'ab'.repeat(32) }), now: () => now });
    }
    const recent = estates.map(() => new RecentChanges());
    const times: number[][] = estates.map(() => []);
    for (let i = 0; i < LOOKS; i++)
      for (const [at, ctx] of estates.entries()) {
        const begun = performance.now();
        await deskState(ctx, OFFICER);
        await recent[at]?.look(ctx.store, now);
        times[at]?.push(performance.now() - begun);
      }
    const [small = 0, large = 0] = times.map((t) => median(t));
    figure('desk', 'poll_4_sites', small, 'ms');
    figure('desk', 'poll_400_sites_10000_rules_1000000_entries', large, 'ms');
    figure('desk', 'poll_large_to_small', large / small, 'ratio');
    await server.close();
    for (const { store } of estates) await store.close();
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

async function main(): Promise<void> {
  await firstView();
  await polling();
}

void main();
