import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dayInName, dayInText, dayOfItem, MarkedDays, plainMarks } from './name-days.ts';

describe('the day in a name', () => {
  it.each([
    ['manifest-2026-07-02-MS-Hale-12.xlsx', '2026-07-02'],
    ['2026_07_02 incident.docx', '2026-07-02'],
    ['IMG20260702.png', '2026-07-02'],
    ['lost 02.07.2026.csv', '2026-07-02'],
    ['letter of 2 July 2026.docx', '2026-07-02'],
    ['payroll-2026-02.xlsx', '2026-02-28'],
    ['payroll-2024_02.xlsx', '2024-02-29'],
    ['from 2026-07-02 to 2026-07-09', '2026-07-02'],
    // A number that only looks like one.
    ['invoice-202607021.pdf', undefined],
    ['order 2026-13-02', undefined],
    ['31.02.2026', undefined],
    ['roster 31 summer 2026', undefined],
    ['manifest.xlsx', undefined],
    ['4500-2026-1', undefined],
  ])('%s is %s', (name, day) => expect(dayInName(name)).toBe(day));

  it('is else that of the nearest folder', () => {
    expect(dayOfItem('scan.pdf', '2025-01-01/2026-07-02/x')).toBe('2026-07-02');
    expect(dayOfItem('scan-2026-08-01.pdf', '2025-01-01')).toBe('2026-08-01');
    expect(dayOfItem('scan.pdf', 'x')).toBeUndefined();
  });
});

describe('days by marks', () => {
  const of = (...rows: readonly [string, string][]) =>
    new MarkedDays(new Map(rows.map(([m, d]) => [plainMarks(m).trim(), d])));
  it.each([
    ['manifest-2026-07-02-MS-Hale-12.xlsx', '2026-07-03'],
    // The longer mark is the surer one.
    ['Manifest 2026 07 02 ms hale (late).xlsx', '2026-07-04'],
    ['manifest-2026-07-02-MS-Hales.xlsx', undefined],
    ['Ærø-tur.pdf', '2026-01-01'],
  ])('%s is %s', (name, day) => {
    const days = of(
      ['2026-07-02 MS Hale', '2026-07-03'],
      ['2026-07-02 MS Hale late', '2026-07-04'],
      ['ærø', '2026-01-01'],
    );
    expect(days.dayIn(name)).toBe(day);
  });

  it('are found where a mark stands as whole words, the longest first, as a search of all says', () => {
    const word = fc.constantFrom('a', 'b', 'ab', '1', '12');
    const words = fc.array(word, { minLength: 1, maxLength: 3 });
    fc.assert(
      fc.property(
        fc.uniqueArray(words, { selector: (w) => w.join(' '), maxLength: 6 }),
        fc.array(word, { maxLength: 6 }),
        (marks, name) => {
          const day = (i: number) => `2026-01-0${i + 1}`;
          const days = of(...marks.map((m, i) => [m.join('-'), day(i)] as [string, string]));
          const at = (m: readonly string[]) => ` ${name.join(' ')} `.indexOf(` ${m.join(' ')} `);
          const [best] = marks
            .map((m, i) => ({ m, i }))
            .filter(({ m }) => at(m) >= 0)
            .toSorted((a, b) => b.m.length - a.m.length || at(a.m) - at(b.m));
          expect(days.dayIn(name.join('_'))).toBe(best && day(best.i));
        },
      ),
    );
  });
});

describe('the day in a text', () => {
  const TEXT =
    'Sailed 01.07.2026.\nArrival: 2026-07-02\nBooked on 3 June 2026, see 2026-13-40. Arrival  2026-07-05';
  it.each([
    ['first', [], '2026-07-01'],
    ['earliest', [], '2026-06-03'],
    ['latest', [], '2026-07-05'],
    ['first', ['arrival'], '2026-07-02'],
    ['latest', ['Arrival', 'Sailed'], '2026-07-05'],
    ['first', ['booked on'], '2026-06-03'],
    ['first', ['val'], undefined],
    ['first', ['departure'], undefined],
  ] as const)('%s behind %j is %s', (which, words, day) =>
    expect(dayInText(TEXT, { which, words })).toBe(day),
  );
});
