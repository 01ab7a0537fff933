import { expect, it, test } from 'vitest';
import { lifetimeWords, requestName, rotatingNames, stableName, valueBits } from './tracker.ts';

test.each([
  ['bs_session', 'bs_session'],
  ['wave_8f3a9c01d2', 'wave_*'],
  ['seen_20261120', 'seen_*'],
  ['a3bb189e-8bf9-3888-9912-ace4e6543002_cart', '*_cart'],
  ['deadbeef', 'deadbeef'],
  ['facade_decade', 'facade_decade'],
  ['1234567', '1234567'],
  ['ab1', 'ab1'],
  ['vz_4b91ce', 'vz_*'],
  ['vz_fadeca', 'vz_fadeca'],
  ['a1b2c', 'a1b2c'],
])('%s is called %s', (name, stable) => {
  expect(stableName(name)).toBe(stable);
});

it('knows a rotating name by the others, where its own digits are letters alone', () => {
  const names = [
    'vz_*',
    'vz_fadeca',
    'vz_last',
    'vz_fade',
    'wz_fadeca',
    '*_cart',
    'decade_cart',
    'a.b_*',
    'axb_facade',
  ];
  expect([...rotatingNames(names)]).toEqual([
    ['vz_fadeca', 'vz_*'],
    ['decade_cart', '*_cart'],
  ]);
  expect(rotatingNames(['vz_fadeca', 'vz_decade'])).toEqual(new Map());
});

test.each([
  ['https://x.example/hit.gif?u=1', '/hit.gif'],
  ['https://x.example/', '/'],
  ['https://x.example/p/a8Fk29dkaP02mmQzL1xx/px', '/p/*/px'],
  ['https://x.example/tile/1234567/4.png', '/tile/1234567/4.png'],
])('%s asks for %s', (url, name) => {
  expect(requestName(new URL(url))).toBe(name);
});

test.each([
  ['cookie', null, 'session'],
  ['local storage', null, 'no end'],
  ['session storage', null, 'session'],
  ['request', null, '–'],
  ['cookie', 3600, '1 hour'],
  ['cookie', 90, '90 seconds'],
  ['cookie', 30 * 86400, '30 days'],
  ['cookie', 365 * 86400, '1 year'],
  ['cookie', 390 * 86400, '13 months'],
  ['cookie', 730 * 86400, '2 years'],
  ['cookie', -5, 'ends at once'],
] as const)('%s of %s seconds: %s', (kind, seconds, words) => {
  expect(lifetimeWords({ kind }, seconds)).toBe(words);
});

it('counts bits of a value by what its characters tell', () => {
  expect(valueBits('')).toBe(0);
  expect(valueBits('aaaaaaaa')).toBe(0);
  expect(valueBits('ab')).toBe(2);
  expect(valueBits('8f3a9c01d2e4b765')).toBeGreaterThan(50);
});
