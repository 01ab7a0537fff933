import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../../tests/property-runs.ts';
import { holds } from './lens-item.ts';
import { isNarrower } from './lens-narrow.ts';
import { parseLens } from './lens-text.ts';
import type { Lens } from './lens.ts';

describe('a lens that is narrower than another', () => {
  it.each([
    ['data one of "card"', 'everything'],
    ['data one of "card"', 'data one of "card", "health"'],
    ['data one of "card" and place in "3/crew"', 'place in "3"'],
    ['data one of "card" and place in "3/crew"', 'data one of "card" or people at least 5'],
    ['people at least 50', 'people at least 5 or name holding "list"'],
    ['data one of "card" or data one of "iban"', 'data one of "card", "iban", "health"'],
    ['not people at least 5', 'not people at least 50'],
    ['name holding "Passenger list"', 'name holding "LIST"'],
    ['changed since 2026-02-01', 'changed since 2026-01-01'],
    ['changed longer ago than 3 years', 'changed longer ago than 2 years'],
    ['nothing', 'people at least 5'],
  ])('%s, than %s', (a, b) => {
    expect(isNarrower(parseLens(a), parseLens(b))).toBe(true);
  });

  it.each([
    ['everything', 'data one of "card"'],
    ['place in "31"', 'place in "3"'],
    ['data one of "card", "health"', 'data one of "card"'],
    ['not people at least 50', 'not people at least 5'],
    ['changed longer ago than 1 years', 'changed longer ago than 6 months'],
    ['data unknown', 'data one of "card"'],
  ])('not known of %s and %s', (a, b) => {
    expect(isNarrower(parseLens(a), parseLens(b))).toBe(false);
  });

  it('has no item that the other has not', () => {
    const clause: fc.Arbitrary<Lens> = fc.oneof(
      fc.integer({ min: 0, max: 4 }).map((number) => ({ fact: 'people', is: 'at least' as const, number })),
      fc.integer({ min: 0, max: 4 }).map((number) => ({ fact: 'people', is: 'at most' as const, number })),
      fc
        .subarray(['a', 'b', 'c'], { minLength: 1 })
        .map((values) => ({ fact: 'data', is: 'one of' as const, values })),
      fc.constantFrom('s', 's/x', 's/xy').map((place) => ({ fact: 'place', is: 'in' as const, place })),
      fc.constantFrom('people', 'data', 'place').map((fact) => ({ fact, is: 'unknown' as const })),
    );
    const lens = fc.letrec<{ lens: Lens }>((tie) => ({
      lens: fc.oneof(
        { maxDepth: 2 },
        clause,
        fc.array(tie('lens'), { maxLength: 2 }).map((all) => ({ all })),
        fc.array(tie('lens'), { maxLength: 2 }).map((any) => ({ any })),
        tie('lens').map((not) => ({ not })),
      ),
    })).lens;
    const items = fc.array(
      fc.record(
        {
          people: fc.integer({ min: 0, max: 5 }),
          data: fc.subarray(['a', 'b', 'c']),
          place: fc.constantFrom('s', 's/x', 's/x/y', 's/xy', 't'),
        },
        { requiredKeys: [] },
      ),
      { maxLength: 20 },
    );
    let narrower = 0;
    fc.assert(
      fc.property(lens, lens, items, (a, b, all) => {
        for (const [x, y] of [
          [a, b],
          [{ all: [a, b] }, a],
          [a, { any: [b, a] }],
        ] as const) {
          if (!isNarrower(x, y)) continue;
          narrower++;
          for (const item of all) {
            const facts = (fact: string) => (item as Record<string, number | string | string[]>)[fact];
            if (holds(x, facts, '2026-11-29')) expect(holds(y, facts, '2026-11-29')).toBe(true);
          }
        }
      }),
      runs(300),
    );
    expect(narrower).toBeGreaterThan(100);
  });
});
