/** The result, or `fallback` when it fails or takes longer than `ms`: what is asked of others may never be answered. */
export async function within<T>(ms: number, work: Promise<T>, fallback: T): Promise<T> {
  return inTime(ms, work).catch(() => fallback);
}

/** Work took longer than it may. */
export class LateError extends Error {}

/** The result, or a LateError when it takes longer than `ms`. */
export async function inTime<T>(ms: number, work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>(
    (_, fail) => (timer = setTimeout(() => fail(new LateError(`No answer within ${ms} ms.`)), ms)),
  );
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
}
