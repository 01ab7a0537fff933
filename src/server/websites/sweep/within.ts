/** The result, or `fallback` when it fails or takes longer than `ms`: a page can hold its own answers back for ever. */
export async function within<T>(ms: number, work: Promise<T>, fallback: T): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<T>((done) => (timer = setTimeout(() => done(fallback), ms)));
  return Promise.race([work.catch(() => fallback), late]).finally(() => clearTimeout(timer));
}
