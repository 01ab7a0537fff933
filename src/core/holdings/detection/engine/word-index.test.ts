import fc from 'fast-check';
import { expect, it } from 'vitest';
import { foldUnits } from '../pattern/code-shape.ts';
import { ScanKernel, WORD } from './scan-kernel.ts';
import { kindOf, LETTER } from '../words/unit-kind.ts';
import { WordIndex } from './word-index.ts';
import { runs } from '../../../../../tests/property-runs.ts';

const letter = fc.constantFrom('a', 'b', 'z', 'é', 'ł');
const entry = fc.record({
  text: fc.array(letter, { minLength: 3, maxLength: 10 }).map((letters) => letters.join('')),
  whole: fc.boolean(),
  capital: fc.boolean(),
});
/** Between the entries of a text: what ends a word, what goes on with it, and nothing. */
const between = fc.constantFrom(' ', ' ', '-', '7', 'a', '', '\n', '→');
const isLetterAt = (text: string, i: number) =>
  i >= 0 && i < text.length && kindOf(text.charCodeAt(i)) === LETTER;

it('finds every entry that begins a word, in whatever case, and passes over none', () => {
  fc.assert(
    fc.property(
      fc.array(entry, { minLength: 1, maxLength: 12 }),
      fc.array(fc.tuple(fc.nat(11), fc.nat(2), between), { maxLength: 20 }),
      (entries, parts) => {
        const index = new WordIndex<number>();
        for (const [of, e] of entries.entries()) index.add({ ...e, of });
        const kernel = new ScanKernel(index.tables(), []);
        const text = parts
          .map(([at, way, gap]) => {
            const word = (entries[at % entries.length] as { text: string }).text;
            const written =
              way === 0 ? word : way === 1 ? word.toUpperCase() : `${word[0]?.toUpperCase()}${word.slice(1)}`;
            return written + gap;
          })
          .join('');
        const units = new Uint8Array(text.length + 16);
        units.set(foldUnits(text));
        const found = new Set<string>();
        kernel.run(units, 0, text.length, (i, kind) => {
          if (kind === WORD) for (const e of index.at(text, units, i)) found.add(`${i} ${e.of}`);
        });
        for (let i = 0; i < text.length; i++) {
          if (isLetterAt(text, i - 1) || !isLetterAt(text, i)) continue;
          for (const [of, e] of entries.entries()) {
            const end = i + e.text.length;
            const stands =
              text.slice(i, end).toLowerCase() === e.text &&
              (!e.whole || !isLetterAt(text, end)) &&
              (!e.capital || text[i] !== text[i]?.toLowerCase());
            expect([text, i, e, found.has(`${i} ${of}`)]).toEqual([text, i, e, stands]);
          }
        }
      },
    ),
    runs(150),
  );
});

it('refuses an entry that is too short to be told by its beginning', () => {
  expect(() => new WordIndex<number>().add({ text: 'ab', whole: true, capital: false, of: 0 })).toThrow(
    /three letters/,
  );
});
