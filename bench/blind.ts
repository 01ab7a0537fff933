import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startVisit } from '../src/server/websites/crawl/browser/chromium.ts';
import { sweepCommand } from '../src/server/websites/sweeps/sweep-command.ts';
import type { SweepReport } from '../src/core/websites/sweeps/sweep-report.ts';
import { startStandins } from '../standins/server.ts';
import { scorePost } from '../standins/strait-post/score.ts';
import { POST_HOST, POST_PAGES } from '../standins/strait-post/strait-post.ts';
import { figure } from './figure.ts';

const PORT = Number(process.env['BENCH_PORT'] ?? 8791);
const TABS = 2;
const VISITORS = 5;
const CHROMIUM = process.env['CHROMIUM'] ?? '/usr/bin/chromium';

/**
 * A sweep by itself, as the command line makes it, of a site that nothing knows: what it finds of what is there, and how long it
 * takes against bare Chromium loading the same pages as often. With BLIND_REPORT a report that is there is held against it.
 */
async function main(): Promise<void> {
  const given = process.env['BLIND_REPORT'];
  if (given) return tell(JSON.parse(await readFile(given, 'utf8')) as SweepReport);
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const server = await startStandins({
    port: PORT,
    visitorOrigin: 'http://localhost:1',
    dataDir: folder,
    siteKeys: () => ({}),
  });
  try {
    const file = join(folder, 'report.json');
    const begun = performance.now();
    const code = await sweepCommand([`http://${POST_HOST}:${PORT}`, '--json', file, '--tabs', String(TABS)]);
    const swept = (performance.now() - begun) / 1000;
    const bare = await bareSeconds(folder);
    const report = JSON.parse(await readFile(file, 'utf8')) as SweepReport;
    tell(report);
    const loads = report.visitors.reduce((n, v) => n + v.pages.length, 0);
    figure('blind', 'exit_code', code, '1');
    figure('blind', 'sweep_seconds', swept, 's');
    figure('blind', 'chromium_seconds', bare, 's');
    figure('blind', 'sweep_pages_per_second', loads / swept, '1/s');
    figure('blind', 'chromium_pages_per_second', (POST_PAGES.length * VISITORS) / bare, '1/s');
    figure('blind', 'ratio_to_chromium', swept / bare, 'ratio');
  } finally {
    server.closeAllConnections();
    server.close();
    await rm(folder, { recursive: true, force: true, maxRetries: 5 });
  }
}

function tell(report: SweepReport): void {
  const score = scorePost(report);
  figure('blind', 'found', score.found / score.there, 'ratio');
  figure('blind', 'invented', score.invented.length, '1');
  figure('blind', 'states_right', score.statesRight / score.there, 'ratio');
  figure('blind', 'purposes_right', score.purposesRight / score.there, 'ratio');
  figure('blind', 'leak_recall', score.recall, 'ratio');
  figure('blind', 'leak_precision', score.precision, 'ratio');
  for (const [what, list] of Object.entries({
    missed: score.missed,
    invented: score.invented,
    'states wrong': score.statesWrong,
    'purposes wrong': score.purposesWrong,
    'leaks wrong': score.leaksWrong,
  }))
    for (const one of list) process.stdout.write(`# ${what}: ${one}\n`);
}

/** Each visitor with a clean profile, each page until it and all it holds is there. */
async function bareSeconds(folder: string): Promise<number> {
  const begun = performance.now();
  for (let v = 0; v < VISITORS; v++) {
    const visit = await startVisit({
      executable: CHROMIUM,
      profiles: join(folder, 'bare'),
      proxy: undefined,
    });
    const queue = POST_PAGES.map((p) => `http://${POST_HOST}:${PORT}${p}`);
    await Promise.all(
      Array.from({ length: TABS }, async () => {
        const page = await visit.context.newPage();
        for (let url = queue.shift(); url; url = queue.shift())
          await page.goto(url, { waitUntil: 'load' }).catch(() => {});
      }),
    );
    await visit.close();
  }
  return (performance.now() - begun) / 1000;
}

void main();
