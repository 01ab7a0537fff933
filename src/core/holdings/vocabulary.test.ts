import fc from 'fast-check';
import { expect, it } from 'vitest';
import { foldUnits } from './code-shape.ts';
import { PhraseSet } from './phrase-set.ts';
import { TokenRow } from './token-row.ts';
import { tokenize } from './token.ts';
import { Vocabulary } from './vocabulary.ts';

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
  const vocabulary = new Vocabulary();
  return { vocabulary, known: new PhraseSet(PHRASES, vocabulary), plain: new PhraseSet(PHRASES) };
}

it('reads the words that are read without it, and knows where phrases begin', () => {
  const { vocabulary, known, plain } = made();
  fc.assert(
    fc.property(text, (t) => {
      const slow = tokenize(t, 0, t.length);
      const quick = vocabulary.tokenize(t, foldUnits(t), 0, t.length);
      expect(quick.map(({ word, start, end }) => ({ word, start, end }))).toEqual(slow);
      for (const i of slow.keys()) expect(known.matchAt(quick, i)).toBe(plain.matchAt(slow, i));
    }),
    { numRuns: 500 },
  );
});

it('gives the same tokens in a row, in whatever order stretches of it are asked for', () => {
  const { vocabulary } = made();
  fc.assert(
    fc.property(
      text,
      fc.array(fc.tuple(fc.nat(90), fc.nat(90)), { minLength: 1, maxLength: 6 }),
      (t, asked) => {
        const row = new TokenRow(t, foldUnits(t), vocabulary);
        for (const [a, b] of asked) {
          const [from, to] = [Math.min(a, b, t.length), Math.min(Math.max(a, b), t.length)];
          const { tokens, low, high } = row.within(from, to, { from: false, to: false }) ?? {
            tokens: [],
            low: 0,
            high: 0,
          };
          expect(tokens.slice(low, high).map((token) => token.word)).toEqual(
            tokenize(t, 0, t.length)
              .filter(({ start }) => start >= from && start < to)
              .map(({ word }) => word),
          );
        }
      },
    ),
    { numRuns: 500 },
  );
});
