import fc from 'fast-check';
import { expect, it } from 'vitest';
import { foldUnits } from '../pattern/code-shape.ts';
import { PhraseSet } from './phrase-set.ts';
import { TokenRow, type TokenSpan } from './token-row.ts';
import { TokenList, tokenize } from './token.ts';
import { Lexicon } from './lexicon.ts';
import { runs } from '../../../../../tests/property-runs.ts';

const PHRASES = ['order', 'order no', 'år*', 'Straße', 'ΟΔΟΣ', 'i̇d', '12'];
const text = fc
  .array(
    fc.constantFrom(
      'order',
      'ORDER',
      ' ',
      ' ',
      'no',
      'Årgang',
      'straße',
      'ΟΔΟΣ',
      'İd',
      '12',
      '-',
      'x',
      '\u0301',
      '😀',
    ),
    {
      maxLength: 30,
    },
  )
  .map((parts) => parts.join(''));

function made() {
  const lexicon = new Lexicon();
  return { lexicon, known: new PhraseSet(PHRASES, lexicon), plain: new PhraseSet(PHRASES) };
}

it('reads the words that are read without it, and knows where phrases begin', () => {
  const { lexicon, known, plain } = made();
  fc.assert(
    fc.property(text, (t) => {
      const slow = tokenize(t, 0, t.length);
      const row = new TokenRow(lexicon);
      row.take(t, foldUnits(t));
      const { low, high } = row.within(0, t.length, false, false) as TokenSpan;
      const quick = slow.map((_, i) => low + i);
      expect(high - low).toBe(slow.length);
      expect(quick.map((i) => ({ word: row.word(i), start: row.start(i), end: row.end(i) }))).toEqual(slow);
      const list = new TokenList(slow);
      for (const i of slow.keys()) {
        const n = plain.matchAt(list, i, slow.length);
        expect(known.matchAt(row, low + i, high)).toBe(n);
        if (n > 0) expect(row.hasBegun(known.number)).toBe(true);
      }
    }),
    runs(250),
  );
});

it('gives the same tokens in a row, in whatever order stretches of it are asked for', () => {
  const { lexicon } = made();
  fc.assert(
    fc.property(
      text,
      fc.array(fc.tuple(fc.nat(90), fc.nat(90)), { minLength: 1, maxLength: 6 }),
      (t, asked) => {
        const row = new TokenRow(lexicon);
        row.take(t, foldUnits(t));
        for (const [a, b] of asked) {
          const [from, to] = [Math.min(a, b, t.length), Math.min(Math.max(a, b), t.length)];
          const { low, high } = row.within(from, to, false, false) as TokenSpan;
          expect(Array.from({ length: high - low }, (_, i) => row.word(low + i))).toEqual(
            tokenize(t, 0, t.length)
              .filter(({ start }) => start >= from && start < to)
              .map(({ word }) => word),
          );
        }
      },
    ),
    runs(250),
  );
});
