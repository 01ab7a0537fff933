import { describe, expect, it, test } from 'vitest';
import fc from 'fast-check';
import { propose } from './proposal.ts';
import type { ObservedTracker, Sighting } from './tracker.ts';
import { judge, judgeAll } from './leak.ts';
import { FIRST_PURPOSES } from './purpose.ts';
import { VISITORS } from './visitor.ts';

const sighting = (over: Partial<Sighting> = {}): Sighting => ({
  visitor: 'before',
  pages: 3,
  firstPage: 'https://a.example/',
  party: 'first',
  lifetime: null,
  setBy: 'script',
  valueLength: 10,
  valueBits: 40,
  cause: [],
  resource: '',
  ...over,
});
const tracker = (over: Partial<ObservedTracker>, ...sightings: Partial<Sighting>[]): ObservedTracker => ({
  kind: 'cookie',
  name: 'x',
  host: 'a.example',
  sightings: sightings.length ? sightings.map(sighting) : [sighting()],
  ...over,
});
const YEAR = 365 * 86400;

test.each<[string, ObservedTracker, string | null]>([
  ['a session cookie', tracker({ name: 'shop_session' }, { setBy: 'http' }), 'essential'],
  ['a form guard', tracker({ name: 'XSRF-TOKEN' }, { setBy: 'http' }), 'essential'],
  ['a language', tracker({ name: 'ui_lang' }, { lifetime: YEAR, valueBits: 2 }), 'preferences'],
  ['a theme in storage', tracker({ kind: 'local storage', name: 'theme' }, { valueBits: 8 }), 'preferences'],
  [
    'a visitor count',
    tracker({ name: 'visitor', host: 'stats.other.example' }, { party: 'third', lifetime: YEAR }),
    'measurement',
  ],
  [
    'a pixel',
    tracker(
      { kind: 'request', name: '/hit.gif', host: 'z.other.example' },
      { resource: 'image', party: 'third', valueBits: 0 },
    ),
    'measurement',
  ],
  [
    'an ad sync',
    tracker(
      { kind: 'request', name: '/sync', host: 'ads.other.example' },
      { resource: 'image', party: 'third', valueBits: 0 },
    ),
    'advertising',
  ],
  [
    'a nameless third-party cookie for a year',
    tracker({ name: 'q', host: 'q.example' }, { party: 'third', lifetime: YEAR }),
    null,
  ],
  [
    'a script from who knows where',
    tracker(
      { kind: 'request', name: '/w.js', host: 'q.example' },
      { resource: 'script', party: 'third', valueBits: 0 },
    ),
    null,
  ],
])('%s is proposed rightly', (_, seen, purpose) => {
  const proposal = propose(seen);
  expect(proposal.purpose, JSON.stringify(proposal, null, 1)).toBe(purpose);
});

it('reads the host of the script behind first-party storage', () => {
  const cause = [
    { what: 'page' as const, url: 'https://a.example/' },
    { what: 'script' as const, url: 'https://stats.other.example/w.js' },
  ];
  const seen = tracker({ kind: 'local storage', name: 'buf' }, { cause, valueBits: 22 });
  expect(propose(seen).purpose).toBe('measurement');
});

it('knows the notice’s own cookie and service', () => {
  expect(propose(tracker({ name: 'yare_choice' }, { lifetime: YEAR })).purpose).toBe('essential');
  const script = tracker(
    { kind: 'request', name: '/*.js', host: 'v.example' },
    { party: 'third', resource: 'script' },
  );
  expect(propose(script, { host: 'v.example' }).purpose).toBe('essential');
  expect(propose(script).purpose).toBeNull();
});

it('always explains itself, and its confidence is a share', () => {
  fc.assert(
    fc.property(fc.string(), fc.domain(), fc.nat(200), (name, host, bits) => {
      const proposal = propose(tracker({ name, host }, { valueBits: bits, party: 'third' }));
      expect(proposal.confidence).toBeGreaterThan(0.2);
      expect(proposal.confidence).toBeLessThanOrEqual(1);
      expect(proposal.reasons.length).toBeGreaterThan(0);
    }),
  );
});

describe('leaks', () => {
  const [essential, , measurement] = FIRST_PURPOSES;
  test.each([
    [essential, 'before', true, 'allowed'],
    [measurement, 'before', true, 'leak'],
    [measurement, 'refused', true, 'leak'],
    [measurement, 'accepted', true, 'allowed'],
    [measurement, 'refused', false, 'not seen'],
    [null, 'before', true, 'unsorted'],
    [null, 'accepted', true, 'unsorted'],
  ] as const)('%o seen %s (%s): %s', (purpose, visitor, seen, verdict) => {
    expect(judge(purpose ?? null, visitor, seen).verdict).toBe(verdict);
  });

  it('names the law and covers every visitor asked about', () => {
    const all = judgeAll(measurement!, [sighting()], VISITORS);
    expect(all.before).toMatchObject({ verdict: 'leak', law: expect.stringContaining('5(3)') });
    expect(all.accepted).toEqual({ verdict: 'not seen' });
  });
});
