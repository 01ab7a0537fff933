import fc from 'fast-check';
import { expect, it } from 'vitest';
import { holds } from '../../lens/lens-item.ts';
import { parseLens } from '../../lens/lens-text.ts';
import type { Lens } from '../../lens/lens.ts';
import { AGES, ageWords, formLens, lensForm } from './lens-form.ts';

it.each([
  ['everything', { data: [], documents: [], place: '', age: '', rest: [] }],
  ['data one of "email"', { data: ['email'] }],
  [
    'data one of "email" and place in "1/a" and changed longer ago than 5 years',
    { data: ['email'], place: '1/a', age: 'longer ago than 5 years' },
  ],
  [
    'data one of "a" and data one of "b"',
    { data: ['a'], rest: [{ fact: 'data', is: 'one of', values: ['b'] }] },
  ],
  ['changed since 2026-01-01', { age: '', rest: [{ fact: 'changed', is: 'since', day: '2026-01-01' }] }],
  [
    'not data one of "email"',
    { data: [], rest: [{ not: { fact: 'data', is: 'one of', values: ['email'] } }] },
  ],
])('%s stands in slots', (line, form) => expect(lensForm(parseLens(line))).toMatchObject(form));

it('is the same lens again out of its slots', () => {
  const anyClause: fc.Arbitrary<Lens> = fc.constantFrom<Lens>(
    { fact: 'data', is: 'one of', values: ['email'] },
    { fact: 'data', is: 'one of', values: ['iban', 'email'] },
    { fact: 'document', is: 'one of', values: ['manifest'] },
    { fact: 'place', is: 'in', place: '1/a' },
    { fact: 'changed', is: 'within', span: { count: 2, unit: 'years' } },
    { fact: 'changed', is: 'before', day: '2025-01-01' },
    { fact: 'owner', is: 'unknown' },
  );
  const anyLens = fc.oneof(
    anyClause,
    fc.array(anyClause, { maxLength: 5 }).map((all) => ({ all })),
    fc.array(anyClause, { maxLength: 3 }).map((any) => ({ any })),
    anyClause.map((not) => ({ not })),
  );
  const anyItem = fc.record({
    data: fc.subarray(['email', 'iban']),
    document: fc.constantFrom('manifest', undefined),
    place: fc.constantFrom('1', '1/a/b'),
    changed: fc.constantFrom('2024-05-05', '2026-05-05', undefined),
  });
  fc.assert(
    fc.property(anyLens, anyItem, (lens, item) => {
      const facts = (f: string) => item[f as keyof typeof item];
      expect(holds(formLens(lensForm(lens)), facts, '2026-11-29')).toBe(holds(lens, facts, '2026-11-29'));
      expect(lensForm(formLens(lensForm(lens)))).toEqual(lensForm(lens));
    }),
  );
});

it('says each age', () =>
  expect(AGES.map(ageWords)).toEqual([
    'any age',
    'changed within 7 days',
    'changed within 3 months',
    'changed within 1 year',
    'changed longer ago than 1 year',
    'changed longer ago than 2 years',
    'changed longer ago than 5 years',
  ]));
