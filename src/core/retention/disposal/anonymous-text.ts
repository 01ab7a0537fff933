/** A stretch of a text in which something personal was found; UTF-16 offsets. */
export interface Covered {
  readonly start: number;
  readonly end: number;
  /** What was found, as it stands in its place: `[email]`. */
  readonly what: string;
}

/** A text without what was found in it. What overlaps or touches goes as one, under the name of what began first. */
export function withoutPersonal(
  text: string,
  found: readonly Covered[],
): { readonly text: string; readonly values: number } {
  const pieces: string[] = [];
  let at = 0;
  let values = 0;
  let open = -1;
  for (const f of found.toSorted((a, b) => a.start - b.start || b.end - a.end)) {
    if (f.end <= f.start || f.end <= at) continue;
    if (f.start > at || open < 0) {
      pieces.push(text.slice(at, Math.max(at, f.start)), `[${f.what}]`);
      values++;
      open = f.start;
    }
    at = f.end;
  }
  pieces.push(text.slice(at));
  return { text: pieces.join(''), values };
}
