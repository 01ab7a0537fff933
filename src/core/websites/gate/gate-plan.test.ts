import fc from 'fast-check';
import { expect, it } from 'vitest';
import { matchesGlob } from '../../text/glob.ts';
import type { Cause, ObservedTracker } from '../trackers/tracker.ts';
import { sighting, tracker } from '../trackers/tracker.fixture.ts';
import { asSaid, comesBy, gatePlan, keptNames, type GatePlan, type Sorted } from './gate-plan.ts';

const PAGE: Cause = { what: 'page', url: 'https://site.example/', line: 3 };
const script = (name: string): Cause => ({ what: 'script', url: `https://cdn.example/${name}.js` });
const via = (...names: string[]) => [PAGE, ...names.map(script)];

function request(name: string, ...chains: Cause[][]): ObservedTracker {
  const base = { kind: 'request' as const, name: `/${name}`, host: 'hits.example' };
  return tracker(base, ...chains.map((cause) => ({ cause, party: 'third' as const })));
}
const sorted = (t: ObservedTracker, purpose: string | null): Sorted => ({
  tracker: t,
  purpose,
  essential: purpose === 'essential',
});
const names = (plan: GatePlan) => plan.holds.map((h) => `${h.host}${h.name} ${h.purpose}`).toSorted();

it('holds a tag as a whole where all that comes of it is for one purpose', () => {
  const plan = gatePlan([
    sorted(request('a', via('tag')), 'measurement'),
    sorted(request('b', via('tag')), 'measurement'),
  ]);
  expect(names(plan)).toEqual(['cdn.example/tag.js measurement']);
});

it('holds what comes after a tag that serves several purposes, each for its own', () => {
  const plan = gatePlan([
    sorted(request('a', via('manager', 'wave')), 'measurement'),
    sorted(request('b', via('manager', 'ads')), 'advertising'),
    sorted(request('c', via('manager')), 'advertising'),
  ]);
  expect(names(plan)).toEqual([
    'cdn.example/ads.js advertising',
    'cdn.example/wave.js measurement',
    'hits.example/c advertising',
  ]);
});

it('never holds a script that something essential comes of, nor passes over a second way', () => {
  const plan = gatePlan([
    sorted(request('login', via('kit')), 'essential'),
    sorted(request('hit', via('kit'), via('other')), 'measurement'),
  ]);
  expect(names(plan)).toEqual(['cdn.example/other.js measurement', 'hits.example/hit measurement']);
});

it('says what it can do nothing about, and why', () => {
  const server = tracker({ name: 'sid' }, { setBy: 'http', cause: [PAGE] });
  const plan = gatePlan([sorted(server, 'measurement'), sorted(request('x', via('x')), null)]);
  expect(plan.holds).toEqual([]);
  expect(plan.open.map((o) => o.why)).toEqual([
    expect.stringContaining('own server'),
    expect.stringContaining('what it is for'),
  ]);
});

it('lets a reduced tag run: its requests go without identifiers, what it stores is held', () => {
  const cookie = { kind: 'cookie' as const, name: 'uid', host: 'site.example' };
  const sends = [{ ...cookie, where: 'u', as: 'itself' as const }];
  const hit = { ...request('hit', via('wave')), sightings: [sighting({ cause: via('wave'), sends })] };
  const path = {
    ...request('p/*', via('wave')),
    sightings: [sighting({ cause: via('wave'), sends: [{ ...sends[0]!, where: 'path' }] })],
  };
  const plan = gatePlan(
    [hit, path, tracker(cookie, { cause: via('wave') })].map((t) => sorted(t, 'measurement')),
    [{ host: 'cdn.example', name: '/wave.js' }],
  );
  expect(plan.holds).toEqual([
    { kind: 'request', host: 'hits.example', name: '/hit', purpose: 'measurement', without: ['u'] },
    { kind: 'request', host: 'hits.example', name: '/p/*', purpose: 'measurement' },
    { kind: 'cookie', host: 'site.example', name: 'uid', purpose: 'measurement' },
  ]);
});

it('goes by what somebody said of a tag, for all that comes by it alone', () => {
  const found = [
    sorted(request('a', via('kit')), 'measurement'),
    sorted(request('b', via('kit', 'inner')), 'advertising'),
    sorted(request('c', via('kit'), via('other')), 'measurement'),
  ];
  const kit = { host: 'cdn.example', name: '/kit.js', purpose: 'essential', essential: true };
  const said = asSaid(found, [kit, { ...kit, name: '/inner.js', purpose: 'preferences', essential: false }]);
  expect(said.map((s) => [s.purpose, s.essential])).toEqual([
    ['essential', true],
    // The later of two decides.
    ['preferences', false],
    // It comes by another way, too.
    ['measurement', false],
  ]);
  expect(names(gatePlan(said))).toEqual([
    'cdn.example/inner.js preferences',
    'cdn.example/other.js measurement',
    'hits.example/c measurement',
  ]);
  const only = gatePlan(said, [], (t) => comesBy(t, [{ host: 'cdn.example', name: '/inner.js' }]));
  expect(names(only)).toEqual(['cdn.example/inner.js preferences']);
});

/** The slow obvious way: a tracker runs if some way to it has nothing on it that is held now. */
function runs(t: ObservedTracker, plan: GatePlan, allowed: readonly string[]): boolean {
  const held = (host: string, name: string) =>
    plan.holds.some(
      (h) =>
        h.kind === 'request' && h.host === host && !allowed.includes(h.purpose) && matchesGlob(h.name, name),
    );
  return t.sightings.some(
    ({ cause }) =>
      !cause.slice(1).some((c) => held(new URL(c.url).hostname, new URL(c.url).pathname)) &&
      !held(t.host, t.name),
  );
}

const PURPOSES = ['essential', 'measurement', 'advertising', 'preferences'];

it('lets run just what is allowed, however tags are nested', () => {
  const way = fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { maxLength: 4 }).map((n) => via(...n));
  const one = fc.tuple(fc.array(way, { minLength: 1, maxLength: 3 }), fc.constantFrom(...PURPOSES));
  fc.assert(
    fc.property(fc.array(one, { maxLength: 9 }), fc.subarray(PURPOSES.slice(1)), (all, allowed) => {
      const given = all.map(([ways, purpose], i) => sorted(request(`r${i}`, ...ways), purpose));
      const plan = gatePlan(given);
      for (const { tracker: t, purpose, essential } of given)
        expect(runs(t, plan, allowed), t.name).toBe(essential || allowed.includes(String(purpose)));
    }),
  );
});

it('tells what scripts of the site can take away from what they cannot reach', () => {
  const cookie = (over: object, seen = {}) => sorted(tracker(over, seen), 'measurement');
  const traits = { httpOnly: true, secure: false, sameSite: 'lax' as const, partitioned: false };
  const kept = keptNames(
    [
      cookie({ name: 'own', host: 'www.site.example' }),
      cookie({ name: 'wide', host: 'site.example' }),
      cookie({ name: 'http', host: 'site.example' }, { cookie: traits }),
      cookie({ name: 'other', host: 'ads.example' }),
      cookie({ kind: 'local storage', name: 'box', host: 'www.site.example' }),
      cookie({ kind: 'IndexedDB', name: 'db', host: 'www.site.example' }),
      cookie({ kind: 'service worker', name: '/w.js', host: 'far.example' }),
      cookie({ kind: 'request', name: '/x', host: 'ads.example' }),
      sorted(tracker({ name: 'needed', host: 'www.site.example' }), 'essential'),
    ],
    'www.site.example',
  );
  expect(kept.map((k) => `${k.name} ${k.kind}`)).toEqual([
    'own cookie',
    'wide cookie',
    'http other',
    'other other',
    'box local storage',
    'db IndexedDB',
    '/w.js other',
  ]);
});
