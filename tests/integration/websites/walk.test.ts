import { afterAll, beforeAll, expect, it } from 'vitest';
import { measuredFairness } from '../../../src/core/websites/notice/notice-measure.ts';
import { FIRST_PURPOSES } from '../../../src/core/websites/notice/purpose.ts';
import { regimeOf } from '../../../src/core/websites/notice/regime.ts';
import { tracker } from '../../../src/core/websites/trackers/tracker.fixture.ts';
import { timeLine } from '../../../src/core/websites/visits/time-line.ts';
import { ANSWERS, ranTooEarly, type Answer, type Lane } from '../../../src/core/websites/visits/visit.ts';
import type { VisitGround } from '../../../src/server/websites/visits/course-writer.ts';
import { walk } from '../../../src/server/websites/visits/walk.ts';
import { CrawlGround } from './crawl-plan.ts';
import { ScriptGround } from './script-ground.ts';

const script = new ScriptGround();
let ground: CrawlGround;

beforeAll(async () => {
  await script.start();
  ground = await CrawlGround.on(script.port);
  const held = (name: string) =>
    `<script type="text/plain" data-yare-purpose="measurement" src="//T/${name}"></script>`;
  script.pages = {
    '/': `<img src="//T/pixel.gif">${held('count.js')}<script>document.cookie = 'own_id=1; Path=/'</script><a href="/next">next</a>`,
    '/next': held('count.js'),
  };
  script.settings = { campaign: ['campaign'] };
});
afterAll(async () => {
  await ground.leave();
  script.stop();
});

const sorted = [
  ['/count.js', 'measurement'],
  ['/pixel.gif', 'advertising'],
].map(([name = '', purpose = '']) => ({
  tracker: tracker({ kind: 'request', host: 'tally.localhost', name }),
  ...{ purpose, essential: false },
}));

function visit(answer: Answer, over: Partial<VisitGround> = {}): Promise<Lane> {
  const plan = ground.plan('walk');
  return walk(
    {
      ...{
        startUrl: plan.startUrl,
        executable: plan.executable,
        profiles: plan.profiles,
        proxy: plan.proxy.url,
      },
      ...{ service: undefined, rewrite: undefined, campaign: ['campaign'] },
      ground: {
        ...{ siteHost: 'walk.localhost', visitorHost: 'visitor.localhost', purposes: FIRST_PURPOSES, sorted },
        ...{ regime: regimeOf('DK'), adapting: [], needs: [] },
        wish: { pages: ['/?campaign=spring'], region: 'DK', chosen: ['measurement'], gpc: false },
        ...over,
      },
    },
    answer,
    new AbortController().signal,
  );
}

const short = (l: Lane) =>
  l.events
    .filter((e) => e.what !== 'stored' || e.name === 'own_id')
    .map(
      (e) =>
        `${e.phase} ${e.what} ${e.name || e.key}${e.cell && ` ${e.cell.replace(/\d+ ms/, 'ms')}`}${e.verdict ? `: ${e.verdict}` : ''}`,
    );

it('walks as three visitors and tells when each tag ran, and whether it might', async () => {
  const lanes: Lane[] = [];
  for (const answer of ANSWERS) lanes.push(await visit(answer));
  const [refuse, accept, choose] = lanes as [Lane, Lane, Lane];
  expect(lanes.map((l) => [l.whyNot, l.receipt])).toEqual([...ANSWERS].map(() => ['', 'r1']));
  expect(short(refuse).toSorted()).toEqual(
    [
      '0 asked asked',
      '0 start start',
      '0 ran /pixel.gif ran: too early',
      '0 stored own_id set: unsorted',
      '0 held /count.js held',
      '0 shown shown',
      '1 answer answer refuses',
      '1 state state',
      '1 held /count.js held',
      '1 recorded recorded ms',
      '2 page page 2 kept',
      '2 start start',
      '2 held /count.js held',
    ].toSorted(),
  );
  expect(short(accept)).toContain('1 ran /count.js ran: permitted');
  expect(short(accept)).toContain('2 page page 2 not carried');
  expect(short(choose)).toContain('1 ran /count.js ran: permitted');
  // Everything that ran early stands in the page itself, by its line.
  const early = refuse.events.filter(ranTooEarly);
  expect(early.map((e) => [e.name, e.cause[0]?.what, e.why])).toEqual([
    ['/pixel.gif', 'page', expect.stringContaining('art. 5(3)')],
  ]);
  const measured = measuredFairness(refuse.measure as NonNullable<Lane['measure']>, true);
  expect(measured.filter((f) => !f.met)).toEqual([]);
  const rows = timeLine(lanes);
  expect(rows.filter((r) => r.tooEarly)).toHaveLength(1);
  expect(rows.find((r) => r.phase === 1 && r.words.includes('count.js'))?.cells).toMatchObject({
    ...{ refuse: { cell: 'held' }, accept: { cell: 'ran' }, choose: { cell: 'ran' } },
  });
}, 120_000);

it('tells in an opt-out region what runs until it is refused, and comes by the control', async () => {
  script.settings = { asks: false, starts: ['measurement'], region: 'US-CA', regime: 'on unless refused' };
  const wish = { pages: ['/'], region: 'US-CA', chosen: [], gpc: false };
  const lane = await visit('refuse', { regime: regimeOf('US-CA'), wish });
  expect(lane.whyNot).toBe('');
  const told = short(lane);
  expect(told).toContain('0 ran /count.js ran: permitted');
  expect(told.filter((t) => /^[12] ran \/count/.test(t))).toEqual([]);
  expect(told).toContain('1 deleted deleted all');
  expect(told).toContain('2 held /count.js held');
}, 60_000);

it('measures an unfair style as it is rendered', async () => {
  const { looks } = script.settings;
  script.settings = {
    looks: { ...script.looks, css: 'p { font-size: 9px } button { font-size: 8px; padding: 0 }' },
  };
  const lane = await visit('refuse', { wish: { pages: ['/'], region: 'DK', chosen: [], gpc: false } });
  const unmet = measuredFairness(lane.measure as NonNullable<Lane['measure']>, true).filter((f) => !f.met);
  expect(unmet.map((f) => f.words)).toEqual([expect.stringContaining('Text of 9 px')]);
  script.settings = looks ? { looks } : {};
}, 60_000);

it('says where there is no notice to answer', async () => {
  const lane = await visit('refuse', {
    wish: { pages: ['/nothing'], region: 'DK', chosen: [], gpc: false },
  });
  expect(lane.whyNot).toMatch(/no notice of ours/);
}, 60_000);
