import fc from 'fast-check';
import { expect, it } from 'vitest';
import { comparable, mask } from './mask.ts';

const written = fc.string({ unit: fc.constantFrom('a', 'Z', '7', '-', ' ', '.', '_'), maxLength: 16 });

it('covers and compares plain ASCII as it does everything else', () => {
  fc.assert(
    fc.property(written, fc.constantFrom('ends' as const, 'all' as const), (value, how) => {
      // A sign beyond ASCII at the end takes the long way, and is no letter.
      expect(mask(`${value}…`, how)).toBe(`${mask(value, how)}…`);
      fc.pre(/[a-z0-9]/i.test(value));
      expect(comparable(`${value}–`)).toBe(comparable(value));
    }),
  );
});
