import { expect, it } from 'vitest';
import { fairShare } from './sweep-site.ts';

it.each<[string, number, number, number, number]>([
  ['the first of five has a fifth', 0, 1000, 5, 200],
  ['what one leaves is the others’', 100, 1000, 4, 325],
  ['the last has all that is left', 900, 1000, 1, 1000],
  ['nobody has any once it is over', 1200, 1000, 2, 1200],
])('%s', (_, now, end, visitors, until) => expect(fairShare(now, end, visitors)).toBe(until));
