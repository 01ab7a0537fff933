import type { Cover } from './cover.ts';

/** Stands for whatever was taken out: always as long, so that its length tells nothing. */
export const COVER_BLOCK = '█████';

/** A stretch of what the person gets: text as it was, or what stands in its place. */
export type ShownPiece =
  { readonly text: string; readonly start: number } | { readonly cover: Cover; readonly text: string };

/** The text without what is covered, in pieces. */
export function coveredPieces(text: string, covers: readonly Cover[]): readonly ShownPiece[] {
  const pieces: ShownPiece[] = [];
  let at = 0;
  for (const c of covers.toSorted((a, b) => a.start - b.start || b.end - a.end)) {
    const start = Math.max(at, c.start);
    if (c.end <= at) continue;
    if (start > at) pieces.push({ text: text.slice(at, start), start: at });
    pieces.push({ cover: c, text: COVER_BLOCK });
    at = c.end;
  }
  if (at < text.length) pieces.push({ text: text.slice(at), start: at });
  return pieces;
}

/** The text that the person gets. */
export function coveredText(text: string, covers: readonly Cover[]): string {
  return coveredPieces(text, covers)
    .map((p) => p.text)
    .join('');
}

/** Of a stretch of a text, such as a cell. */
export function coveredSlice(text: string, covers: readonly Cover[], start: number, end: number): string {
  return coveredText(
    text.slice(start, end),
    covers.flatMap((c) =>
      c.start < end && c.end > start
        ? [{ ...c, start: Math.max(0, c.start - start), end: Math.min(end, c.end) - start }]
        : [],
    ),
  );
}

/** What was taken out, each value once: what must stand nowhere in what the person gets. */
export function coveredValues(text: string, covers: readonly Cover[]): readonly string[] {
  return [...new Set(covers.map((c) => text.slice(c.start, c.end).trim()).filter((v) => v !== ''))];
}
