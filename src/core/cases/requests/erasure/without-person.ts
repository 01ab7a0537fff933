import type { ReadDocument, Recognised } from '../person/recognise.ts';

/** Stands where somebody was taken out of a text that tells of others too. */
export const TAKEN_OUT = '[removed]';

/**
 * A text without somebody: their rows of a table whole, with the line they stand in, and in running text every value that
 * tells of them. Rows that a person has still to judge stay.
 */
export function withoutPerson({ text }: Pick<ReadDocument, 'text'>, recognised: Recognised): string {
  const rows = recognised.parts
    .filter((p) => p.record !== null && p.sure === 'certain')
    .map((p) => lineAround(text, p.start, p.end));
  const spans = recognised.own.filter((s) => !rows.some((r) => s.start >= r.start && s.end <= r.end));
  const inText = recognised.parts.filter((p) => p.record === null);
  const cuts = [
    ...rows.map((r) => ({ ...r, put: '' })),
    ...spans
      .filter((s) => inText.some((p) => s.start >= p.start && s.end <= p.end))
      .map((s) => ({ start: s.start, end: s.end, put: TAKEN_OUT })),
  ].toSorted((a, b) => a.start - b.start);
  const pieces: string[] = [];
  let at = 0;
  for (const c of cuts) {
    if (c.start < at) continue;
    pieces.push(text.slice(at, c.start), c.put);
    at = c.end;
  }
  pieces.push(text.slice(at));
  return pieces.join('');
}

function lineAround(
  text: string,
  start: number,
  end: number,
): { readonly start: number; readonly end: number } {
  const begin = text.lastIndexOf('\n', start - 1) + 1;
  const next = text.indexOf('\n', end);
  return { start: begin, end: next < 0 ? text.length : next + 1 };
}
