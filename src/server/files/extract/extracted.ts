import type { Place, Segment } from '../../../core/text/segment.ts';
import { shapeOf } from './table-shape.ts';

/** Something about a file that its reader has to know: what could not be read, and why. */
export interface Problem {
  /** Names of the parts down to it; empty for the file itself. */
  readonly part: string;
  readonly kind:
    'encrypted' | 'damaged' | 'too large' | 'too deep' | 'misnamed' | 'unknown kind' | 'cut short';
  readonly words: string;
}

/** The text of a file, with where each stretch stood. */
export interface Extracted {
  readonly text: string;
  readonly segments: readonly Segment[];
  readonly problems: readonly Problem[];
  /** What the file turned out to be. */
  readonly kind: string;
}

export interface Limits {
  /** Bytes of one file. */
  readonly fileBytes: number;
  /** Bytes that archives in it may unpack to, all told. */
  readonly unpackedBytes: number;
  /** Times its own size that an archive may unpack to, past the first ten megabytes. */
  readonly ratio: number;
  readonly depth: number;
  readonly parts: number;
  /** UTF-16 units of text, all told. */
  readonly text: number;
}

export const LIMITS: Limits = {
  fileBytes: 512e6,
  unpackedBytes: 512e6,
  ratio: 200,
  depth: 6,
  parts: 20_000,
  text: 256e6,
};

/** Thrown by readers of a format: the file is not what it should be. */
export class UnreadableError extends Error {
  constructor(
    readonly kind: Problem['kind'],
    message: string,
  ) {
    super(message);
  }
}

/** Throws an UnreadableError where a text of so many units is too long. */
export function allowLength(length: number, limits: Limits): void {
  if (length > limits.text)
    throw new UnreadableError(
      'too large',
      `Its text is longer than ${Math.round(limits.text / 1e6)} million characters`,
    );
}

/** Gathers text stretch by stretch. */
export class TextBuilder {
  readonly #pieces: string[] = [];
  readonly segments: Segment[] = [];
  readonly problems: Problem[] = [];
  length = 0;
  records = 0;

  constructor(readonly limits: Limits = LIMITS) {}

  /** Text without a place of its own. */
  gap(text: string): void {
    this.#pieces.push(text);
    this.length += text.length;
  }

  /** Text with a place; throws an UnreadableError past the limit. */
  add(
    text: string,
    place: Place,
    more: { readonly heading?: string | undefined; readonly record?: number | undefined } = {},
  ): void {
    if (text === '') return;
    allowLength(this.length + text.length, this.limits);
    const { heading, record } = more;
    this.segments.push({
      start: this.length,
      end: this.length + text.length,
      place,
      ...(heading ? { heading } : {}),
      ...(record === undefined ? {} : { record }),
    });
    this.gap(text);
  }

  /** A table, its cells called as it names them. */
  table(rows: readonly (readonly string[])[], place: (row: number, column: number) => Place): void {
    const cellOf = shapeOf(rows);
    const base = this.records;
    let most = -1;
    for (const [r, row] of rows.entries()) {
      for (const [c, cell] of row.entries()) {
        if (c > 0) this.gap('\t');
        const { heading, record } = cellOf(r, c);
        most = Math.max(most, record);
        this.add(cell, place(r, c), { heading, record: base + record });
      }
      this.gap('\n');
    }
    this.records = base + most + 1;
  }

  /** What another file's text is, as a part of this one. */
  part(name: string, inner: Extracted): void {
    const offset = this.length;
    for (const p of inner.problems) this.problems.push({ ...p, part: p.part ? `${name}/${p.part}` : name });
    const under = (place: Place): Place => ({ ...place, part: place.part ? `${name}/${place.part}` : name });
    const base = this.records;
    let most = -1;
    let at = 0;
    const cover = (from: number, to: number) => {
      if (to > from) this.segments.push({ start: offset + from, end: offset + to, place: { part: name } });
    };
    for (const s of inner.segments) {
      cover(at, s.start);
      if (s.record !== undefined) most = Math.max(most, s.record);
      this.segments.push({
        ...s,
        start: s.start + offset,
        end: s.end + offset,
        place: under(s.place),
        ...(s.record === undefined ? {} : { record: s.record + base }),
      });
      at = s.end;
    }
    cover(at, inner.text.length);
    this.records += most + 1;
    this.gap(inner.text);
    this.gap('\n\n');
  }

  done(kind: string): Extracted {
    return { text: this.#pieces.join(''), segments: this.segments, problems: this.problems, kind };
  }
}
