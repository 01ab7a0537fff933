/** Where in a file a stretch of its extracted text stood. */
export interface Place {
  /** Within archives and mails: the names of the parts down to it. */
  readonly part?: string;
  readonly page?: number;
  readonly sheet?: string;
  /** As a spreadsheet names it: B7. */
  readonly cell?: string;
  /** From 1. */
  readonly row?: number;
  /** From 1, in files that are text. */
  readonly line?: number;
  /** Of a field among fields: a JSON Pointer (RFC 6901), the elements down to it in XML, the table and row in SQL. */
  readonly path?: string;
  readonly header?: string;
  /** What kind of stretch it is, where that is no plain text: comment, attribute, footnote … */
  readonly role?: string;
}

/** A stretch of the extracted text with a place of its own; cells bound what counts as before and after. */
export interface Segment {
  /** UTF-16 offsets. */
  readonly start: number;
  readonly end: number;
  readonly place: Place;
  /** The heading of its column, or the name of its field. */
  readonly heading?: string;
  /** Stretches of one record share this; from 0. */
  readonly record?: number;
}

/** Whether what stands outside the stretch is no neighbour of what stands in it. */
export const isCell = (s: Segment): boolean => s.heading !== undefined || s.place.cell !== undefined;

/** Text with its stretches in order; what lies between two has no place of its own. */
export interface TextDocument {
  readonly text: string;
  readonly segments: readonly Segment[];
}

/** The stretch that holds the offset; `undefined` where none does. */
export function segmentAt(segments: readonly Segment[], offset: number): Segment | undefined {
  let low = 0;
  let high = segments.length - 1;
  while (low <= high) {
    const middle = (low + high) >> 1;
    const s = segments[middle] as Segment;
    if (offset < s.start) high = middle - 1;
    else if (offset >= s.end) low = middle + 1;
    else return s;
  }
  return undefined;
}
