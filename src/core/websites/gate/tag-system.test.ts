import { expect, it, test } from 'vitest';
import { pushTo, tagEntry } from './tag-entry.ts';
import { TagSystem } from './tag-system.ts';

const system = TagSystem.parse({
  name: 'Tagworks',
  queue: 'works.queue',
  names: { measurement: ['count', 'recognise'], advertising: ['offers'] },
  on: 'yes',
  off: 'no',
  start: '["privacy", "start", "$state", {"wait": "$wait", "in": "$region"}]',
  change: '{"privacy": {"change": "$state"}}',
  waitMs: 500,
});

it('tells a system the state in its own names and values, at the start and on a change', () => {
  const unanswered = { allowed: [], answered: false, region: 'DK' };
  const state = { count: 'no', recognise: 'no', offers: 'no' };
  expect(tagEntry(system, 'start', unanswered)).toEqual(['privacy', 'start', state, { wait: 500, in: 'DK' }]);
  expect(tagEntry(system, 'change', { allowed: ['measurement'], answered: true, region: 'DK' })).toEqual({
    privacy: { change: { count: 'yes', recognise: 'yes', offers: 'no' } },
  });
  // Who has answered is not waited for.
  expect(tagEntry(system, 'start', { ...unanswered, answered: true })).toContainEqual({ wait: 0, in: 'DK' });
});

it('makes the queue where there is none, keeps what is on it, and breaks on nothing', () => {
  const page: Record<string, unknown> = {};
  pushTo(page, 'works.queue', 1);
  pushTo(page, 'works.queue', 2);
  expect(page).toEqual({ works: { queue: [1, 2] } });
  const taken = { works: { queue: 'not a list' } };
  pushTo(taken, 'works.queue', 1);
  expect(taken).toEqual({ works: { queue: 'not a list' } });
});

test.each([
  [{ queue: '__proto__.x' }, 'not a queue'],
  [{ queue: 'a b' }, 'name of a global'],
  [{ start: '["x"]' }, '$state'],
  [{ change: '{' }, '$state'],
  [{ on: '' }, 'cannot be empty'],
  [{ waitMs: 9000 }, 'At most 3000'],
])('refuses %j', (over, says) => {
  const result = TagSystem.safeParse({ ...system, ...over });
  expect(JSON.stringify(result.error?.issues)).toContain(says);
});
