import { describe, expect, it, test } from 'vitest';
import fc from 'fast-check';
import { propose, proposeAll, votedPurpose } from './proposal.ts';
import { tracker } from './tracker.fixture.ts';
import type { ObservedTracker } from './tracker.ts';

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
  for (const name of ['yare_choice', 'yare_tc'])
    expect(propose(tracker({ name }, { lifetime: YEAR })).purpose, name).toBe('essential');
  const left = tracker({ kind: 'session storage', name: 'yare_left' }, {});
  expect(propose(left).purpose).toBe('essential');
  const script = tracker(
    { kind: 'request', name: '/*.js', host: 'v.example' },
    { party: 'third', resource: 'script' },
  );
  expect(propose(script, { own: 'v.example' }).purpose).toBe('essential');
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

it('follows the library, what other sites decided, and a gate that works', () => {
  const unknown = tracker({ name: 'qz', host: 'q.example' }, { party: 'third', lifetime: YEAR });
  expect(propose(unknown).purpose).toBeNull();
  expect(propose(unknown, { known: { purpose: 'preferences', provider: 'Q' } }).purpose).toBe('preferences');
  expect(propose(unknown, { decided: [{ purpose: 'advertising', site: 'b.example' }] })).toMatchObject({
    purpose: 'advertising',
    reasons: expect.arrayContaining([expect.objectContaining({ words: 'Decided so on b.example' })]),
  });
  const split = [
    { purpose: 'advertising', site: 'b.example' },
    { purpose: 'measurement', site: 'c.example' },
  ];
  expect(propose(unknown, { decided: split }).purpose).toBeNull();
  const released = tracker(
    { name: 'qz', host: 'q.example' },
    { party: 'third', visitor: 'accepted' },
    { party: 'third', visitor: 'chosen' },
  );
  expect(propose(released, { chosen: ['measurement'] }).purpose).toBe('measurement');
});

it('takes what comes with every choice for the memory of it', () => {
  const kept = (['refused', 'accepted', 'chosen'] as const).map((visitor, i) => ({
    ...{ visitor, lifetime: YEAR, valueLength: 8 + i },
  }));
  expect(propose(tracker({ name: 'kept' }, ...kept)).purpose).toBe('essential');
});

it('does not take what begins with any answer for the memory of it', () => {
  const cause = [
    { what: 'page' as const, url: 'https://a.example/' },
    { what: 'script' as const, url: 'https://w.other.example/w.js' },
  ];
  const both = (more: object) =>
    (['refused', 'accepted'] as const).map((visitor) => ({ visitor, lifetime: YEAR, ...more }));
  // The same identifier for both, another company's script, and a request: none of them is the answer.
  for (const seen of [
    tracker({ name: 'vz_*' }, ...both({})),
    tracker({ name: 'kept' }, ...both({ cause, valueBits: 4 })),
    tracker({ kind: 'request', name: '/q', host: 'a.example' }, ...both({ valueBits: 0 })),
  ]) {
    const { purpose, reasons } = propose(seen);
    expect(reasons.map((r) => r.words)).not.toContain(
      'It comes with the choice itself, and differs with the answer',
    );
    expect(purpose).not.toBe('essential');
  }
});

it('takes the answer for itself though another company’s notice keeps it, where it differs with the answer', () => {
  const cause = [
    { what: 'page' as const, url: 'https://a.example/' },
    { what: 'script' as const, url: 'https://n.notices.example/n.js' },
  ];
  const kept = (['refused', 'accepted'] as const).map((visitor, i) => ({
    ...{ visitor, lifetime: YEAR, cause, valueLength: 20 + i },
  }));
  expect(propose(tracker({ name: 'kept' }, ...kept)).purpose).toBe('essential');
});

it('takes first-party storage that another company’s script wrote for that company’s', () => {
  const cause = [
    { what: 'page' as const, url: 'https://a.example/' },
    { what: 'script' as const, url: 'https://w.other.example/w.js' },
  ];
  const reasons = (more: object) => propose(tracker({ name: 'q' }, { lifetime: YEAR, ...more })).reasons;
  expect(reasons({ cause }).map((r) => r.words)).toContain('Another company sets it');
  expect(reasons({}).map((r) => r.words)).not.toContain('Another company sets it');
});

test.each([
  ['vz_4b91ad', 'ad'],
  ['x9ad2k7ab', 'ad'],
  ['p_ab12cd34', 'ab'],
])('reads no word out of the random part of %s', (name, word) => {
  const words = propose(tracker({ name })).reasons.map((r) => r.words);
  expect(words.filter((w) => w.includes(`“${word}”`))).toEqual([]);
});

it('lets what is unsorted follow its company, but not where the company does several things', () => {
  const of = (name: string, host: string) =>
    tracker({ kind: 'request', name, host }, { party: 'third', resource: 'script' });
  const [, script] = proposeAll([of('/ads.js', 'a.buoy.example'), of('/x.js', 'c.buoy.example')], () => ({}));
  expect(script).toMatchObject({ purpose: 'advertising' });
  const mixed = proposeAll(
    [of('/ads.js', 'a.buoy.example'), of('/stats.js', 'b.buoy.example'), of('/x.js', 'c.buoy.example')],
    () => ({}),
  );
  expect(mixed[2]?.purpose).toBeNull();
});

describe('the switches of the site’s notice', () => {
  const RUNS = [
    { words: 'Newsroom', purpose: 'measurement', by: 'words', pages: 2 },
    { words: 'Sponsors', purpose: 'advertising', by: 'words', pages: 2 },
    { words: 'Corner', purpose: null, by: 'words', pages: 2 },
  ] as const;
  const seen = tracker({ name: 'promo_ads' }, { visitor: 'accepted', party: 'third' });
  const withSwitches = (...names: string[]) =>
    propose(seen, {
      chosen: ['preferences'],
      ranWith: { with: RUNS.filter((r) => names.includes(r.words)), tried: RUNS.length },
    });

  it('outweigh names', () => {
    expect(propose(seen).purpose).toBe('advertising');
    const { purpose, reasons } = withSwitches('Newsroom');
    expect(purpose).toBe('measurement');
    expect(reasons[0]?.words).toBe('It ran with “Newsroom” alone on, and with no other switch of the notice');
  });

  it('say nothing where it ran with all, with none, with several of different purposes, or with one of none known', () => {
    const without = propose(seen).reasons.map((r) => r.words);
    for (const names of [RUNS.map((r) => r.words), [], ['Newsroom', 'Sponsors'], ['Corner']])
      expect(withSwitches(...names).reasons.map((r) => r.words)).toEqual(without);
  });

  it('are for what most of what runs with them is clearly for', () => {
    const named = (name: string) => tracker({ name }, { visitor: 'accepted', party: 'third' });
    const none = () => ({});
    expect(votedPurpose([named('stats_hits'), named('visit_counter'), named('qz')], none)).toBe(
      'measurement',
    );
    expect(votedPurpose([named('stats_hits'), named('ad_campaign')], none)).toBeNull();
    expect(votedPurpose([named('qz')], none)).toBeNull();
    expect(votedPurpose([], none)).toBeNull();
  });
});
