import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { AREAS as CORE } from '../../core/areas.ts';
import type { DeskState } from '../../server/desk/desk-state.ts';
import { AREAS } from '../areas.ts';
import { queryClient, readAgain, readAllAgain, shows } from './changed.ts';
import { changedBetween } from './live.ts';

const KINDS = new Set(['today', ...CORE.flatMap((a) => Object.keys(a.objects))]);

describe('what is read again', () => {
  let read: string[];
  beforeEach(() => {
    vi.useFakeTimers();
    read = [];
    vi.spyOn(queryClient, 'invalidateQueries').mockImplementation(async (filters) => {
      for (const key of ['site', 'websites', 'detectors', 'find'])
        if (filters?.predicate?.({ queryKey: [key] } as never)) read.push(key);
    });
  });
  afterEach(() => {
    vi.restoreAllMocks();
    vi.useRealTimers();
  });
  const site = { object: 'site', id: '1' };

  it('is what shows a kind that changed, and nothing else', () => {
    readAgain([{ object: 'detector', id: 'crew' }]);
    vi.runAllTimers();
    expect(read).toEqual(['detectors']);
  });

  it('is read at once after an act here, and not more often than every two seconds otherwise', () => {
    readAgain([site], true);
    vi.advanceTimersByTime(1);
    expect(read).toEqual(['site', 'websites']);
    for (let i = 0; i < 10; i++) {
      readAgain([site]);
      vi.advanceTimersByTime(150);
    }
    expect(read).toHaveLength(2);
    vi.advanceTimersByTime(600);
    expect(read).toHaveLength(4);
    readAgain([site], true);
    vi.advanceTimersByTime(1);
    expect(read).toHaveLength(6);
  });

  it('is everything after a break', () => {
    readAllAgain();
    expect(read).toEqual(['site', 'websites', 'detectors']);
  });
});

it.each(AREAS.flatMap((a) => Object.entries(a.reads ?? {})))(
  'the query %s reads kinds of objects that there are',
  (key, kinds) => {
    for (const kind of kinds) {
      expect(KINDS).toContain(kind);
      expect(shows([key, 'x'], kind)).toBe(true);
    }
  },
);

it('between two looks at the desk, jobs, Today and the seal of the ledger tell what changed', () => {
  const job = { id: '1', state: 'running', about: { object: 'site', id: '7' } } as DeskState['jobs'][number];
  const state: DeskState = { inForce: 1, rehearsing: 0, needsHand: 0, today: 5, jobs: [job], ledger: null };
  expect(changedBetween(undefined, state)).toEqual([]);
  expect(changedBetween(state, { ...state, inForce: 2 })).toEqual([]);
  expect(changedBetween(state, { ...state, today: 6 })).toEqual([{ object: 'today', id: null }]);
  expect(changedBetween(state, { ...state, jobs: [{ ...job, state: 'done' }] })).toEqual([job.about]);
  expect(changedBetween({ ...state, jobs: [] }, state)).toEqual([job.about]);
  const sealed = (sealedAt: string) => ({ ...state, ledger: { sealedAt, unsealed: false } });
  expect(changedBetween(sealed('a'), sealed('b'))).toEqual([{ object: 'ledger', id: null }]);
});
