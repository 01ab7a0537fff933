import { describe, expect, it } from 'vitest';
import { EstateLine } from './estate-line.ts';
import { tableLine } from './estate-table.ts';

const HEADINGS = [
  'type',
  'id',
  'name',
  'members',
  'inherits',
  'source',
  'place',
  'to',
  'strength',
  'deny',
  'uid',
  'attribute unit',
  '',
];
const row = (cells: Readonly<Record<string, string>>) =>
  tableLine(
    HEADINGS,
    HEADINGS.map((h) => cells[h] ?? ''),
  );

describe('a row of an estate in CSV', () => {
  it.each<[Readonly<Record<string, string>>, object]>([
    [
      { type: 'person', id: 'tove', name: ' Tove ', uid: '1001', 'attribute unit': 'Port' },
      { type: 'person', id: 'tove', name: 'Tove', uid: 1001, attributes: { unit: 'Port' }, state: 'open' },
    ],
    [{ type: 'group', id: 'g', members: 'tove | karl|' }, { members: ['tove', 'karl'] }],
    [
      { type: 'place', id: 'july', source: 's', inherits: 'no' },
      { inherits: false, gate: false },
    ],
    [
      { type: 'grant', place: 'july', to: 'g', strength: 'read', deny: 'yes' },
      { to: 'g', deny: true },
    ],
    [{ type: 'link', id: 'l', place: 'july', to: 'tove|karl', strength: 'read' }, { to: ['tove', 'karl'] }],
    [{ type: 'link', id: 'l', place: 'july', to: 'anyone', strength: 'read' }, { to: 'anyone' }],
  ])('is the line that it says: %o', (cells, line) => {
    expect(EstateLine.parse(row(cells))).toMatchObject(line);
  });

  it.each<[Readonly<Record<string, string>>, string]>([
    [{ type: 'grant', place: 'july', to: 'g', strength: 'own' }, 'strength'],
    [{ type: 'place', id: 'x', source: 's', inherits: 'maybe' }, 'inherits'],
    [{ type: 'person', id: 'x', uid: 'root' }, 'uid'],
    [{ type: 'ship', id: 'x' }, 'type'],
  ])('is refused by the field that is none: %o', (cells, field) => {
    expect(EstateLine.safeParse(row(cells)).error?.issues[0]?.path).toEqual([field]);
  });
});
