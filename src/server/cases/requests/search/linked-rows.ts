import { createHash } from 'node:crypto';
import { proposeCovers } from '../../../../core/cases/requests/covers/propose-covers.ts';
import type { Reading } from '../../../../core/cases/requests/covers/reading.ts';
import { recognise, type ReadDocument } from '../../../../core/cases/requests/person/recognise.ts';
import type { Subject, Trait } from '../../../../core/cases/requests/person/subject.ts';
import type { Segment } from '../../../../core/text/segment.ts';
import type { Connector } from '../../../holdings/offers.ts';
import type { LookedThrough } from './look-through.ts';

/** Rows that belong to somebody by a key that their own row has. */
export interface LinkedRows {
  readonly table: string;
  readonly words: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly string[])[];
  /** Columns that tell its rows apart. */
  readonly key: readonly string[];
}

/** A table in which somebody was found, by its place. */
export interface FoundTable {
  readonly place: string;
  readonly text: LookedThrough;
}

const MOST_ROWS = 2000;

/**
 * Rows in other tables of a database that point to rows of the person: a column called after the table and its key, as
 * `passenger_id` points to `id` of `passenger`, or one of the name of a key that is no mere `id`.
 *
 * @param found tables by their places, with the person’s rows in them.
 */
export async function linkedRows(
  connector: Connector,
  found: readonly FoundTable[],
): Promise<readonly LinkedRows[]> {
  if (!connector.tables || !connector.lookUp || found.length === 0) return [];
  const tables = await connector.tables();
  const linked = new Map<
    string,
    { by: string; columns: readonly string[]; rows: Map<string, readonly string[]> }
  >();
  for (const { place, text } of found) {
    const table = tables.find((t) => t.table === place);
    const [key] = table?.key ?? [];
    if (!table || key === undefined || table.key.length !== 1) continue;
    const values = valuesOf(text.reading, key);
    if (values.length === 0) continue;
    const name = place.split('/').at(-1) ?? place;
    const names = new Set([
      `${name}_${key}`,
      ...(/s$/.test(name) ? [`${name.slice(0, -1)}_${key}`] : []),
      ...(key === 'id' ? [] : [key]),
    ]);
    for (const other of tables) {
      if (other.table === place) continue;
      for (const { name: column } of other.columns.filter((c) => names.has(c.name))) {
        const { columns, rows } = await connector.lookUp(other.table, column, values, MOST_ROWS);
        if (rows.length === 0) continue;
        const known = linked.get(other.table) ?? { by: `${column} of ${name}`, columns, rows: new Map() };
        for (const r of rows) known.rows.set(JSON.stringify(r), r);
        linked.set(other.table, known);
      }
    }
  }
  return [...linked].map(([table, { by, columns, rows }]) => ({
    ...{
      table,
      key: tables.find((t) => t.table === table)?.key ?? [],
      words: `${table.split('/').at(-1) ?? table}, by ${by}`,
      columns,
      rows: [...rows.values()],
    },
  }));
}

/** What the rows of a reading have in a column. */
function valuesOf({ text, segments }: Reading, column: string): readonly string[] {
  const values = segments
    .filter((s) => s.record !== undefined && s.heading?.toLowerCase() === column.toLowerCase())
    .map((s) => text.slice(s.start, s.end));
  return [...new Set(values)].slice(0, 50);
}

/** Rows as they stand in the case: all of them the person’s. */
export function tableText(
  {
    columns,
    rows,
    by,
  }: {
    readonly columns: readonly string[];
    readonly rows: readonly (readonly string[])[];
    readonly by?: Trait;
  },
  subject: Subject,
): { readonly looked: LookedThrough; readonly hash: Buffer; readonly problem: string } {
  const segments: Segment[] = [];
  let text = '';
  const add = (cell: string, column: number, record?: number) => {
    if (cell !== '')
      segments.push({
        ...{ start: text.length, end: text.length + cell.length, place: {} },
        ...(record === undefined ? {} : { record, heading: columns[column] ?? '' }),
      });
    text += cell;
  };
  const line = (cells: readonly string[], record?: number) => {
    for (const [i, cell] of cells.entries()) {
      if (i > 0) text += '\t';
      add(cell, i, record);
    }
    text += '\n';
  };
  line(columns);
  for (const [i, row] of rows.entries()) line(row, i);
  const document: ReadDocument = { text, segments, found: [] };
  const recognised = recognise(subject, document);
  const { covers, doubts } = proposeCovers(subject, document, recognised, []);
  return {
    looked: {
      ...{
        learned: [],
        sure: 'certain',
        by: by ? [by] : ['number'],
        bearer: '',
        people: 0,
        rowsTheirs: rows.length,
        rowsLeft: 0,
        format: 'rows',
      },
      reading: {
        text,
        segments: segments.map(({ start, end, heading, record }) => ({
          ...{ start, end },
          ...(heading === undefined ? {} : { heading }),
          ...(record === undefined ? {} : { record }),
        })),
        own: recognised.own.map(({ start, end }) => ({ start, end })),
        ...{ covers: [...covers], doubts: [...doubts], bearer: '', why: 'by a key of their row' },
      },
    },
    ...{ hash: createHash('sha256').update(text).digest(), problem: '' },
  };
}
