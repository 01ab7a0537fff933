import fc from 'fast-check';
import { expect, it } from 'vitest';
import { bodyOfAlone, patternFromExamples } from './pattern-example.ts';

it.each([
  [['SM-4417 0928 3'], 'SM-\\d{4}\\s?\\d{4}\\s?\\d'],
  [['C-12345', 'K-1234567'], '\\p{Lu}-\\d{5,7}'],
  [['AB12', 'AB34'], 'AB\\d{2}'],
  [['12/34', 'X9'], '\\d{2}\\/\\d{2}|X\\d'],
  [['(42) pcs'], '\\(\\d{2}\\)\\s?pcs'],
])('reads %j as %s', (examples, body) => {
  expect(bodyOfAlone(patternFromExamples(examples))).toBe(body);
});

it('asks for an example', () => {
  expect(() => patternFromExamples(['  '])).toThrow('Give an example');
});

it('always matches its own examples, alone and not within a longer word', () => {
  const one = fc
    .string({ unit: fc.constantFrom(...'ABxyz019-./ ()+'), minLength: 1, maxLength: 14 })
    .map((s) => s.trim())
    .filter((s) => /^[A-Za-z0-9].*[A-Za-z0-9]$/.test(s));
  fc.assert(
    fc.property(fc.array(one, { minLength: 1, maxLength: 4 }), (examples) => {
      const pattern = new RegExp(patternFromExamples(examples), 'u');
      for (const e of examples) {
        expect(pattern.exec(`value ${e} here`)?.[0]).toBeDefined();
        expect(new RegExp(`^(?:${bodyOfAlone(pattern.source)})$`, 'u').test(e.replace(/\s+/g, ' '))).toBe(
          true,
        );
      }
    }),
  );
});
