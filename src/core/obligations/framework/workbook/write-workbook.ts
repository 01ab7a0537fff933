import type { FrameworkFile } from '../framework-file.ts';
import {
  FRAMEWORK_FIELDS,
  FRAMEWORK_SHEET,
  PARTS_OF_FILE,
  README_SHEET,
  SHEETS,
  type CellForm,
  type Column,
  type Sheet,
} from './layout.ts';

/**
 * A framework as the sheets that `readWorkbook` reads back to the same. Of what is not sound yet, as much as can be shown.
 */
export function workbookOf(file: FrameworkFile): readonly Sheet[] {
  return [
    {
      name: FRAMEWORK_SHEET,
      rows: [
        ['Field', 'Value', 'What would do'],
        ...FRAMEWORK_FIELDS.map((c) => [c.heading, shown(file, c), would(c)]),
      ],
    },
    ...PARTS_OF_FILE.map((part) => {
      const { name, columns } = SHEETS[part];
      return {
        name,
        rows: [
          columns.map((c) => c.heading),
          ...rowsOf(file[part]).map((row) => columns.map((c) => shown(row, c))),
        ],
      };
    }),
    { name: README_SHEET, rows: README },
  ];
}

const rowsOf = (rows: unknown): readonly object[] =>
  Array.isArray(rows) ? rows.filter((r): r is object => typeof r === 'object' && r !== null) : [];

const would = (c: Column) => `${c.needed ? 'Needed' : 'Optional'}: ${c.would}.`;

const README: readonly (readonly string[])[] = [
  ['A framework of your own: what it asks, control by control, and the measures that answer it.'],
  ['This sheet is not read. Columns may stand in any order; rows without anything are left out.'],
  [''],
  ['Sheet', 'Column', 'What would do'],
  ...FRAMEWORK_FIELDS.map((c) => [FRAMEWORK_SHEET, c.heading, would(c)]),
  ...PARTS_OF_FILE.flatMap((part) =>
    SHEETS[part].columns.map((c) => [SHEETS[part].name, c.heading, would(c)]),
  ),
];

function shown(of: object, { path, form }: Column): string {
  let value: unknown = of;
  for (const key of path) value = (value as Record<string, unknown> | null | undefined)?.[key];
  return value === undefined || value === null ? '' : asText(value, form);
}

function asText(value: unknown, form: CellForm): string {
  if (form === 'yes' && typeof value === 'boolean') return value ? 'yes' : 'no';
  if (form === 'ids' && Array.isArray(value)) return value.join(', ');
  if (form === 'lines' && Array.isArray(value))
    return value.map((l) => String(l).replaceAll('\n', '\n  ')).join('\n');
  return typeof value === 'object' ? JSON.stringify(value) : String(value as string | number | boolean);
}
