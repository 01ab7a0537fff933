import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pageCover } from './page-cover.ts';

const seen = (pages: readonly (readonly string[])[]) =>
  pages.map((onPages, i) => ({ kind: 'cookie', name: `n${i}`, host: 'x', sighting: { onPages } }) as const);

describe('the pages that show all trackers', () => {
  it('are few', () => {
    expect(pageCover(seen([['/', '/a'], ['/a'], ['/a', '/b'], ['/c']]), 10)).toEqual(['/a', '/c']);
    expect(pageCover(seen([]), 10)).toEqual([]);
    expect(pageCover(seen([['/'], ['/a'], ['/b']]), 2)).toHaveLength(2);
  });

  it('miss none of them, and none stands there for nothing', () => {
    const page = fc.constantFrom<string>('/', '/a', '/b', '/c', '/d');
    fc.assert(
      fc.property(fc.array(fc.uniqueArray(page, { minLength: 1 }), { maxLength: 12 }), (pages) => {
        const cover = pageCover(seen(pages), 99);
        expect(pages.every((on) => on.some((p) => cover.includes(p)))).toBe(true);
        expect(new Set(cover).size).toBe(cover.length);
        expect(cover.every((p) => pages.some((on) => on.includes(p)))).toBe(true);
      }),
    );
  });
});
