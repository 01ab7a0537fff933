import { FRAMEWORK_FIELDS, PARTS_OF_FILE, SHEETS, type Column, type Sheet } from './layout.ts';
import { columnLetters } from './read-workbook.ts';

export interface Damage {
  readonly what: string;
  /** Where it must be told of. */
  readonly at: string;
}

/** What no column of this form, or of this heading, can take. */
function spoiled({ heading, form, needed }: Column, roll: (n: number) => number): readonly [string, string] {
  const all: (readonly [string, string])[] = [];
  if (needed) all.push(['left empty', '']);
  if (form === 'number') all.push(['a word', 'many'], ['two numbers', '3 4']);
  if (form === 'yes') all.push(['neither yes nor no', 'perhaps']);
  if (form === 'text' && /^(?:Duty|Kind|Whose)$/.test(heading)) all.push(['another word', 'sometimes']);
  if (heading === 'Risk') all.push(['too large', '6'], ['half a number', '2.5'], ['nothing', '0']);
  if (heading === 'Hours') all.push(['a negative number', '-1'], ['too many', '90000']);
  if (/Version|version/.test(heading))
    all.push(['another form of a day', '30 Nov'], ['no day', '2026-02-30']);
  if (/^(?:Id|Framework|Extends)$/.test(heading)) all.push(['an id in large letters', 'Not An Id']);
  if (heading === 'Family') all.push(['a family that is not there', 'no-such-family']);
  if (heading === 'Measures') all.push(['a measure that is not there', 'no-such-measure']);
  if (heading === 'Controls') all.push(['a control that is not there', 'no-such-control']);
  if (heading === 'Figure') all.push(['a figure that is not there', 'no.such']);
  if (heading === 'Where') all.push(['a place outside', 'https://elsewhere.example']);
  if (heading === 'Regions') all.push(['no code', 'Europe']);
  if (form === 'text' && /Name|Title|Issuer|Covers|Reference|Guidance/.test(heading))
    all.push(['too long', 'x'.repeat(1300)]);
  if (form === 'lines') all.push(['too many lines', Array.from({ length: 13 }, (_, i) => `${i}`).join('\n')]);
  return all[roll(all.length)] as readonly [string, string];
}

/** A sound workbook with one to five faults in it, each in another cell. */
export function damagedSheets(
  sheets: readonly Sheet[],
  roll: (n: number) => number,
): { readonly sheets: readonly Sheet[]; readonly damaged: readonly Damage[] } {
  const out = sheets.map((s) => ({ name: s.name, rows: s.rows.map((r) => [...r]) }));
  const cells: {
    readonly sheet: number;
    readonly row: number;
    readonly column: number;
    readonly of: Column;
  }[] = [];
  const add = (sheet: number, row: number, column: number, of: Column) => {
    const text = out[sheet]?.rows[row]?.[column] ?? '';
    // What is left empty and may be is not there to be spoiled; a threshold is spoiled where there is one.
    if (text !== '' || of.needed) cells.push({ sheet, row, column, of });
  };
  FRAMEWORK_FIELDS.forEach((of, i) => add(0, i + 1, 1, of));
  for (const part of PARTS_OF_FILE) {
    const at = out.findIndex((s) => s.name === SHEETS[part].name);
    out[at]?.rows.forEach((_, row) => {
      if (row > 0) SHEETS[part].columns.forEach((of: Column, column) => add(at, row, column, of));
    });
  }
  const damaged: Damage[] = [];
  const taken = new Set<string>();
  for (let n = 1 + roll(5); n > 0; n--) {
    const cell = cells[roll(cells.length)];
    if (!cell) continue;
    const { sheet, row, column, of } = cell;
    const rowKey = `${sheet} ${row}`;
    // One to a row: an empty row, or a row that is told of as a whole, would hide the other.
    if (taken.has(rowKey)) continue;
    taken.add(rowKey);
    const rows = out[sheet]?.rows[row];
    if (!rows) continue;
    const [what, text] = spoiled(of, roll);
    rows[column] = text;
    damaged.push({
      what: `${of.heading}: ${what}`,
      at: `${out[sheet]?.name} ${columnLetters(column)}${row + 1}`,
    });
  }
  return { sheets: out, damaged };
}
