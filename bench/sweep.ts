import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readSitemapXml, crawl } from '../src/server/websites/sweep/crawl.ts';
import { startVisit } from '../src/server/websites/sweep/chromium.ts';
import { OutboundProxy } from '../src/server/websites/sweep/outbound-proxy.ts';
import { startStandins } from '../standins/server.ts';
import { figure, median } from './figure.ts';

const ROUNDS = 3;
const TABS = 2;
const PORT = Number(process.env['BENCH_PORT'] ?? 8790);
const START = `http://brindlestrait.localhost:${PORT}/`;
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
    const pages = readSitemapXml(
      await (
        await fetch(`http://127.0.0.1:${PORT}/sitemap.xml`, {
          headers: { host: `brindlestrait.localhost:${PORT}` },
        })
      )
        .text()
        .catch(() => ''),
    ).pages;
    const urls = pages.length ? pages : await listPages();
    const sweeps: number[] = [];
    const bares: number[] = [];
    for (let i = 0; i < ROUNDS; i++) {
      bares.push(await bare(urls, folder));
      sweeps.push(await swept(urls, folder));
    }
    figure('sweep', 'sweep_pages_per_second', median(sweeps), '1/s');
    figure('sweep', 'chromium_pages_per_second', median(bares), '1/s');
    figure('sweep', 'ratio_to_chromium', median(sweeps.map((s, i) => s / (bares[i] as number))), 'ratio');
  } finally {
    server.closeAllConnections();
    server.close();
    await rm(folder, { recursive: true, force: true, maxRetries: 5 });
  }
}

/** Node’s fetch sends its own Host header, so the map is asked through the browser’s name. */
async function listPages(): Promise<string[]> {
  const { SITES } = await import('../standins/sites.ts');
  return (SITES[0]?.pages ?? []).map((p) => new URL(p.path, START).href);
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
  const guard = new OutboundProxy({ privateAllowed: new Set([`localhost:${PORT}`]) }, 25e6);
  const proxy = { url: await guard.listen(), guard };
  let first = 0;
  let last = 0;
  const result = await crawl(
    {
      startUrl: START,
      visitor: 'before',
      maxPages: 5000,
      until: Date.now() + 600_000,
      tabs: TABS,
      paceMs: 0,
      pages: urls,
      executable: CHROMIUM,
      profiles: join(folder, 'swept'),
      proxy,
      rehearsal: undefined,
    },
    new AbortController().signal,
    () => {
      last = performance.now();
      first ||= last;
    },
  );
  await guard.close();
  return (result.pages.length - 1) / ((last - first) / 1000);
}

void main();
