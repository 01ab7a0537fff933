import { describe, expect, it } from 'vitest';
import type { Frontier } from '../../../core/websites/sweeps/frontier.ts';
import type { Collector } from './collector.ts';
import { limitNotes } from './crawl-limits.ts';
import type { CrawlPlan } from './crawl-plan.ts';

const plan = { scope: { maxPages: 50, maxDepth: 3, robotsOverride: '' }, until: 1000, pages: undefined };
const frontier = { left: 2, cut: false, known: 20, disallowed: 0, sampled: [] as unknown[] };
const collector = { overflowed: false, unreadable: 0 };
const notes = ({ of = {}, pages = {}, found = {}, calledOff = false, now = 0 } = {}) =>
  limitNotes(
    { ...plan, ...of } as unknown as CrawlPlan,
    { ...frontier, ...pages } as unknown as Frontier,
    { ...collector, ...found } as unknown as Collector,
    calledOff,
    now,
  );
const overridden = { scope: { ...plan.scope, robotsOverride: 'It is our own.' } };

describe('what a visitor of a site was not led to', () => {
  it.each<[string, Parameters<typeof notes>[0], RegExp | undefined]>([
    ['nothing', {}, undefined],
    ['too many pages', { pages: { cut: true, known: 50 } }, /limit of 50 pages/],
    ['pages too deep', { pages: { cut: true } }, /more than 3 steps/],
    ['one page robots.txt asks for', { pages: { disallowed: 1 } }, /^1 page was left out/],
    ['pages robots.txt asks for', { pages: { disallowed: 4 } }, /^4 pages were left out/],
    [
      'pages alike',
      { pages: { sampled: [{ shape: '/p/*', kept: 3, left: 9 }] } },
      /Of 12 pages like \/p\/\*, 3/,
    ],
    ['robots.txt not kept to', { of: overridden }, /not kept to: It is our own/],
    ['the same, told by who found the pages', { of: { ...overridden, pages: [] } }, undefined],
    ['time', { now: 1000 }, /time limit/],
    ['time, where all pages were seen', { now: 1000, pages: { left: 0 } }, undefined],
    ['time, where it was called off', { now: 1000, calledOff: true }, undefined],
    ['too many trackers', { found: { overflowed: true } }, /20,000/],
    ['what made no sense', { found: { unreadable: 2 } }, /made no sense/],
  ])('%s', (_, of, says) => {
    const told = notes(of);
    expect(told).toHaveLength(says ? 1 : 0);
    if (says) expect(told[0]).toMatch(says);
  });
});
