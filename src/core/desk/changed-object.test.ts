import { expect, it } from 'vitest';
import { fewChanges } from './changed-object.ts';

it('names each object once, and of too many only their kind', () => {
  const site = (id: string | null) => ({ object: 'site', id });
  const sweep = { object: 'sweep', id: '1' };
  expect(fewChanges([site('1'), sweep, site('2'), site('1')], 2)).toEqual([site('1'), site('2'), sweep]);
  expect(fewChanges([site('1'), site('2'), site('3'), sweep], 2)).toEqual([site(null), sweep]);
  expect(fewChanges([site(null), site('1')], 5)).toEqual([site(null)]);
  expect(fewChanges([], 2)).toEqual([]);
});
