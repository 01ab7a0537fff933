import { readdirSync, readFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NO_PATHS } from '../src/core/websites/sweeps/click-path.ts';
import { WHOLE_SITE } from '../src/core/websites/sweeps/scope.ts';
import { Aliases } from '../src/server/websites/crawl/browser/aliases.ts';
import { crawl } from '../src/server/websites/crawl/crawl.ts';
import { startVisit } from '../src/server/websites/crawl/browser/chromium.ts';
import { OutboundProxy } from '../src/server/websites/crawl/browser/outbound-proxy.ts';
import { startStandins } from '../standins/server.ts';
import type { StandinSite } from '../standins/site.ts';
import { SITES } from '../standins/sites.ts';
import { figure, median } from './figure.ts';

const ROUNDS = 3;
const TABS = 2;
const PORT = Number(process.env['BENCH_PORT'] ?? 8790);
const START = `http://brindlestrait.localhost:${PORT}/`;
const SITE = SITES[0] as StandinSite;
const MEMORY_LOADS = 1000;
const CHROMIUM = process.env['CHROMIUM'] ?? '/usr/bin/chromium';

/** Pages a second of a sweep against bare Chromium loading the same pages with as many tabs, turn about. */
async function main(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const server = await startStandins({
    port: PORT,
    visitorOrigin: 'http://localhost:1',
    dataDir: folder,
    siteKeys: () => ({}),
  });
  try {
    const urls = SITE.pages.map((p) => new URL(p.path, START).href);
    const sweeps: number[] = [];
    const bares: number[] = [];
    for (let i = 0; i < ROUNDS; i++) {
      bares.push(await bare(urls, folder));
      sweeps.push(await swept(urls, folder));
    }
    figure('sweep', 'sweep_pages_per_second', median(sweeps), '1/s');
    figure('sweep', 'chromium_pages_per_second', median(bares), '1/s');
    figure('sweep', 'ratio_to_chromium', median(sweeps.map((s, i) => s / (bares[i] as number))), 'ratio');
    if (process.env['BENCH_MEMORY'] !== 'no') await memoryGrowth(urls, folder);
  } finally {
    server.closeAllConnections();
    server.close();
    await rm(folder, { recursive: true, force: true, maxRetries: 5 });
  }
}

async function bare(urls: readonly string[], folder: string): Promise<number> {
  const visit = await startVisit({ executable: CHROMIUM, profiles: join(folder, 'bare'), proxy: undefined });
  const queue = [...urls];
  const begun = performance.now();
  await Promise.all(
    Array.from({ length: TABS }, async () => {
      const page = await visit.context.newPage();
      for (let url = queue.shift(); url; url = queue.shift()) await page.goto(url, { waitUntil: 'load' });
    }),
  );
  const seconds = (performance.now() - begun) / 1000;
  await visit.close();
  return urls.length / seconds;
}

async function swept(urls: readonly string[], folder: string): Promise<number> {
  const times: number[] = [];
  const pages = await sweep(urls, folder, urls.length, () => times.push(performance.now()));
  return (pages - 1) / (((times.at(-1) ?? 0) - (times[0] ?? 0)) / 1000);
}

/** Pages swept; `seen` is called after each. */
async function sweep(
  urls: readonly string[],
  folder: string,
  most: number,
  seen: () => void,
): Promise<number> {
  const guard = new OutboundProxy({ privateAllowed: new Set([`localhost:${PORT}`]) }, 25e6);
  const proxy = { url: await guard.listen(), guard };
  const result = await crawl(
    {
      startUrl: START,
      scope: { ...WHOLE_SITE, maxPages: most },
      visitor: 'before',
      region: 'ZZ',
      chosen: [],
      paths: NO_PATHS,
      reading: null,
      until: Date.now() + 900_000,
      tabs: TABS,
      pages: urls,
      executable: CHROMIUM,
      profiles: join(folder, 'swept'),
      proxy,
      aliases: new Aliases(),
      service: undefined,
      picture: false,
    },
    new AbortController().signal,
    seen,
  );
  await guard.close();
  return result.pages.length;
}

/** Megabytes that this process and its browsers hold. */
function memory(): number {
  const ours = new Map<number, { parent: number; pages: number }>();
  for (const name of readdirSync('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    try {
      const parent = Number(/\nPPid:\s*(\d+)/.exec(readFileSync(`/proc/${name}/status`, 'utf8'))?.[1]);
      const pages = Number(readFileSync(`/proc/${name}/statm`, 'utf8').split(' ')[1]);
      ours.set(Number(name), { parent, pages });
    } catch {
      // Gone meanwhile.
    }
  }
  const isOurs = (pid: number): boolean =>
    pid === process.pid || (pid > 1 && isOurs(ours.get(pid)?.parent ?? 0));
  return [...ours].filter(([pid]) => isOurs(pid)).reduce((sum, [, p]) => sum + p.pages * 4096, 0) / 1e6;
}

/** Memory at the end of a thousand page loads over that after the first hundred. */
async function memoryGrowth(urls: readonly string[], folder: string): Promise<void> {
  const loads = Array.from({ length: MEMORY_LOADS }, (_, i) => `${urls[i % urls.length]}?n=${i}`);
  const samples: number[] = [];
  let n = 0;
  await sweep(loads, folder, MEMORY_LOADS, () => {
    if (++n % 50 === 0) samples.push(memory());
  });
  figure('sweep', 'page_loads', n, '1');
  const early = median(samples.slice(1, 5));
  const late = median(samples.slice(-4));
  figure('sweep', 'memory_after_100_loads', early, 'MB');
  figure('sweep', 'memory_after_1000_loads', late, 'MB');
  figure('sweep', 'memory_growth', late / early, 'ratio');
}

void main();
