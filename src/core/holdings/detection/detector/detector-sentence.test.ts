import { expect, it } from 'vitest';
import { sentencesOf } from './detector-sentence.ts';
import { builtInDetectors } from '../library/library.ts';

const lines = (id: string) => sentencesOf(builtInDetectors().find((d) => d.id === id) as never);

it('tells a detector from what it looks for to when it counts', () => {
  const cpr = lines('dk-cpr');
  expect(cpr[0]).toEqual({
    label: 'Looks for',
    words: 'what is written like ',
    code: '\\d{6}[- ]?\\d{4}',
    rest: ', and is no part of a longer word or number; alone that is 80%',
    steps: 2,
  });
  expect(cpr.map((l) => l.label)).toEqual([
    'Looks for',
    'Only where',
    'Less sure',
    'Surer',
    'Surer',
    'Surer',
    'Surer',
    'Surer',
    'Less sure',
    'Less sure',
    'Less sure',
    'Less sure',
    'Surer',
    'Surer',
    'Counts',
  ]);
  expect(cpr[1]?.words).toBe('its digits hold a date, as ddmmyyxxxx');
  expect(cpr[6]?.words).toMatch(/in brackets right after it$/);
  expect(cpr.at(-1)?.words).toBe(
    'from 75% on; where another detector reads the same characters, the surer one has them',
  );
});

it('tells words, and what else is written like them', () => {
  const [first, second] = lines('child-age');
  expect(first?.words).toMatch(/^“teenager”, .*, or what is written like $/);
  expect(first?.code).toContain('aged?');
  expect(second?.words).toMatch(/^what fills a field or a cell under a heading such as “child age”, /);
  expect(second?.code).toContain('1[0-7]');
});

it('has a sentence for everything any built-in detector uses', () => {
  for (const d of builtInDetectors())
    for (const l of sentencesOf(d)) expect(l.words, d.id).not.toMatch(/undefined|\[object/);
});
