import { expect, it } from 'vitest';
import { foldUnits } from './code-shape.ts';
import { BUILT_INS } from '../library/library.ts';
import { needsOf, SHAPE_MARGIN } from './pattern-needs.ts';
import { ShapeMemory } from '../engine/shape-memory.ts';

/** Whether the pattern may match with its first digit in the digits that begin at `at`. */
function mayFit(pattern: string, text: string, at = text.search(/\d/)): boolean {
  const { need } = needsOf(pattern, false);
  if (need.by !== 'digits') throw new RangeError(`${pattern} is not sought by its digits`);
  const units = foldUnits(text);
  let end = at;
  while (end < text.length && /\d/.test(text[end] as string)) end++;
  const [low, high] = [Math.max(0, at - SHAPE_MARGIN), Math.min(text.length, end + SHAPE_MARGIN)];
  return new ShapeMemory<boolean>().of(units, low, high, { from: at, to: end }, 0, need.mayFit.inText);
}

it('passes over no match of a built-in detector, in any text of the library', () => {
  const texts = BUILT_INS.flatMap((b) => [...b.examples, ...b.counterExamples]).map((t) =>
    `before ${t} behind`.replace(/[⟦⟧]/g, ''),
  );
  let matches = 0;
  for (const { anchor } of BUILT_INS) {
    if (anchor.by !== 'pattern' || needsOf(anchor.pattern, anchor.ignoreCase ?? false).need.by !== 'digits')
      continue;
    for (const t of texts)
      for (const m of t.matchAll(new RegExp(anchor.pattern, 'gu'))) {
        const at = m.index + m[0].search(/\d/);
        expect(mayFit(anchor.pattern, t, at), `${anchor.pattern} in “${t}”`).toBe(true);
        matches++;
      }
  }
  expect(matches).toBeGreaterThan(500);
});

it.each([
  ['a match that begins far before the digits', '[a-z ]{20}\\d', 'so many words stand before7 it', true],
  ['one that cannot', '[a-z]{20}\\d', 'so many words stand before 7', false],
  ['a match that ends far behind them', '\\d{2}(?: [a-z]+){9}', '12 a b c d e f g h i j', true],
  ['one that cannot go on', '\\d{2}(?:-[a-z]+){9}', '12 a-b', false],
  ['what must not stand before', '(?<![\\p{L}\\p{N}])\\d{3}', 'x123', false],
  ['what must not stand behind', '\\d{3}(?![\\p{L}\\p{N}])', ' 1234', true],
  ['nor behind all of them', '(?<!\\p{N})\\d{3}(?!\\p{N})', ' 1234', false],
  ['a mark, which is no letter', '\\d{3}(?!\\p{L})', '123\u0301', true],
  ['a letter beyond Latin-1', '\\p{Lu}\\d{3}', 'Ā123', true],
  ['what is forbidden only in part', '\\d{3}(?![a-c])', '123a', true],
  ['what begins only behind these digits', '\\d\\.\\d{4}', '12 a 34', false],
  ['a forbidden row with something forbidden in it', '\\d{3}(?! \\d(?!x))', '123 4', true],
])('tells %s', (_, pattern, text, fits) => {
  expect(mayFit(pattern, text)).toBe(fits);
});
