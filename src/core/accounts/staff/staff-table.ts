import { parseDay } from '../../text/day.ts';
import { plainEmail } from '../email.ts';
import type { Staff, StaffGroup, StaffMember } from './staff.ts';

/** What is wrong with a cell: the row as a spreadsheet counts it, and what would do. */
export interface StaffFault {
  readonly row: number;
  readonly column: string;
  readonly words: string;
}

export const STAFF_COLUMNS = ['address', 'name', 'unit', 'groups', 'left'] as const;
type Column = (typeof STAFF_COLUMNS)[number];
export const MOST_STAFF = 200_000;

/**
 * People and groups from a table with the headings `address`, `name`, `unit`, `groups` (parted by semicolons) and `left`
 * (a day). A row without an address is a group, whose `groups` it stands in; a group that is only named is one too.
 */
export function readStaff(
  headings: readonly string[],
  rows: readonly (readonly string[])[],
): { readonly staff: Staff; readonly faults: readonly StaffFault[] } {
  const faults: StaffFault[] = [];
  const at = new Map(
    STAFF_COLUMNS.map((c) => [c, headings.findIndex((h) => h.trim().toLowerCase() === c)] as const),
  );
  for (const column of ['address', 'name'] as const)
    if (at.get(column) === -1) faults.push({ row: 1, column, words: `There is no column “${column}”.` });
  if (faults.length > 0) return { staff: { members: [], groups: [] }, faults };
  const members = new Map<string, StaffMember>();
  const groups = new Map<string, StaffGroup>();
  for (const [i, cells] of rows.entries()) {
    const row = i + 2;
    const cell = (c: Column) => (cells[at.get(c) ?? -1] ?? '').trim();
    const fault = (column: Column, words: string) => faults.push({ row, column, words });
    const name = cell('name');
    const named = [
      ...new Set(
        cell('groups')
          .split(';')
          .map((g) => g.trim())
          .filter(Boolean),
      ),
    ];
    if (named.some((g) => g.length > 120)) fault('groups', 'A name of at most 120 characters.');
    if (name === '' || name.length > 120) fault('name', 'A name of at most 120 characters.');
    const address = plainEmail(cell('address'));
    if (address === '') {
      if (groups.get(name)) fault('name', `The group “${name}” stands in another row already.`);
      groups.set(name, { name, within: named.filter((g) => g !== name) });
      continue;
    }
    if (!/^[^\s@]+@[^\s@]+$/.test(address) || address.length > 254)
      fault('address', 'An e-mail address, such as lotte.bruun@line.example.');
    if (members.has(address)) fault('address', `${address} stands in another row already.`);
    const left = parseDay(cell('left'));
    if (left === undefined && cell('left') !== '') fault('left', 'A day such as 2026-11-30, or nothing.');
    members.set(address, {
      address,
      name,
      unit: cell('unit').slice(0, 120),
      groups: named,
      left: left ?? null,
    });
  }
  for (const g of [...members.values()]
    .flatMap((m) => m.groups)
    .concat([...groups.values()].flatMap((x) => x.within)))
    if (!groups.has(g)) groups.set(g, { name: g, within: [] });
  return { staff: { members: [...members.values()], groups: [...groups.values()] }, faults };
}
