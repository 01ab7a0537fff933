import { expect, it, test } from 'vitest';
import { instantOf, localMoment } from './local-moment.ts';

it('is the same to the minute, there and back', () => {
  const at = new Date(2026, 10, 3, 4, 5, 59);
  expect(localMoment(at)).toBe('2026-11-03T04:05');
  expect(Date.parse(instantOf(localMoment(at)) ?? '')).toBe(new Date(2026, 10, 3, 4, 5).getTime());
});

test.each(['', '2026-13-01T00:00', 'yesterday'])('is none of %j', (text) =>
  expect(instantOf(text)).toBeNull(),
);
