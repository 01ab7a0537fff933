import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { withoutPersonal } from './anonymous-text.ts';

const name = (start: number, end: number, what = 'name') => ({ start, end, what });

describe('a text without what is personal in it', () => {
  it.each([
    ['Tove sails at 9.', [name(0, 4)], '[name] sails at 9.', 1],
    ['mail tove@x.example', [name(5, 9), name(5, 19, 'email')], 'mail [email]', 1],
    ['Tove Lind, Bo', [name(0, 9), name(5, 9), name(11, 13)], '[name], [name]', 2],
    ['ToveLind', [name(0, 4), name(4, 8)], '[name]', 1],
    ['Tove Lindqvist', [name(0, 6), name(5, 14)], '[name]', 1],
    ['nothing', [], 'nothing', 0],
    ['', [name(0, 0)], '', 0],
  ])('of “%s”', (text, found, wanted, values) =>
    expect(withoutPersonal(text, found)).toEqual({ text: wanted, values }),
  );

  it('keeps every sign that nothing was found on, in order, and none that something was', () => {
    fc.assert(
      fc.property(
        fc.string({ minLength: 0, maxLength: 40, unit: fc.constantFrom(...'abcdefgh ') }),
        fc.array(fc.tuple(fc.nat(40), fc.nat(12)), { maxLength: 6 }),
        (text, stretches) => {
          const found = stretches.map(([start, length]) =>
            name(Math.min(start, text.length), Math.min(start + length, text.length), 'X'),
          );
          const covered = (i: number) => found.some((f) => f.start <= i && i < f.end);
          // Sign by sign, the slow way.
          let wanted = '';
          for (let i = 0; i < text.length; i++)
            if (!covered(i)) wanted += text[i];
            else if (!covered(i - 1)) wanted += '[X]';
          expect(withoutPersonal(text, found).text).toBe(wanted);
        },
      ),
    );
  });
});
