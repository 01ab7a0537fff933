import { expect, it, test } from 'vitest';
import { choiceAct, choiceMade, receiptDigest, type Receipt } from './consent.ts';
import { regimeOf } from './regime.ts';
import { regionName } from './region.ts';

const asked = ['preferences', 'measurement', 'advertising'];

test.each([
  [[], 'refused all'],
  [['measurement'], 'allowed some'],
  [asked, 'allowed all'],
  [[...asked, 'unknown'], 'allowed all'],
  [['unknown'], 'refused all'],
])('allowing %o is “%s”', (allowed, choice) => {
  expect(choiceMade(asked, allowed)).toBe(choice);
});

test.each([
  [undefined, ['a'], 'first'],
  [['a'], ['a'], 'repeated'],
  [['a', 'b'], ['b', 'a'], 'repeated'],
  [['a'], [], 'withdrawn'],
  [['a', 'b'], ['a'], 'changed'],
  [[], ['a'], 'changed'],
  [[], [], 'repeated'],
] as const)('from %o to %o is %s', (before, now, act) => {
  expect(choiceAct(before, now)).toBe(act);
});

it('has a digest that any change of the receipt changes, and key order does not', () => {
  const receipt: Receipt = {
    id: '1',
    at: '2026-11-20T09:00:00.000Z',
    site: 'a.example',
    notice: 3,
    asked,
    allowed: ['measurement'],
    choice: 'allowed some',
    act: 'first',
    language: 'da',
    region: 'DK',
  };
  const digest = receiptDigest(receipt);
  expect(digest).toMatch(/^[0-9a-f]{64}$/);
  expect(receiptDigest(Object.fromEntries(Object.entries(receipt).reverse()) as Receipt)).toBe(digest);
  expect(receiptDigest({ ...receipt, allowed: [] })).not.toBe(digest);
});

test.each([
  ['DK', 'ask first', 'Denmark'],
  ['GB', 'ask first', 'United Kingdom'],
  ['US-CA', 'on unless refused', 'California'],
  ['BR', 'ask first', 'Brazil'],
  ['ZZ', 'ask first', 'Unknown region'],
])('%s is %s', (region, regime, name) => {
  expect(regimeOf(region).regime).toBe(regime);
  expect(regionName(region)).toBe(name);
});
