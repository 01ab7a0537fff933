import type { ReadDocument, TraitSpan } from '../src/core/cases/requests/person/recognise.ts';
import type { Trait } from '../src/core/cases/requests/person/subject.ts';
import type { Segment } from '../src/core/text/segment.ts';

/** Rows under headings, each a record; values of known headings are found. */
export function table(headings: readonly string[], rows: readonly (readonly string[])[]): ReadDocument {
  const traits: Readonly<Record<string, Trait>> = {
    Name: 'name',
    'E-mail': 'e-mail',
    Born: 'birth date',
    Phone: 'phone',
    Address: 'address',
  };
  const segments: Segment[] = [];
  const found: TraitSpan[] = [];
  let text = '';
  const add = (cell: string, heading: string | undefined, record: number) => {
    const [start, end] = [text.length, text.length + cell.length];
    if (cell !== '')
      segments.push({ start, end, place: { cell: 'A1' }, record, ...(heading ? { heading } : {}) });
    const trait = heading && traits[heading];
    if (trait && cell !== '') found.push({ trait, start, end });
    text += `${cell}\t`;
  };
  for (const h of headings) add(h, undefined, 0);
  text += '\n';
  for (const [i, row] of rows.entries()) {
    for (const [c, cell] of row.entries()) add(cell, headings[c], i + 1);
    text += '\n';
  }
  return { text, segments, found };
}
