import { deskState } from './desk.ts';
import type { Context } from './context.ts';
import { log } from './log.ts';

type Listener = (text: string) => void;

const POLL_MS = 1000;
const ALIVE_MS = 15_000;

/**
 * One look at the database a second for all open desks of this process; each is sent what changed, as server-sent
 * events. No look while nobody listens.
 */
class Live {
  readonly #listeners = new Set<Listener>();
  #timer: NodeJS.Timeout | undefined;
  #last = '';

  constructor(readonly ctx: Context) {}

  listen(listener: Listener): () => void {
    this.#listeners.add(listener);
    if (this.#last) listener(this.#last);
    this.#timer ??= setInterval(() => void this.#look(), POLL_MS);
    void this.#look();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size > 0) return;
      clearInterval(this.#timer);
      this.#timer = undefined;
      this.#last = '';
    };
  }

  async #look(): Promise<void> {
    try {
      const text = JSON.stringify(await deskState(this.ctx));
      if (text === this.#last) return;
      this.#last = text;
      for (const listener of this.#listeners) listener(text);
    } catch (error) {
      log.warn({ err: (error as Error).message }, 'could not look for what is new');
    }
  }
}

let live: Live | undefined;

/** The stream of one open desk. */
export function liveStream(ctx: Context, signal: AbortSignal): ReadableStream<Uint8Array> {
  live ??= new Live(ctx);
  const hub = live;
  const encoder = new TextEncoder();
  let stop = () => {};
  return new ReadableStream({
    start(controller) {
      const write = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const unlisten = hub.listen((text) => write(`event: desk\ndata: ${text}\n\n`));
      const alive = setInterval(() => write(': alive\n\n'), ALIVE_MS);
      stop = () => {
        unlisten();
        clearInterval(alive);
      };
      signal.addEventListener('abort', stop, { once: true });
    },
    cancel: () => stop(),
  });
}
