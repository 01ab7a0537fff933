import type { Account } from '../../core/accounts/authority.ts';
import type { Role } from '../../core/accounts/role.ts';
import { isOpen } from '../accounts/session.ts';
import { deskState } from './desk-state.ts';
import type { Context } from '../context.ts';
import { logFailure } from '../processes/failure-log.ts';

interface Listener {
  readonly account: Account;
  readonly hear: (text: string) => void;
  readonly end: () => void;
}

const POLL_MS = 1000;
const ALIVE_MS = 15_000;
const SESSION_MS = 5000;
/** Windows of one person; the oldest stream ends when there are more. */
const MOST_STREAMS = 12;

/**
 * One look at the database a second for all open desks of this process and each role among them, since what somebody is
 * told depends on the role; each is sent what changed, as server-sent events. No look while nobody listens.
 */
class Live {
  readonly #listeners = new Set<Listener>();
  readonly #last = new Map<Role, string>();
  #timer: NodeJS.Timeout | undefined;

  constructor(readonly ctx: Context) {}

  listen(listener: Listener): () => void {
    const mine = [...this.#listeners].filter((l) => l.account.id === listener.account.id);
    if (mine.length >= MOST_STREAMS) mine[0]?.end();
    this.#listeners.add(listener);
    const last = this.#last.get(listener.account.role);
    if (last) listener.hear(last);
    this.#timer ??= setInterval(() => void this.#look(), POLL_MS);
    void this.#look();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size > 0) return;
      clearInterval(this.#timer);
      this.#timer = undefined;
      this.#last.clear();
    };
  }

  async #look(): Promise<void> {
    const roles = new Map([...this.#listeners].map((l) => [l.account.role, l.account]));
    for (const [role, account] of roles)
      try {
        const text = JSON.stringify(await deskState(this.ctx, account));
        if (text === this.#last.get(role)) continue;
        this.#last.set(role, text);
        for (const listener of this.#listeners) if (listener.account.role === role) listener.hear(text);
      } catch (error) {
        logFailure('could not look for what is new', error);
      }
  }
}

let live: Live | undefined;

/** The stream of one open desk; it ends with its session. */
export function liveStream(
  ctx: Context,
  account: Account,
  token: string,
  signal: AbortSignal,
): ReadableStream<Uint8Array> {
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
      const end = () => {
        stop();
        try {
          controller.close();
        } catch {
          // The reader was faster.
        }
      };
      const unlisten = hub.listen({
        account,
        hear: (text) => write(`event: desk\ndata: ${text}\n\n`),
        end,
      });
      const alive = setInterval(() => write(': alive\n\n'), ALIVE_MS);
      const session = setInterval(() => {
        isOpen(ctx, token).then(
          (open) => open || end(),
          () => {
            // Without a database nobody can say; it is asked again.
          },
        );
      }, SESSION_MS);
      stop = () => {
        unlisten();
        clearInterval(alive);
        clearInterval(session);
      };
      signal.addEventListener('abort', stop, { once: true });
    },
    cancel: () => stop(),
  });
}
