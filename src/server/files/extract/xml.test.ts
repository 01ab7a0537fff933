import { expect, it } from 'vitest';
import { LIMITS } from './extracted.ts';
import { extractXml } from './xml.ts';

const fields = (xml: string) => {
  const { text, segments } = extractXml(xml, LIMITS);
  return segments.map((s) => [s.heading, text.slice(s.start, s.end), s.place.path, s.place.line]);
};

it('each text of XML has its element, the way down to it, and its line', () => {
  expect(
    fields(
      '<?xml version="1.0"?>\n<crew>\n<mate nr="7"><cpr>1</cpr></mate>\n<mate><cpr>\n\n2</cpr><passport><number>A1</number></passport></mate>\n</crew>',
    ),
  ).toEqual([
    ['mate nr', '7', '/crew/mate/@nr', 3],
    ['cpr', '1', '/crew/mate/cpr', 3],
    ['cpr', '2', '/crew/mate[2]/cpr', 6],
    ['passport number', 'A1', '/crew/mate[2]/passport/number', 6],
  ]);
});

it('a field without a telling name is called by its label', () => {
  expect(
    fields(
      '<form><field name="CPR-nr">1</field><param key="Tlf" value="2"/><entry><label>Born</label><value>3</value></entry><!-- 4 --></form>',
    ).map((f) => f.slice(0, 2)),
  ).toEqual([
    ['label', 'CPR-nr'],
    ['CPR-nr', '1'],
    ['label', 'Tlf'],
    ['Tlf', '2'],
    ['label', 'Born'],
    ['Born', '3'],
    [undefined, '4'],
  ]);
});
