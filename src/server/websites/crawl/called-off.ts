/** How long a sweep that was called off waits for the pages that are under way. */
const CALLED_OFF_MS = 5_000;

/** A browser that is closed in the middle of a question may leave it unanswered for ever: `undefined`, then. */
export async function untilCalledOff<T>(work: Promise<T>, signal: AbortSignal): Promise<T | undefined> {
  let calledOff = () => {};
  const over = new Promise<undefined>((done) => {
    calledOff = () => setTimeout(() => done(undefined), CALLED_OFF_MS);
    if (signal.aborted) calledOff();
    else signal.addEventListener('abort', calledOff, { once: true });
  });
  try {
    return await Promise.race([work, over]);
  } finally {
    signal.removeEventListener('abort', calledOff);
    work.catch(() => {});
  }
}
