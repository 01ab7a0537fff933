import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AROUND, soundFile } from '../framework-file.fixture.ts';
import type { FrameworkFile } from '../framework-file.ts';
import { damagedSheets } from './damaged-sheets.fixture.ts';
import { SHEETS, type Sheet } from './layout.ts';
import { columnLetters, placeWords, readWorkbook } from './read-workbook.ts';
import { workbookOf } from './write-workbook.ts';

const [SAMPLE] = fc.sample(
  soundFile.filter((f) => f.controls.length > 3 && !f.extends && !f.takes && (f.measures?.length ?? 0) > 1),
  { numRuns: 1, seed: 3 },
) as [FrameworkFile];
const sheet = (sheets: readonly Sheet[], name: string) => sheets.find((s) => s.name === name)?.rows ?? [];
const faultsOf = (sheets: readonly Sheet[]) =>
  readWorkbook(sheets, AROUND).faults.map((f) => `${placeWords(f)}: ${f.words}`);

/** With what stands in one cell of a sheet. */
function withCell(name: string, row: number, column: number, text: string): readonly Sheet[] {
  return workbookOf(SAMPLE).map((s) =>
    s.name === name
      ? { ...s, rows: s.rows.map((r, i) => (i === row - 1 ? r.map((c, j) => (j === column ? text : c)) : r)) }
      : s,
  );
}

describe('a framework as a workbook', () => {
  it('is read back as it was', () => {
    fc.assert(
      fc.property(soundFile, (f) => {
        expect(readWorkbook(workbookOf(f), AROUND)).toEqual({ file: f, faults: [] });
      }),
      { numRuns: 300 },
    );
  });

  it('may have its sheets, columns and empty rows in any order, and headings in any case', () => {
    const turned = workbookOf(SAMPLE)
      .toReversed()
      .map((s) =>
        s.name === 'Controls' || s.name === 'Measures'
          ? {
              name: s.name.toUpperCase(),
              rows: s.rows.flatMap((r, i) => [
                [],
                i === 0 ? r.toReversed().map((c) => ` ${c.toUpperCase()} `) : r.toReversed(),
              ]),
            }
          : s,
      );
    expect(readWorkbook(turned, AROUND).file).toEqual(SAMPLE);
  });

  it.each<[string, readonly Sheet[], string]>([
    [
      'a word for a number',
      withCell('Controls', 3, 6, 'high'),
      'Controls G3: “high” cannot be taken. It takes a whole number from 1, little harm, to 5.',
    ],
    [
      'an empty cell',
      withCell('Controls', 2, 3, ''),
      'Controls D2: It is empty. It takes what it asks, in at most 160 signs.',
    ],
    [
      'a measure that is not there',
      withCell('Controls', 2, 8, 'm1; nope'),
      'Controls I2: There is no measure nope.',
    ],
    [
      'a heading that is none',
      withCell('Controls', 1, 4, 'Dutty'),
      'Controls row 1: There is no column “Duty”.',
    ],
    [
      'something beside the table',
      withCell('Controls', 2, 0, '').map((s) =>
        s.name === 'Controls' ? { ...s, rows: s.rows.map((r, i) => (i === 1 ? [...r, 'stray'] : r)) } : s,
      ),
      'Controls J2: It stands under no heading.',
    ],
    [
      'a day that is none',
      withCell('Framework', 3, 1, '30.11.2026'),
      'Framework B3: “30.11.2026” cannot be taken. It takes a day such as 2026-11-30, as of which the text is so.',
    ],
    [
      'a threshold both ways',
      withCell('Measures', 2, 8, '1').map((s) =>
        s.name === 'Measures'
          ? {
              ...s,
              rows: s.rows.map((r, i) =>
                i === 1 ? r.map((c, j) => (j === 7 ? 'retention.due' : j === 9 ? '2' : c)) : r,
              ),
            }
          : s,
      ),
      'Measures H2: Either at most, or at least.',
    ],
    [
      'a sheet of another name',
      [...workbookOf(SAMPLE), { name: 'Kontrols', rows: [['a']] }],
      'Kontrols: There is no sheet of this name: there are Framework, Families, Controls, Takes, Measures.',
    ],
    ['no sheet of the framework', workbookOf(SAMPLE).slice(1), 'Framework: There is no sheet “Framework”.'],
  ])('tells of %s at its cell', (_, sheets, words) => {
    expect(faultsOf(sheets)).toContain(words);
    expect(readWorkbook(sheets, AROUND).file).toBeNull();
  });

  it('tells of a column that is missing once, and not in each of its rows', () => {
    const without = workbookOf(SAMPLE).map((s) =>
      s.name === 'Controls' ? { ...s, rows: s.rows.map((r) => r.filter((_, j) => j !== 6)) } : s,
    );
    expect(faultsOf(without)).toEqual(['Controls row 1: There is no column “Risk”.']);
  });

  it('tells every fault of a damaged one, at its cell, and takes nothing in', () => {
    fc.assert(
      fc.property(soundFile, fc.infiniteStream(fc.nat(1_000_000)), (f, dice) => {
        const roll = (n: number) => (dice.next().value as number) % n;
        const { sheets, damaged } = damagedSheets(workbookOf(f), roll);
        const read = readWorkbook(sheets, AROUND);
        const told = new Set(read.faults.map(placeWords));
        expect(damaged.filter((d) => !told.has(d.at)).map((d) => `${d.what} at ${d.at}`)).toEqual([]);
        expect(read.file).toBeNull();
      }),
      { numRuns: 1000 },
    );
  });

  it('names columns as spreadsheets do', () => {
    expect([0, 25, 26, 51, 52, 701, 702].map(columnLetters)).toEqual([
      'A',
      'Z',
      'AA',
      'AZ',
      'BA',
      'ZZ',
      'AAA',
    ]);
  });

  it('is explained: every column of every sheet stands in what is to be read first', () => {
    const told = sheet(workbookOf(SAMPLE), 'Read me').map((r) => `${r[0]} ${r[1]}`);
    for (const { name, columns } of Object.values(SHEETS))
      for (const { heading } of columns) expect(told).toContain(`${name} ${heading}`);
  });
});
