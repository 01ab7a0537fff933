import type { Json } from '../../../core/rules/change.ts';

/** An item as its source lists it. */
export interface ListedItem {
  /** What the source knows it by within its place; holds no `/`. */
  readonly name: string;
  /** What people know it by, where that differs. */
  readonly title?: string;
  /** Bytes; 0 where the source does not tell. */
  readonly size: number;
  /** ISO 8601. */
  readonly created: string | null;
  readonly changed: string | null;
  readonly owner: string;
  /** Differs once the item was changed; '' where the source cannot tell. */
  readonly version: string;
}

/** What lies directly in a place. */
export interface Listing {
  readonly items: readonly string[];
  readonly places: readonly string[];
  /** Why it, or something in it, was not listed. */
  readonly problem?: string;
}

/** The bytes of an item: a file of this machine, or bytes in hand with the name that tells their format. */
export type Content =
  | { readonly file: string | Uint8Array; readonly name: string }
  | { readonly bytes: Uint8Array; readonly name: string; readonly title?: string };

/**
 * What reads one source. A place is a path of steps from the source down, separated by `/`; the source itself is ''. It
 * never leaves its root, never follows a link out of it, and changes nothing but by `replace`, `remove` and `restore`.
 */
export interface Connector {
  /** Throws a SourceError where the source cannot be reached, or is not what was meant. */
  check(): Promise<void>;
  /** Throws a SourceError where the whole source is gone; a place that cannot be read tells its problem. */
  list(place: string): Promise<Listing>;
  /** In the order of the names; those that are gone meanwhile are left out. */
  details(place: string, names: readonly string[]): Promise<readonly ListedItem[]>;
  /** Throws an ItemError with why it cannot be read. */
  read(place: string, item: ListedItem): Promise<Content>;
  /**
   * Puts other bytes in an item's place, whole or not at all, with its owner, rights and times as they were; the item as
   * it is listed then. Absent where the source takes none. Throws an ItemError where somebody changed it since it was
   * listed so, or it cannot be replaced; a FixedItemError where no item of its kind can.
   */
  replace?(place: string, item: ListedItem, bytes: Uint8Array): Promise<ListedItem>;
  /** What an item is once what is personal in it is emptied, where its source knows what that is. */
  blank?(place: string, item: ListedItem, bytes: Uint8Array): Promise<Uint8Array | undefined>;
  /**
   * Takes an item away, with every older version that the source keeps of it. Absent where the source takes no changes.
   * Throws an ItemError where somebody changed it since it was listed so, or it cannot be taken away; a FixedItemError
   * where no item of its kind can.
   */
  remove?(place: string, item: ListedItem): Promise<Removed>;
  /**
   * Puts an item that was taken away back where it was; as it is listed then. Throws an ItemError where something else has
   * its place by now. Of one that a broken run took away no mark is known, and it is null.
   */
  restore?(place: string, item: ListedItem, bytes: Uint8Array, mark: Json): Promise<ListedItem>;
  /**
   * Takes in an item that it did not have, with the places above it. Absent where nothing can be archived. Throws an ItemError
   * where something else has its name.
   */
  add?(place: string, item: Pick<ListedItem, 'name' | 'changed'>, bytes: Uint8Array): Promise<ListedItem>;
  /** Of databases: tables, with their columns. */
  tables?(): Promise<readonly ListedTable[]>;
  /** Of mailboxes that can look themselves: which messages of a place hold one of these words, as their server finds them. */
  search?(place: string, words: readonly string[]): Promise<readonly string[]>;
  /** Of databases: rows of a table in which a column has one of these values, as text; `most` at the most. */
  lookUp?(
    table: string,
    column: string,
    values: readonly string[],
    most: number,
  ): Promise<{ readonly columns: readonly string[]; readonly rows: readonly (readonly string[])[] }>;
  close(): Promise<void>;
}

/** A table, as places name it. */
export interface ListedTable {
  readonly table: string;
  /** Columns of its primary key. */
  readonly key: readonly string[];
  readonly columns: readonly { readonly name: string; readonly isDay: boolean }[];
}

/** An item that is gone. */
export interface Removed {
  /** How, as a certificate says it. */
  readonly method: string;
  /** What `restore` needs besides its bytes. */
  readonly mark: Json;
}

/** The source as a whole cannot be read. */
export class SourceError extends Error {
  constructor(
    message: string,
    /** Of the address, that would have to be another. */
    readonly field = '',
  ) {
    super(message);
  }
}

/** One item cannot be read, or replaced. */
export class ItemError extends Error {}

/** One item cannot be replaced, whoever tries and how often. */
export class FixedItemError extends ItemError {}

/** More of one item is not held in memory. */
export const MOST_BYTES = 256e6;

export function joinPlace(place: string, step: string): string {
  return place === '' ? step : `${place}/${step}`;
}

/** Of items and places without one. */
export const NOTHING_LISTED: Listing = { items: [], places: [] };
