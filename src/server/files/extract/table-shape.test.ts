import { describe, expect, it } from 'vitest';
import { shapeOf } from './table-shape.ts';

/** The cells that have a heading, with it. */
function called(rows: readonly (readonly string[])[]): readonly string[] {
  const cellOf = shapeOf(rows);
  return rows.flatMap((row, r) =>
    row.flatMap((cell, c) => {
      const { heading } = cellOf(r, c);
      return heading === undefined || cell === '' ? [] : [`${heading}=${cell}`];
    }),
  );
}

describe('a table', () => {
  it('names its columns in its first row', () => {
    expect(
      called([
        ['Name', 'Phone', 'Cabin'],
        ['Tove', '32145566', 'B4'],
        ['Osei', '', 'C1'],
      ]),
    ).toEqual(['Name=Tove', 'Phone=32145566', 'Cabin=B4', 'Name=Osei', 'Cabin=C1']);
  });

  it('may have a title and a date above that', () => {
    expect(
      called([
        ['Passenger list', '', ''],
        ['', '', ''],
        ['printed 20 November', '', ''],
        ['Name', 'Phone', 'Cabin'],
        ['Tove', '32145566', 'B4'],
      ]),
    ).toEqual(['Name=Tove', 'Phone=32145566', 'Cabin=B4']);
  });

  it('may name its rows instead, of one record or several', () => {
    expect(
      called([
        ['Navn', 'Bo Hansen'],
        ['CPR', '070761-4285'],
        ['Tlf', '32145566'],
      ]),
    ).toEqual(['Navn=Bo Hansen', 'CPR=070761-4285', 'Tlf=32145566']);
    const rows = [
      ['Field', 'Guest 1', 'Guest 2'],
      ['Name', 'Tove', 'Osei'],
      ['Date of birth', '1970-04-05', '1981-02-03'],
      ['Phone', '32145566', '20123456'],
    ];
    expect(called(rows)).toContain('Date of birth=1981-02-03');
    expect(shapeOf(rows)(1, 1).record).toBe(1);
  });

  it('may be a form, with pairs along each row', () => {
    expect(
      called([
        ['Name:', 'Bo Hansen', 'Position:', 'Purser'],
        ['CPR:', '070761-4285', 'Phone:', '32145566'],
      ]),
    ).toEqual(['Name=Bo Hansen', 'Position=Purser', 'CPR=070761-4285', 'Phone=32145566']);
    expect(
      called([
        ['Navn', 'Bo Hansen', 'Stilling', 'Purser'],
        ['CPR', '070761-4285', 'Telefon', '32145566'],
      ]),
    ).toEqual(['Navn=Bo Hansen', 'Stilling=Purser', 'CPR=070761-4285', 'Telefon=32145566']);
  });

  it('goes on below an empty row, or begins anew under another title', () => {
    expect(
      called([
        ['Name', 'Phone'],
        ['Tove', '32145566'],
        ['', ''],
        ['Osei', '20123456'],
      ]),
    ).toEqual(['Name=Tove', 'Phone=32145566', 'Name=Osei', 'Phone=20123456']);
    expect(
      called([
        ['Name', 'Phone', ''],
        ['Tove', '32145566', ''],
        ['', '', ''],
        ['Berths', '', ''],
        ['Port', 'Berth', 'Depth'],
        ['Halmsund', '4', '7.2'],
      ]),
    ).toEqual(['Name=Tove', 'Phone=32145566', 'Port=Halmsund', 'Berth=4', 'Depth=7.2']);
  });

  it('without headings has none', () => {
    expect(
      called([
        ['tove@x.example', '32145566'],
        ['osei@x.example', '20123456'],
      ]),
    ).toEqual([]);
    expect(called([['a sentence. And another one, as cells of a layout have them']])).toEqual([]);
    expect(called([])).toEqual([]);
    expect(called([[]])).toEqual([]);
  });

  it('gives each row a record, or the whole of a form one', () => {
    const plain = shapeOf([
      ['Name', 'Phone'],
      ['Tove', '1'],
      ['Osei', '2'],
    ]);
    expect([plain(1, 0).record, plain(1, 1).record, plain(2, 0).record]).toEqual([1, 1, 2]);
    const form = shapeOf([
      ['Name:', 'Tove'],
      ['Phone:', '1'],
    ]);
    expect([form(0, 1).record, form(1, 1).record]).toEqual([0, 0]);
  });
});
