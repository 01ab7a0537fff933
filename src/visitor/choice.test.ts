import { expect, it, test } from 'vitest';
import { choiceCookie, mustAsk, newKey, readChoice, type KeptChoice } from './choice.ts';

const choice: KeptChoice = {
  version: 3,
  allowed: ['measurement', 'preferences'],
  key: 'ab'.repeat(16),
  at: 1_790_000_000,
  receipt: 'r1',
};

it('comes back from its cookie as it was kept', () => {
  const cookie = choiceCookie(choice, 6, true).split(';')[0]!;
  expect(readChoice(`other=1; ${cookie}; last=2`)).toEqual(choice);
});

it('is the newest where one of the host and one of its domain stand side by side', () => {
  const cookie = (over: Partial<KeptChoice>) => choiceCookie({ ...choice, ...over }, 6, true).split(';')[0]!;
  const [older, newer] = [cookie({ allowed: [] }), cookie({ at: choice.at + 9 })];
  for (const both of [`${older}; ${newer}`, `${newer}; a=1; ${older}`])
    expect(readChoice(both)?.at).toBe(choice.at + 9);
});

test.each([
  ['', 'no cookie'],
  ['yare_choice=', 'empty'],
  ['yare_choice=x.y.z', 'broken'],
  ['yare_choice=3.5.short', 'bad key'],
  ['yare_choice=%E0%A4%A', 'no encoding'],
  [`yare_choice=x.5.${'ab'.repeat(16)}.r1`, 'no version'],
  [`yare_choice=3.-5.${'ab'.repeat(16)}.r1`, 'no time'],
])('%o is no choice: %s', (cookies) => {
  expect(readChoice(cookies)).toBeUndefined();
});

test.each<[KeptChoice | undefined, number, number, boolean]>([
  [undefined, 1, choice.at, true],
  [choice, 3, choice.at + 86400, false],
  [choice, 4, choice.at + 86400, true],
  [choice, 2, choice.at + 86400, false],
  [choice, 3, choice.at + 200 * 86400, true],
])('%o, asked since version %i, at %i: ask again %s', (kept, since, now, ask) => {
  expect(mustAsk(kept, since, 6, now)).toBe(ask);
});

it('makes keys of 128 bits that differ', () => {
  expect(newKey()).toMatch(/^[0-9a-f]{32}$/);
  expect(newKey()).not.toBe(newKey());
});
