import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import wabt from 'wabt';
import { foldUnits } from '../pattern/code-shape.ts';
import { tokenize } from './token.ts';
import { TOKEN_CODE } from './token-code.ts';
import { FIRST_SLOTS, TokenKernel, UNTOLD, WIDEST_READ } from './token-kernel.ts';
import { runs } from '../../../../../tests/property-runs.ts';

it('is what its source assembles to', async () => {
  const source = await readFile(join(import.meta.dirname, 'token.wat'), 'utf8');
  const { buffer } = (await wabt()).parseWat('token.wat', source, { simd: true }).toBinary({});
  expect(Buffer.from(buffer).toString('base64')).toBe(TOKEN_CODE);
});

const plain = fc
  .array(
    fc.constantFrom(
      'a',
      'B',
      'z',
      'Z',
      '@',
      '[',
      '`',
      '{',
      '0',
      '9',
      '/',
      ':',
      ' ',
      ' ',
      '\n',
      'seventeen',
      'Abc1',
    ),
    { maxLength: 200 },
  )
  .map((parts) => parts.join(''));

it('reads the words that a plain loop reads, from anywhere to anywhere', () => {
  const kernel = new TokenKernel(new Uint8Array(FIRST_SLOTS));
  fc.assert(
    fc.property(plain, fc.nat(40), fc.nat(40), (text, skip, rest) => {
      const from = Math.min(skip, text.length);
      const to = Math.max(from, text.length - rest);
      const count = kernel.read(foldUnits(text), from, to);
      const read = Array.from({ length: count }, (_, k) => [kernel.starts[k], kernel.ends[k]]);
      expect(read).toEqual(tokenize(text, from, to).map(({ start, end }) => [start, end]));
      expect([...kernel.places.subarray(0, count)].every((place) => place === 0)).toBe(true);
      expect(kernel.untold).toBe(0);
    }),
    runs(250),
  );
});

it('gives each word the place that it was told of it, whatever its case, and no other', () => {
  const kernel = new TokenKernel(new Uint8Array(FIRST_SLOTS).fill(1));
  const word = fc
    .array(fc.constantFrom('a', 'b', 'Q', '1', '7'), { minLength: 1, maxLength: 18 })
    .map((signs) => signs.join(''));
  const places = new Map<string, number>();
  fc.assert(
    fc.property(fc.array(word, { maxLength: 20 }), (words) => {
      const text = words.join(' ');
      const count = kernel.read(foldUnits(text), 0, text.length);
      let untold = 0;
      for (let k = 0; k < count; k++) {
        const [start, end] = [kernel.starts[k] as number, kernel.ends[k] as number];
        const lower = text.slice(start, end).toLowerCase();
        const place = kernel.places[k] as number;
        if (place === UNTOLD) {
          untold++;
          const known = places.get(lower) ?? places.size + 1;
          places.set(lower, known);
          kernel.tell(start, end, known);
        } else expect([lower, place]).toEqual([lower, places.get(lower)]);
      }
      expect(kernel.untold).toBe(untold);
    }),
    runs(250),
  );
  expect(places.size).toBeGreaterThan(100);
});

it('leaves to others what is not of ASCII, and what is too long', () => {
  const kernel = new TokenKernel(new Uint8Array(FIRST_SLOTS));
  const read = (text: string, to = text.length) => kernel.read(foldUnits(text), 0, to);
  expect(read(`${'word '.repeat(30)}å`)).toBe(-1);
  expect(read(`${'word '.repeat(30)}→`)).toBe(-1);
  expect(read(`${'word '.repeat(30)}å`, 150)).toBe(30);
  expect(read('1 '.repeat(WIDEST_READ / 2))).toBe(WIDEST_READ / 2);
  expect(read('1'.repeat(WIDEST_READ + 1))).toBe(-1);
});
