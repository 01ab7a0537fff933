import { describe, expect, it } from 'vitest';
import { countedWork, liveTest, MeasureWork, NEW_WORK } from './measure-work.ts';

describe('what the program sees of a measure', () => {
  it.each([
    [{ atMost: 0 }, { value: 0, of: 14 }, 'passed'],
    [{ atMost: 0 }, { value: 1, of: 14 }, 'failed'],
    [{ atMost: 0 }, { value: 0 }, 'passed'],
    [{ atMost: 0 }, { value: 0, of: 0 }, null],
    [{ atMost: 0 }, { value: null, of: 3 }, null],
    [{ atMost: 0 }, undefined, null],
    [{ atLeast: 0.9, share: true }, { value: 90, of: 100 }, 'passed'],
    [{ atLeast: 0.9, share: true }, { value: 89, of: 100 }, 'failed'],
    [{ atLeast: 0.9, share: true }, { value: 5000 }, null],
    [{ atLeast: 10 }, { value: 10 }, 'passed'],
  ] as const)('%j of %j: %s', (test, figure, says) => {
    expect(liveTest({ figure: 'a.b', ...test }, figure)).toBe(says);
  });

  it('is what counts, whatever a person said; a person counts where it sees nothing of it', () => {
    const measure = { id: 'm', name: 'm', steps: ['a'], evidence: ['b'], hours: 1, whose: 'ours' as const };
    const said = { state: 'done', test: 'passed' } as const;
    expect(countedWork(measure, said, null, null).test).toBe('passed');
    const tested = { ...measure, test: { figure: 'a.b', atMost: 0 } };
    expect(countedWork(tested, said, 'failed', null).test).toBe('failed');
    expect(countedWork(tested, said, null, '2026-01-01')).toEqual({
      ...{ state: 'done', test: null, evidenceUntil: '2026-01-01' },
    });
  });
});

describe('work on a measure', () => {
  it.each([
    [{}, []],
    [{ state: 'not applicable' }, ['reason']],
    [{ state: 'not applicable', reason: 'No ships.' }, []],
    [{ test: 'passed', testedBy: 3, doneBy: 3 }, ['test']],
    [{ test: 'passed', testedBy: 4, doneBy: 3 }, []],
    [{ due: '2026-02-30' }, ['due']],
    [{ owner: -1 }, ['owner']],
  ])('%j has faults at %j', (more, fields) => {
    const found =
      MeasureWork.safeParse({ ...NEW_WORK, ...more }).error?.issues.map((i) => i.path.join('.')) ?? [];
    expect(found).toEqual(fields);
  });
});
