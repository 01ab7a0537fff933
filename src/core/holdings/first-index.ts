/** The first index in [low, high) for which `holds`, which from there on always does; `high` where it never does. */
export function firstIndex(low: number, high: number, holds: (index: number) => boolean): number {
  let [from, to] = [low, high];
  while (from < to) {
    const middle = (from + to) >> 1;
    if (holds(middle)) to = middle;
    else from = middle + 1;
  }
  return from;
}
