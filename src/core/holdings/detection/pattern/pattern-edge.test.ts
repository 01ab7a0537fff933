import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { foldUnits } from './code-shape.ts';
import { BUILT_INS } from '../library/library.ts';
import { edgeOf, keepsWords } from './pattern-edge.ts';
import { parse } from './pattern-syntax.ts';
import { runs } from '../../../../../tests/property-runs.ts';

const edges = (pattern: string, ignoreCase = false) => {
  const ast = parse(pattern);
  return [edgeOf(ast, ignoreCase, 'start'), edgeOf(ast, ignoreCase, 'end')] as const;
};

describe('the edges of a pattern', () => {
  it.each([
    ['a number that must not be part of another', '(?<!\\d)\\d{4}(?!\\d)', true],
    ['one that may', '\\d{4}', false],
    ['one with more digits behind it', '(?<!\\d)\\d{4}', false],
    ['letters with digits before them', '(?<!\\d)[A-Z]{2}(?!\\p{L})', false],
    [
      'a choice in which each is held',
      '(?:(?<![a-zA-Z\\d])\\d|(?<![\\p{L}\\d])[a-z])(?![\\p{L}\\p{N}])',
      true,
    ],
    ['a choice in which one is not', '(?:(?<!\\d)\\d|[a-z])(?![\\p{L}\\p{N}])', false],
    ['what may end with nothing', '(?<!\\d)\\d(?:[a-z](?!\\p{L}))?', false],
    ['a class of all but some', '(?<![^ ])\\d{2}(?![^ ])', true],
    ['a forbidden row of two', '(?<!\\d\\d)\\d{2}(?!\\d)', false],
    ['neither letter nor digit', '@#', true],
  ])('tell whether it cuts words: %s', (_, pattern, keeps) => {
    expect(keepsWords(edges(pattern))).toBe(keeps);
  });

  it('hold of every match of a built-in detector in the texts of the library', () => {
    const texts = BUILT_INS.flatMap((b) => [...b.examples, ...b.counterExamples]).map((t) =>
      `før ${t} efter`.replace(/[⟦⟧]/g, ''),
    );
    let matches = 0;
    for (const { anchor } of BUILT_INS) {
      if (anchor.by !== 'pattern') continue;
      const [start, end] = edges(anchor.pattern, anchor.ignoreCase ?? false);
      for (const t of texts) {
        const units = foldUnits(t);
        for (const m of t.matchAll(new RegExp(anchor.pattern, anchor.ignoreCase ? 'giu' : 'gu'))) {
          const to = m.index + m[0].length;
          expect(start.inside[units[m.index] as number], `${anchor.pattern} in “${t}”`).toBe(1);
          expect(end.inside[units[to - 1] as number], `${anchor.pattern} in “${t}”`).toBe(1);
          if (m.index > 0) expect(start.barred[units[m.index - 1] as number]).toBe(0);
          if (to < t.length) expect(end.barred[units[to] as number]).toBe(0);
          matches++;
        }
      }
    }
    expect(matches).toBeGreaterThan(500);
  });

  it('leave out nothing that a class may take', () => {
    const piece = fc.constantFrom(
      '\\d',
      '[A-Z]',
      '\\p{Lu}',
      '\\p{Ll}',
      '[å-ö]',
      '\\w',
      '.',
      '[^a]',
      'Ł',
      '-',
    );
    const sign = fc.constantFrom('7', 'K', 'k', 'Ā', 'ā', 'Ł', 'å', 'ö', ' ', '\u2019', '-', '_', 'a', '٣');
    fc.assert(
      fc.property(piece, piece, sign, sign, fc.boolean(), (a, b, x, y, ignoreCase) => {
        const text = x + y;
        fc.pre(new RegExp(`^${a}${b}$`, ignoreCase ? 'iu' : 'u').test(text));
        const [start, end] = edges(a + b, ignoreCase);
        const units = foldUnits(text);
        expect([start.inside[units[0] as number], end.inside[units[1] as number]]).toEqual([1, 1]);
      }),
      runs(250),
    );
  });
});
