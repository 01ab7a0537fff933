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

/** As `firstIndex`, of a rising row: the first that has `least` or more. Where it is asked for all the time, a call for each step is too dear. */
export function firstFrom(row: Int32Array, low: number, high: number, least: number): number {
  let [from, to] = [low, high];
  while (from < to) {
    const middle = (from + to) >> 1;
    if ((row[middle] as number) >= least) to = middle;
    else from = middle + 1;
  }
  return from;
}
