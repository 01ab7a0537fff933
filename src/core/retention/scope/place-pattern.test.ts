import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deepestMatch, placeMatcher, stepsOf } from './place-pattern.ts';
import { placeWords, readPlace } from './scope.ts';

describe('a pattern of places', () => {
  it.each([
    ['3', '3', true],
    ['3', '3/Manifests/2026', true],
    ['3', '31', false],
    ['3/Manifests', '3/Manifests', true],
    ['3/Manifests', '3/Manifests 2', false],
    ['3/Manifests', '3', false],
    ['*/Manifests', '7/Manifests/2026', true],
    ['*/Manifests', '7/Old/Manifests', false],
    ['3/*/2026', '3/Crew/2026/July', true],
    ['3/Man*', '3/Manifests', true],
    ['3/*fests', '3/Manifests', true],
    ['3/M*f*s', '3/Manifests', true],
    // One run of letters is not two.
    ['3/aba*ba', '3/aba', false],
    ['3/a*bc*c', '3/abc', false],
    ['3/*', '3', false],
  ])('%s holds %s: %s', (pattern, place, wanted) =>
    expect(placeMatcher(pattern).matches(stepsOf(place))).toBe(wanted),
  );

  it('means what an expression does in which each * is any run within a step', () => {
    const step = fc.stringMatching(/^[ab.*(]{1,6}$/);
    const part = fc.stringMatching(/^[ab.(]{1,6}$/);
    fc.assert(
      fc.property(
        fc.array(step, { minLength: 1, maxLength: 3 }),
        fc.array(part, { minLength: 1, maxLength: 4 }),
        (steps, parts) => {
          const slow = new RegExp(
            `^${steps.map((s) => s.replace(/[.(]/g, '\\$&').replaceAll('*', '[^/]*')).join('/')}(/|$)`,
          );
          expect(placeMatcher(steps.join('/')).matches(parts)).toBe(slow.test(parts.join('/')));
        },
      ),
    );
  });

  it('of several, the deepest that holds a place is told', () => {
    const all = ['3', '3/a/b', '*/a'].map(placeMatcher);
    expect(['3/x', '3/a', '3/a/b/c', '4'].map((p) => deepestMatch(all, stepsOf(p)))).toEqual([
      1,
      2,
      3,
      undefined,
    ]);
  });
});

describe('a place that somebody types', () => {
  const sources = [
    { value: '3', words: 'Port share' },
    { value: '4', words: 'Port share, old' },
    { value: '5', words: 'A/B' },
  ];
  it.each([
    ['Port share', '3'],
    ['port share/Manifests/', '3/Manifests'],
    ['Port share › Manifests › 2026', '3/Manifests/2026'],
    ['Port share, old/x', '4/x'],
    ['*/Manifests', '*/Manifests'],
    ['any source/Old*', '*/Old*'],
    ['A/B/c', '5/c'],
  ])('%s is %s, and is said again', (text, value) => {
    expect(readPlace(text, sources)).toEqual({ value });
    expect(readPlace(placeWords(value, sources), sources)).toEqual({ value });
  });

  it.each(['', 'Manifests', 'Port shared', 'Port share/../crew'])('%s is refused', (text) =>
    expect(readPlace(text, sources)).toHaveProperty('wrong'),
  );
});
