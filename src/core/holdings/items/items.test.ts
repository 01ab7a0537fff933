import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Finding } from '../detection/detector/finding.ts';
import { DistinctPeople, peopleMargin, PreparedHashes } from './distinct-people.ts';
import { documentOf, gatherFindings, MATCHES_KEPT, WHOLE_ITEM } from './gathered.ts';
import { countsPeople, identifiesPerson, peopleOf } from './people.ts';

let at = 0;
function finding(detector: string, value: string, more: Partial<Finding> = {}): Finding {
  at += 10;
  return {
    detector,
    version: 1,
    start: at,
    end: at + 5,
    confidence: 0.9,
    steps: [],
    masked: `${value[0] ?? ''}…`,
    hash: value === '' ? '' : Buffer.from(value.padEnd(16, '.')).toString('hex').slice(0, 32),
    place: {},
    ...more,
  };
}
const inRow = (row: number, detector: string, value: string, sheet = 'S') =>
  finding(detector, value, { place: { sheet, row, cell: `A${row}` } });
const count = (findings: readonly Finding[]) => peopleOf(findings).length / 8;

describe('who is a person', () => {
  it.each<[string, readonly Finding[], number]>([
    ['nobody', [], 0],
    [
      'a row with three identifiers is one',
      [inRow(2, 'email', 'a'), inRow(2, 'dk-cpr', '1'), inRow(2, 'person-name', 'A')],
      1,
    ],
    ['two rows are two', [inRow(2, 'email', 'a'), inRow(3, 'email', 'b')], 2],
    ['the same address in two rows is one', [inRow(2, 'email', 'a'), inRow(3, 'email', 'a')], 1],
    [
      'the same row number of two sheets is two',
      [inRow(2, 'email', 'a', 'S'), inRow(2, 'email', 'b', 'T')],
      2,
    ],
    ['a name with a birth date', [inRow(2, 'person-name', 'A'), inRow(2, 'date-of-birth', 'd')], 1],
    [
      'namesakes born on other days are two',
      [1, 2].flatMap((r) => [inRow(r, 'person-name', 'A'), inRow(r, 'date-of-birth', `d${r}`)]),
      2,
    ],
    ['a name alone is nobody for certain', [inRow(2, 'person-name', 'A')], 0],
    [
      'in prose every address is somebody',
      [finding('email', 'a'), finding('email', 'b'), finding('se-personnummer', 'n')],
      3,
    ],
    [
      'in prose one name and one birth date are one',
      [finding('person-name', 'A'), finding('date-of-birth', 'd')],
      1,
    ],
    [
      'in prose two names and one birth date are nobody for certain',
      [finding('person-name', 'A'), finding('person-name', 'B'), finding('date-of-birth', 'd')],
      0,
    ],
    ['a number of a company is no person', [finding('dk-cvr', '1'), finding('us-ein', '2')], 0],
    ['a payment card is no person', [finding('payment-card', '4')], 0],
    ['without a key nothing is counted', [finding('email', '')], 0],
  ])('%s', (_, findings, people) => expect(count(findings)).toBe(people));

  it('is the same one wherever it is found, in order and each once', () => {
    const [a, b] = [
      peopleOf([finding('email', 'a'), finding('email', 'b')]),
      peopleOf([inRow(9, 'email', 'b'), inRow(8, 'email', 'a')]),
    ];
    expect([...a]).toEqual([...b]);
    const keys = [0, 8].map((i) => Buffer.from(a.subarray(i, i + 8)).toString('hex'));
    expect(keys).toEqual(keys.toSorted());
  });

  it('knows the numbers of people from those of organisations', () => {
    expect(['email', 'se-personnummer', 'us-ssn', 'dk-cpr'].every(identifiesPerson)).toBe(true);
    expect(['dk-cvr', 'person-name', 'iban'].some(identifiesPerson)).toBe(false);
    expect(countsPeople('person-name')).toBe(true);
  });
});

describe('distinct people', () => {
  const hashes = (from: number, to: number) => {
    const bytes = new Uint8Array((to - from) * 8);
    const view = new DataView(bytes.buffer);
    for (let i = from; i < to; i++) {
      // A mixer of 64 bits (splitmix64).
      let z = (BigInt(i) * 0x9e3779b97f4a7c15n) & 0xffffffffffffffffn;
      z = ((z ^ (z >> 30n)) * 0xbf58476d1ce4e5b9n) & 0xffffffffffffffffn;
      z = ((z ^ (z >> 27n)) * 0x94d049bb133111ebn) & 0xffffffffffffffffn;
      view.setBigUint64((i - from) * 8, z ^ (z >> 31n));
    }
    return bytes;
  };

  it('are exact below a size, however often they come', () =>
    fc.assert(
      fc.property(fc.array(fc.nat(200), { maxLength: 400 }), (which) => {
        const people = new DistinctPeople(300);
        for (const n of which) people.addAll(hashes(n, n + 1));
        expect(people.count()).toEqual({ people: new Set(which).size, error: 0 });
      }),
    ));

  it.each([30_000, 200_000, 1_000_000])('are within four standard errors above it: %i', (n) => {
    const people = new DistinctPeople();
    for (let i = 0; i < n; i += 50_000) people.addAll(hashes(i, Math.min(n, i + 50_000)));
    people.addAll(hashes(0, 10_000));
    const { people: told, error } = people.count();
    expect(error).toBeGreaterThan(0);
    expect(Math.abs(told / n - 1)).toBeLessThan(4 * error);
  });

  it.each([100, 500, 40_000])(
    'are the same however they are added, one by one, some or all at once: %i',
    (n) => {
      const [first, second] = [hashes(0, n), hashes(n - 50, n + 300)];
      const [one, some, whole] = [400, 400, 400].map((exact) => new DistinctPeople(exact)) as [
        DistinctPeople,
        DistinctPeople,
        DistinctPeople,
      ];
      for (const bytes of [first, second, first]) {
        one.addAll(bytes);
        const prepared = new PreparedHashes(bytes);
        some.addSome(prepared, 0, 60);
        some.addSome(prepared, 60, bytes.length / 8);
        whole.addWhole(prepared);
      }
      expect(some.count()).toEqual(one.count());
      expect(whole.count()).toEqual(one.count());
    },
  );

  it('tell how exact they are', () => {
    expect(peopleMargin({ people: 1234, error: 0 })).toBe('');
    expect(peopleMargin({ people: 11_204, error: 0.0081 })).toBe('± 2%');
  });
});

describe('findings of an item', () => {
  it('are gathered by detector, with nothing lost in the counts', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            d: fc.constantFrom('email', 'phone', 'iban'),
            v: fc.constantFrom('a', 'b', 'c'),
            c: fc.double({ min: 0.4, max: 1, noNaN: true }),
          }),
          { maxLength: 120 },
        ),
        (all) => {
          const findings = all.map(({ d, v, c }) => finding(d, v, { confidence: c }));
          const gathered = gatherFindings(findings);
          expect(gathered.map((g) => g.detector)).toEqual([...new Set(all.map((a) => a.d))].sort());
          for (const g of gathered) {
            const mine = findings.filter((f) => f.detector === g.detector);
            expect(g.matches).toBe(mine.length);
            expect(g.distinct).toBe(new Set(mine.map((f) => f.hash)).size);
            expect(g.confidence).toBe(Math.max(...mine.map((f) => f.confidence)));
            expect(g.kept.length).toBe(Math.min(mine.length, MATCHES_KEPT));
            // Every value is shown before one is shown twice.
            expect(new Set(g.kept.map((k) => k.hash)).size).toBe(Math.min(g.distinct, MATCHES_KEPT));
            expect(g.kept.map((k) => k.content.start)).toEqual(
              g.kept.map((k) => k.content.start).toSorted((a, b) => a - b),
            );
          }
        },
      ),
    ));

  it('that say something of the whole item have no value of their own', () =>
    expect(gatherFindings([finding('certificate', '')])[0]?.kept[0]?.hash).toBe(WHOLE_ITEM));

  it('name the kind of document that is surest', () => {
    const verdict = (detector: string, confidence: number, found = true) =>
      ({ detector, version: 1, found, findings: 1, distinct: 1, confidence, why: '' }) as const;
    const kinds = new Set(['manifest', 'payroll']);
    expect(
      documentOf([verdict('manifest', 0.8), verdict('payroll', 0.9), verdict('email', 1)], kinds),
    ).toEqual({ detector: 'payroll', confidence: 0.9 });
    expect(documentOf([verdict('manifest', 0.9, false)], kinds)).toBeUndefined();
  });
});
