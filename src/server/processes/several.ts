/** Does the work for each, so many at once, and gives what came of it in their order. The first failure is thrown. */
export async function several<T, R>(
  all: readonly T[],
  atOnce: number,
  work: (one: T, index: number) => Promise<R>,
): Promise<R[]> {
  const results: R[] = [];
  let next = 0;
  const lane = async () => {
    for (let i = next++; i < all.length; i = next++) results[i] = await work(all[i] as T, i);
  };
  await Promise.all(Array.from({ length: Math.max(1, atOnce) }, lane));
  return results;
}
