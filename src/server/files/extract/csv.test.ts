import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CsvCutter, delimiterOf, isTable } from './csv.ts';

const cells = (text: string, delimiter: string) =>
  new CsvCutter(delimiter)
    .next(text, true)
    .segments.map((s) => [text.slice(s.start, s.end), s.place.cell, s.heading]);

describe('a table', () => {
  it('keeps its text, and gives each cell its column', () => {
    expect(cells('name;note\n"Tove ""T"" Lindqvist";"two\nlines"\r\nOsei;\n', ';')).toEqual([
      ['name', 'A1', undefined],
      ['note', 'B1', undefined],
      ['Tove ""T"" Lindqvist', 'A2', 'name'],
      ['two\nlines', 'B2', 'note'],
      ['Osei', 'A3', 'name'],
    ]);
  });

  it('is parted by the sign that gives all rows as many cells, quoted lines or not', () => {
    expect(delimiterOf('name;note\nTove;"one, two\n""three"""\n')).toBe(';');
    expect(delimiterOf('a,b\n1,2\n')).toBe(',');
    expect(delimiterOf('a\tb,c\n1\t2,3\n')).toBe('\t');
    expect(delimiterOf('One line, and no more of the kind.\nAnd another\n')).toBeUndefined();
  });

  it('has no headings where its first row is none', () => {
    expect(cells('Tove,tove@x.example\nOsei,osei@x.example\n', ',').every(([, , heading]) => !heading)).toBe(
      true,
    );
  });

  it('names columns beyond Z as a spreadsheet does', () => {
    const row = Array.from({ length: 30 }, (_, i) => `c${i}`).join(',');
    expect(cells(`${row}\n${row}\n`, ',')[29]?.[1]).toBe('AD1');
  });

  it('is one without a telling name only with headings and tabs or semicolons', () => {
    const rows = (sign: string) =>
      ['Name', 'CPR', 'Mobil'].join(sign) + `\n${['Tove', '010180-1234', '32145566'].join(sign)}`.repeat(4);
    expect(isTable(rows(';'))).toBe(true);
    expect(isTable(rows('\t'))).toBe(true);
    expect(isTable(rows(','))).toBe(false);
    expect(isTable('Dear all; see below; thanks\nwe met; it rained; so\nno; more; now\nend; of; it\n')).toBe(
      false,
    );
    expect(isTable('one line;two')).toBe(false);
  });

  it('is the same however it is cut into pieces', () => {
    const cell = fc.oneof(
      fc.stringMatching(/^[a-z0-9@. ]{0,9}$/),
      fc.stringMatching(/^[a-z,\n]{0,8}$/).map((s) => `"${s}""${s}"`),
    );
    const table = fc
      .array(fc.array(cell, { minLength: 3, maxLength: 3 }), { minLength: 2, maxLength: 12 })
      .map((rows) => `name,note,mail\n${rows.map((r) => r.join(',')).join('\n')}\n`);
    fc.assert(
      fc.property(table, fc.array(fc.nat(200), { maxLength: 8 }), fc.boolean(), (text, cuts, hasEnd) => {
        const whole = new CsvCutter(',').next(hasEnd ? text : text.slice(0, -1), true);
        const cutter = new CsvCutter(',');
        const at = [0, ...cuts.map((c) => c % text.length).sort((a, b) => a - b), whole.text.length];
        let joined = '';
        const segments = at.slice(1).flatMap((to, i) => {
          const piece = cutter.next(whole.text.slice(at[i], to), i === at.length - 2);
          const base = joined.length;
          joined += piece.text;
          return piece.segments.map((s) => ({ ...s, start: s.start + base, end: s.end + base }));
        });
        expect(joined).toBe(whole.text);
        expect(segments).toEqual(whole.segments);
      }),
    );
  });
});

describe('a table with a title', () => {
  const TITLED = 'Passenger list, November\n\nname;phone\nTove;32145566\nOsei;20123456\n';

  it('has its headings below it', () => {
    expect(delimiterOf(TITLED)).toBe(';');
    expect(cells(TITLED, ';')).toEqual([
      ['Passenger list, November', 'A1', undefined],
      ['name', 'A3', undefined],
      ['phone', 'B3', undefined],
      ['Tove', 'A4', 'name'],
      ['32145566', 'B4', 'phone'],
      ['Osei', 'A5', 'name'],
      ['20123456', 'B5', 'phone'],
    ]);
  });

  it('is told from prose with a sign in it', () => {
    expect(delimiterOf('Dear all\n\nthe ferry, late again\n')).toBeUndefined();
  });
});
