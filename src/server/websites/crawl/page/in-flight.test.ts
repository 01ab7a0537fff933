import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { InFlight } from './in-flight.ts';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

it('waits for what was asked for until it ends, however long that is', () => {
  const flight = new InFlight();
  flight.begin('a', 'script');
  flight.answered('a', 'script');
  vi.advanceTimersByTime(60_000);
  expect(flight.size).toBe(1);
  expect([flight.end('a'), flight.end('a'), flight.size]).toEqual([true, false, 0]);
});

it('does not wait for the end of an answer that nobody reads', () => {
  const flight = new InFlight();
  flight.begin('a', 'fetch');
  vi.advanceTimersByTime(10_000);
  expect(flight.size).toBe(1);
  flight.answered('a', 'fetch');
  vi.advanceTimersByTime(200);
  // As long as more of it comes, it is under way.
  flight.more('a');
  vi.advanceTimersByTime(200);
  expect(flight.size).toBe(1);
  vi.advanceTimersByTime(100);
  expect(flight.size).toBe(0);
  // Somebody does read it, slowly.
  flight.more('a');
  expect(flight.size).toBe(1);
  flight.end('a');
  flight.more('a');
  expect(flight.size).toBe(0);
});

it.each([
  ['ping', 2000],
  ['image', 4000],
])('does not wait longer for a %s without an answer than %i ms', (kind, most) => {
  const flight = new InFlight();
  flight.begin('a', kind);
  vi.advanceTimersByTime(most - 100);
  expect(flight.size).toBe(1);
  vi.advanceTimersByTime(200);
  expect(flight.size).toBe(0);
});

it('forgets all of a page, and is not told of it later', () => {
  const flight = new InFlight();
  flight.begin('a', 'image');
  flight.begin('b', 'fetch');
  flight.clear();
  flight.begin('a', 'script');
  vi.advanceTimersByTime(5000);
  expect(flight.size).toBe(1);
  flight.more('b');
  flight.answered('b', 'fetch');
  expect(flight.size).toBe(1);
});
