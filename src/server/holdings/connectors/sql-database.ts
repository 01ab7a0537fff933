import type { RowPeriod } from '../../../core/holdings/sources/row-template.ts';
import type { SourceContent } from '../../../core/holdings/sources/source.ts';

/** A table as its database knows it. */
export interface SqlTable {
  /** Schema, where there is more than one, and name. */
  readonly steps: readonly string[];
  /** Columns of its primary key, in order; none where it has none. */
  readonly key: readonly string[];
  /** As the database guesses. */
  readonly rows: number;
  readonly bytes: number;
  /** When it was written last, where that is known. */
  readonly version: string;
}

export type SqlValue = string | number | Buffer | null;

/** Which rows of tables are read, and how they are told apart. */
export type RowSetting = Pick<SourceContent, 'rowsPerTable' | 'rowTemplates'>;

export interface SqlColumn {
  readonly name: string;
  /** Shapes cannot be written down and put back. */
  readonly is: 'day' | 'bytes' | 'shape' | 'other';
  readonly nullable: boolean;
  /** The database writes it itself. */
  readonly made: boolean;
}

/** Rows elsewhere that would go, or change, with those that they refer to. */
export interface Dependents {
  /** As it is spoken of, and as it is queried. */
  readonly table: string;
  readonly quoted: string;
  /** Their columns, and those that they refer to. */
  readonly columns: readonly (readonly [string, string])[];
}

/** What one kind of database does its own way. */
export interface SqlDatabase {
  tables(): Promise<readonly SqlTable[]>;
  quote(name: string): string;
  /** With `?` for parameters. */
  query(sql: string, params: readonly SqlValue[]): Promise<SqlRows>;
  columns(table: SqlTable): Promise<readonly SqlColumn[]>;
  /** Of rows that the database deletes or changes by itself. */
  dependents(table: SqlTable): Promise<readonly Dependents[]>;
  /** The period of a column of days, as `2019-03`. */
  period(column: string, by: RowPeriod): string;
  /** A number of 60 bits for a row, from these columns; the same as long as nothing in it changes. */
  digest(columns: readonly string[]): string;
  /** Between columns, for inserts that say themselves what the database would. */
  readonly overriding: string;
  /** All or nothing. Throws an ItemError with what the database says against it. */
  write<T>(work: (query: SqlDatabase['query']) => Promise<T>): Promise<T>;
  /** Whether an error says that the connection is gone, and nothing of one table. */
  isLost(error: unknown): boolean;
  close(): Promise<void>;
}

export interface SqlRows {
  readonly columns: readonly string[];
  readonly rows: readonly (readonly unknown[])[];
  /** By what was written. */
  readonly changed: number;
}

export function quotedTable(on: Pick<SqlDatabase, 'quote'>, steps: readonly string[]): string {
  return steps.map((s) => on.quote(s)).join('.');
}
