import { mkdtemp, readFile, rm } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { SweepReport } from '../../../src/core/websites/sweeps/sweep-report.ts';
import { sweepCommand } from '../../../src/server/websites/sweeps/sweep-command.ts';
import { startStandins } from '../../../standins/server.ts';
import { scorePost } from '../../../standins/strait-post/score.ts';
import { POST_HOST } from '../../../standins/strait-post/strait-post.ts';

let server: Server;
let folder = '';
let report: SweepReport;

/** Pages on which all of it is met. */
const PAGES = ['/news/1', '/news/7', '/sport/1', '/sport/3', '/weather/1'];

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yare-post-'));
  server = await startStandins({
    ...{ port: 0, visitorOrigin: 'http://localhost:1', dataDir: folder },
    siteKeys: () => ({}),
  });
  const { port } = server.address() as AddressInfo;
  const file = join(folder, 'report.json');
  const include = ['/', ...PAGES].flatMap((p) => ['--include', p]);
  await sweepCommand([`http://${POST_HOST}:${port}`, '--json', file, ...include]);
  report = SweepReport.parse(JSON.parse(await readFile(file, 'utf8')));
}, 280_000);
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await rm(folder, { recursive: true, force: true });
});

it('reads a notice that no list of words knows, and says why', () => {
  expect(report.notice).toMatchObject({
    accept: { way: '“Sounds good”', by: 'trial', why: expect.stringContaining('the most of') },
    // Both let the fewest run: which of them shows one less is chance where a page is slow.
    refuse: {
      way: expect.stringMatching(/^“(Maybe later”|Pick and choose”, all switches off, “Save these”)$/),
      by: 'trial',
      why: expect.stringContaining('the fewest of'),
    },
    choose: { way: '“Pick and choose”, all switches off, “Save these”' },
  });
  expect(report.notice?.tried).toContainEqual({ way: '“✕”', outcome: 'closes', ran: null });
  expect(report.visitors.map((v) => [v.visitor, v.tried, v.pages.length])).toEqual(
    ['before', 'refused', 'accepted', 'chosen', 'gpc'].map((v) => [v, true, PAGES.length + 1]),
  );
});

it('finds all that is there and nothing else, for just the visitors who meet it', () => {
  const { missed, invented, statesWrong } = scorePost(report);
  expect({ missed, invented, statesWrong }).toEqual({ missed: [], invented: [], statesWrong: [] });
});

it('calls every leak and nothing that was permitted', () => {
  const { leaksWrong, recall, precision } = scorePost(report);
  expect(leaksWrong).toEqual([]);
  expect([recall, precision]).toEqual([1, 1]);
});

it('sorts by the switches, and leaves unsorted what nothing tells', () => {
  expect(report.switches.map((s) => [s.words, s.purpose])).toEqual([
    ['Newsroom', 'measurement'],
    ['Sponsors', 'advertising'],
    ['Corner', null],
  ]);
  const wrong = scorePost(report).purposesWrong;
  expect(wrong.filter((w) => !w.endsWith('unsorted'))).toEqual([]);
  expect(wrong.every((w) => /fennel|local storage fx|quill|cookie qv/.test(w))).toBe(true);
});
