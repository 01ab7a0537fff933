/** The index of the first that begins at `start` or later; they stand in rising order. */
export function firstFrom(items: readonly { readonly start: number }[], start: number): number {
  let [low, high] = [0, items.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((items[middle] as { readonly start: number }).start < start) low = middle + 1;
    else high = middle;
  }
  return low;
}
