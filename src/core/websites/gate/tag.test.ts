import { expect, it } from 'vitest';
import { tracker } from '../trackers/tracker.fixture.ts';
import type { Cause } from '../trackers/tracker.ts';
import { sharesAnswers } from './gate-settings.ts';
import { tagsOf } from './tag.ts';

const PAGE: Cause = { what: 'page', url: 'https://site.example/a', line: 12 };
const OWN: Cause = { what: 'script', url: 'https://site.example/site.js', line: 3 };
const WAVE: Cause = { what: 'script', url: 'https://wave.example/w.js' };

it('finds the first step to another company, where it stands, and what comes of it', () => {
  const request = { kind: 'request' as const, host: 'hits.example', name: '/hit' };
  const tags = tagsOf(
    [
      { tracker: tracker({ name: 'uid' }, { cause: [PAGE, OWN, WAVE] }), purpose: 'measurement' },
      { tracker: tracker(request, { cause: [PAGE, WAVE], pages: 7, party: 'third' }), purpose: null },
      {
        tracker: tracker(
          { ...request, name: '/pixel.gif' },
          { cause: [PAGE], party: 'third', resource: 'image' },
        ),
        purpose: 'advertising',
      },
      { tracker: tracker({ name: 'own' }, { cause: [PAGE, OWN] }), purpose: 'preferences' },
    ].map((s) => ({ ...s, essential: false })),
  );
  expect(tags).toMatchObject([
    { host: 'hits.example', name: '/pixel.gif', what: 'picture', placed: [PAGE], purposes: ['advertising'] },
    {
      ...{ host: 'wave.example', name: '/w.js', what: 'script', placed: [PAGE], pages: 7, unsorted: 1 },
      purposes: ['measurement'],
      trackers: [{ name: 'uid' }, { name: '/hit' }],
    },
  ]);
  expect(tags).toHaveLength(2);
});

it('takes an answer for the hosts that share one, and no other', () => {
  expect(sharesAnswers('www.a.example', '', 'www.a.example')).toBe(true);
  expect(sharesAnswers('www.a.example', '', 'shop.a.example')).toBe(false);
  expect(sharesAnswers('www.a.example:8080', 'a.example', 'shop.a.example:9')).toBe(true);
  expect(sharesAnswers('www.a.example', 'a.example', 'bada.example')).toBe(false);
});
