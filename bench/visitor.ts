import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { chromium } from 'playwright-core';
import { firstNotice } from '../src/core/websites/notice/notice.ts';
import { phrasesIn } from '../src/core/websites/notice/shipped-texts.ts';
import { figure, median } from './figure.ts';

/** What the script of a notice costs a page: its size, and the time of its main thread against the page without it. */
const RUNS = Number(process.env['BENCH_TIMES'] ?? 9);
const KEY = 'a1'.repeat(10);
const folder = join(dirname(fileURLToPath(import.meta.url)), 'visitor');
const [script, panel, held] = await Promise.all(
  ['notice.js', 'panel.js', 'holds.js'].map((f) => readFile(join(folder, f), 'utf8')),
);
const { texts, purposes, languageBy, policyUrl, ...looks } = firstNotice();
const settings = {
  ...{ key: KEY, origin: '', version: 1, asksSince: 1, months: 6, region: 'DK', regime: 'ask first' },
  ...{ starts: [], signal: [], asks: true, purposes, languages: ['en'], languageBy, policyUrl },
  looks: {
    ...{ layout: looks.layout, colours: looks.colours, face: looks.face, size: looks.size },
    ...{ radius: looks.radius, again: looks.again, css: '' },
  },
  texts: { en: { ...texts['en'], phrases: phrasesIn('en') } },
  ...{
    campaign: ['campaign'],
    tagSystems: [],
    domain: '',
    rehearsal: false,
    shown: 'x'.repeat(40),
    language: '',
  },
};
/** As the service sends it; with what it holds by itself, where it holds something. */
const servedWith = (holds: readonly object[]) =>
  `(()=>{const YARE_SITE='${KEY}',YARE_ORIGIN='',YARE_SETTINGS=${JSON.stringify(settings)},YARE_HOLDS=${JSON.stringify(holds)},YARE_PANEL='/panel.js';${holds.length > 0 ? held : 'var YARE_HELD;'}${script}})();`;
const served = servedWith([]);
const holds = Array.from({ length: 20 }, (_, i) => ({
  ...{ kind: 'request', host: `count${i}.example`, name: `/c${i}.js`, purpose: 'measurement' },
}));
const text = Array.from(
  { length: 400 },
  (_, i) => `<p>Sailing ${i}: a passenger asked for the timetable.</p>`,
).join('');
const work =
  '<script>let n = 0; for (let i = 0; i < 4e6; i++) n += i % 7; document.title = String(n)</script>';

const server = createServer((request, response) => {
  const send = (type: string, body: string) =>
    response.writeHead(200, { 'content-type': type, 'access-control-allow-origin': '*' }).end(body);
  if (request.url === `/${KEY}.js`) return void send('text/javascript', served);
  if (request.url === '/panel.js') return void send('text/javascript', panel ?? '');
  const line = request.url === '/with' ? `<script src="/${KEY}.js"></script>` : '';
  return void send(
    'text/html',
    `<!doctype html><html lang="en"><head>${line}</head><body>${text}${work}</body></html>`,
  );
});
await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
const browser = await chromium.launch({
  executablePath: process.env['CHROMIUM'] ?? '',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'],
});

interface Load {
  readonly ms: number;
  readonly longTasks: number;
  readonly shift: number;
}

async function load(path: string): Promise<Load> {
  const context = await browser.newContext();
  const page = await context.newPage();
  const session = await context.newCDPSession(page);
  await session.send('Performance.enable');
  await page.addInitScript(() => {
    const seen = { tasks: [] as { at: number; ms: number }[], shift: 0 };
    (window as unknown as { seen: typeof seen }).seen = seen;
    new PerformanceObserver((list) =>
      list.getEntries().forEach((e) => seen.tasks.push({ at: e.startTime, ms: e.duration })),
    ).observe({ type: 'longtask', buffered: true });
    new PerformanceObserver((list) =>
      list.getEntries().forEach((e) => (seen.shift += (e as unknown as { value: number }).value)),
    ).observe({ type: 'layout-shift', buffered: true });
  });
  await page.goto(origin + path);
  await page.waitForTimeout(700);
  const { metrics } = await session.send('Performance.getMetrics');
  const seen = await page.evaluate(
    () => (window as unknown as { seen: { tasks: unknown[]; shift: number } }).seen,
  );
  await context.close();
  const value = (name: string) => metrics.find((m) => m.name === name)?.value ?? 0;
  return { ms: value('TaskDuration') * 1000, longTasks: seen.tasks.length, shift: seen.shift };
}

const bare: Load[] = [];
const noticed: Load[] = [];
for (let i = 0; i <= RUNS; i++) {
  const [without, with_] = [await load('/without'), await load('/with')];
  // The first of each warms the browser.
  if (i > 0) {
    bare.push(without);
    noticed.push(with_);
  }
}
await browser.close();
server.close();

const size = (body: string) => gzipSync(body, { level: 9 }).length / 1024;
figure('visitor', 'script with its settings in one language, gzipped', size(served), 'KB');
figure('visitor', 'the same where it holds twenty things by itself', size(servedWith(holds)), 'KB');
figure('visitor', 'part that is loaded when it is needed, gzipped', size(panel ?? ''), 'KB');
figure(
  'visitor',
  'main thread with the notice shown / without',
  median(noticed.map((l) => l.ms)) / median(bare.map((l) => l.ms)),
  '×',
);
figure(
  'visitor',
  'long tasks more than without',
  median(noticed.map((l) => l.longTasks)) - median(bare.map((l) => l.longTasks)),
  'tasks',
);
figure('visitor', 'layout shift', Math.max(...noticed.map((l) => l.shift)), 'CLS');
