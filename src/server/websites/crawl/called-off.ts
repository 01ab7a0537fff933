/** How long a sweep that was called off waits for the pages that are under way. */
const CALLED_OFF_MS = 5_000;

/** A browser that is closed in the middle of a question may leave it unanswered for ever. */
export async function untilCalledOff(work: Promise<void>, signal: AbortSignal): Promise<void> {
  let calledOff = () => {};
  const over = new Promise<void>((done) => {
    calledOff = () => setTimeout(done, CALLED_OFF_MS);
    if (signal.aborted) calledOff();
    else signal.addEventListener('abort', calledOff, { once: true });
  });
  try {
    await Promise.race([work, over]);
  } finally {
    signal.removeEventListener('abort', calledOff);
    work.catch(() => {});
  }
}
