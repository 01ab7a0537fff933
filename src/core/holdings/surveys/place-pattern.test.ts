import fc from 'fast-check';
import { expect, it } from 'vitest';
import { matchesPlace } from './place-pattern.ts';

it.each([
  ['Backup', 'Backup', true],
  ['backup', 'Old/Backup/2024', true],
  ['Backup', 'Backups', false],
  ['Back*', 'a/Backups/b', true],
  ['Manifests/2024', 'Manifests/2024', true],
  ['Manifests/2024', 'Manifests/2024/MS Hale', true],
  ['Manifests/2024', 'Archive/Manifests/2024', false],
  ['**/2024', 'Archive/Manifests/2024', true],
  ['Manifests/**/MS ?ale', 'Manifests/2024/MS Hale', true],
  ['Manifests/**/MS ?ale', 'Manifests/MS Hale', true],
  ['Manifests/*/MS Hale', 'Manifests/MS Hale', false],
  ['', 'a', false],
  ['/', 'a', false],
])('%j against %j: %s', (pattern, place, matches) => expect(matchesPlace(pattern, place)).toBe(matches));

it('is the same as a regular expression for what those can say', () => {
  const Step = fc.string({ unit: fc.constantFrom('a', 'b', '*', '?'), minLength: 1, maxLength: 4 });
  const Pattern = fc.array(
    fc.oneof({ weight: 3, arbitrary: Step }, { weight: 1, arbitrary: fc.constant('**') }),
    {
      minLength: 2,
      maxLength: 4,
    },
  );
  const Place = fc.array(fc.string({ unit: fc.constantFrom('a', 'b'), minLength: 1, maxLength: 3 }), {
    minLength: 1,
    maxLength: 5,
  });
  fc.assert(
    fc.property(Pattern, Place, (pattern, place) => {
      fc.pre(!pattern.some((s) => s !== '**' && s.includes('**')) && !pattern.every((s) => s === '**'));
      const source = pattern
        .map((s) => (s === '**' ? '(?:[^/]+/)*' : `${s.replaceAll('*', '[^/]*').replaceAll('?', '[^/]')}/`))
        .join('');
      expect(matchesPlace(pattern.join('/'), place.join('/'))).toBe(
        new RegExp(`^${source}`).test(`${place.join('/')}/`),
      );
    }),
  );
});

it('is quick where a careless pattern would try for ever', () =>
  expect(matchesPlace('**/a*/'.repeat(40) + 'b', 'a/'.repeat(400))).toBe(false));
