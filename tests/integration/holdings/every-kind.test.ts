import { mkdtemp, rm } from 'node:fs/promises';
import type { Socket } from 'node:dgram';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { trackerKey, type ObservedTracker } from '../../../src/core/websites/trackers/tracker.ts';
import { VISITORS } from '../../../src/core/websites/trackers/visitor.ts';
import { Aliases } from '../../../src/server/websites/crawl/browser/aliases.ts';
import { joinSightings } from '../../../src/server/websites/crawl/collector.ts';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import type { CrawlResult } from '../../../src/server/websites/crawl/crawl-plan.ts';
import { CrawlGround } from '../websites/crawl-plan.ts';
import { FREIGHT_ANSWERS } from '../../../standins/answer-sheet.ts';
import { startNameServer } from '../../../standins/name-server.ts';
import { startStandins } from '../../../standins/server.ts';

const HOST = 'freight.brindlestrait.localhost';
let server: Server;
let names: Socket;
let ground: CrawlGround;
let folder = '';
const results: CrawlResult[] = [];
let trackers: readonly ObservedTracker[] = [];

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yare-kinds-'));
  server = await startStandins({
    port: 0,
    visitorOrigin: 'http://localhost:1',
    dataDir: folder,
    siteKeys: () => ({}),
  });
  const { port } = server.address() as AddressInfo;
  names = await startNameServer(0);
  ground = await CrawlGround.on(port);
  for (const visitor of VISITORS)
    results.push(
      await crawl(
        ground.plan('freight.brindlestrait', {
          visitor,
          aliases: new Aliases(`127.0.0.1:${names.address().port}`),
          picture: visitor === 'before',
        }),
        new AbortController().signal,
        () => {},
      ),
    );
  trackers = joinSightings(results.map((r) => r.sightings));
}, 600_000);
afterAll(async () => {
  await ground.leave();
  names.close();
  server.closeAllConnections();
  server.close();
  await rm(folder, { recursive: true, force: true, maxRetries: 5 });
});

const short = (url: string) => {
  const { hostname, pathname } = new URL(url);
  return hostname + (pathname === '/' ? '' : pathname);
};

describe('a site that holds every kind of tracker', () => {
  it('is answered as each visitor would', () => {
    expect(results.map((r) => r.operated)).toEqual([
      null,
      'another notice, “cookie settings, reject all”',
      'another notice, “accept all”',
      'another notice, “cookie settings, ☑ statistics measurement, save choices”',
      null,
    ]);
    expect(results[0]?.picture?.subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]));
  });

  it('is found to hold them all, and nothing else', () => {
    const found = trackers.map(trackerKey).toSorted();
    expect(found).toEqual(FREIGHT_ANSWERS.map(trackerKey).toSorted());
  });

  it.each(FREIGHT_ANSWERS.map((a) => [`${a.kind} ${a.name} of ${a.host}`, a] as const))(
    '%s',
    (_words, answer) => {
      const tracker = trackers.find((t) => trackerKey(t) === trackerKey(answer));
      expect(tracker?.sightings.map((s) => s.visitor)).toEqual(answer.seen);
      for (const s of tracker?.sightings ?? []) {
        expect(s.cause.map((c, i) => (i === 0 && answer.cause[0] === '/' ? '/' : short(c.url)))).toEqual(
          answer.cause[0] === '/' ? answer.cause : [expect.stringContaining(HOST)],
        );
        if (answer.attempt) expect(s.refused).not.toBe('');
        else expect(s.refused).toBe('');
        if (answer.moment) expect(s.moment).toBe(answer.moment);
        if (answer.party) expect(s.party).toBe(answer.party);
        if (answer.lifetime === null) expect(s.lifetime).toBeNull();
        else if (answer.lifetime) expect(s.lifetime).toBeCloseTo(answer.lifetime, -2);
        if (answer.blockable !== undefined) expect(s.blockable).toBe(answer.blockable);
        if (answer.sends) expect(s.sends.map((x) => x.name)).toContain(answer.sends);
        expect(s.alias).toBe(answer.alias ?? '');
      }
    },
  );
});
