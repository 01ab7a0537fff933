import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { matchesGlob } from '../../text/glob.ts';
import { isIncluded, Scope, shapeOf, WHOLE_SITE } from './scope.ts';

test.each([
  ['/', '/'],
  ['/about', '/about'],
  ['/about/', '/about/'],
  ['/news/a-long-story', '/news/*'],
  ['/ships/hale/menu', '/ships/hale/*'],
  ['/ships/12/menu', '/ships/*/*'],
  ['/p?id=7&page=2', '/p?id&page'],
])('the shape of %s is %s', (path, shape) => {
  expect(shapeOf(`https://a.example${path}`)).toBe(shape);
});

test.each([
  [[], [], '/anything', true],
  [['/offers/*'], [], '/offers/spring', true],
  [['/offers/*'], [], '/news', false],
  [[], ['/offers/*'], '/offers/spring', false],
  [['*'], ['*?print=*'], '/x?print=1', false],
  [['/x'], [], '/x?a=1', true],
])('only %o, none of %o: %s is in: %s', (include, exclude, path, inside) => {
  expect(isIncluded({ include, exclude }, `https://a.example${path}`)).toBe(inside);
});

it('refuses limits that make no sense, naming each', () => {
  const read = Scope.safeParse({ maxPages: 0, maxDepth: -1, include: ['offers'], paceMs: 1e9 });
  expect(read.error?.issues.map((i) => i.path[0])).toEqual(
    expect.arrayContaining(['maxPages', 'maxDepth', 'include', 'paceMs']),
  );
  expect(WHOLE_SITE).toMatchObject({ maxPages: 250, sitemap: true, perShape: null });
});

it('matches a glob as the expression it stands for does', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', '/', '*', '.'), maxLength: 12 });
  fc.assert(
    fc.property(text, text, (pattern, given) => {
      const escaped = pattern
        .split('*')
        .map((p) => p.replace(/[.]/g, '\\.'))
        .join('.*');
      expect(matchesGlob(pattern, given)).toBe(new RegExp(`^${escaped}$`, 's').test(given));
    }),
  );
  expect(matchesGlob(`${'*a'.repeat(30)}b`, 'a'.repeat(5000))).toBe(false);
});
