import { expect, it, test } from 'vitest';
import { guessKind } from './guess-kind.ts';
import { isSolved, solve, zeroBits } from './work-proof.ts';

test.each([
  ['please delete everything', 'delete'],
  ['Slet alt, hvad I har', 'delete'],
  ['Bitte löschen Sie meine Daten', 'delete'],
  ['send me a copy of all my data', 'access'],
  ['Registerutdrag tack', 'access'],
  ['Do not sell my personal information', 'no sale'],
  ['my name is spelled wrong', 'correct'],
  ['I object to the letters', 'object'],
  ['we would like to offer you a call', undefined],
])('“%s” asks %s', (text, kind) => expect(guessKind(text)).toBe(kind));

it('takes the work of one task for no other', () => {
  const task = { seed: 'a.b.c', bits: 10 };
  const answer = solve(task);
  expect(isSolved(task, answer)).toBe(true);
  expect(isSolved({ ...task, seed: 'a.b.d', bits: 20 }, answer)).toBe(false);
  for (const wrong of ['', '-1', '1e3', '9'.repeat(20)]) expect(isSolved(task, wrong)).toBe(false);
});

test.each([
  [[0, 0, 255], 16],
  [[1], 7],
  [[128], 0],
  [[0, 16], 11],
])('%j begins with %d zero bits', (bytes, bits) => expect(zeroBits(new Uint8Array(bytes))).toBe(bits));
