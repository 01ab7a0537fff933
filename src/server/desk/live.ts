import type { Account } from '../../core/accounts/authority.ts';
import { maySee } from '../../core/accounts/object-sight.ts';
import { fewChanges, type ChangedObject } from '../../core/desk/changed-object.ts';
import { togetherAllow } from '../../core/accounts/roles/role-kinship.ts';
import { isKept } from '../../core/accounts/scope.ts';
import { findAccount } from '../accounts/account.ts';
import { isOpen } from '../accounts/session.ts';
import { keptState, sharedState, withAssigned, type DeskState } from './desk-state.ts';
import { RecentChanges } from './recent-changes.ts';
import { countOwn } from './today.ts';
import type { Context } from '../context.ts';
import { logFailure } from '../processes/failure-log.ts';

interface Listener {
  readonly account: Account;
  readonly hear: (event: 'desk' | 'changed', text: string) => void;
  readonly end: () => void;
}

const POLL_MS = 1000;
const ALIVE_MS = 15_000;
const SESSION_MS = 5000;
/** Windows of one person; the oldest stream ends when there are more. */
const MOST_STREAMS = 12;
/** Of one kind, in one message; of more, only their kind is told. */
const MOST_CHANGED = 20;

/**
 * One look at the database a second for all open desks of this process and each set of permissions among them, since what
 * somebody is told depends on those; each is sent what changed, as server-sent events: `desk` with what the bar and the strip
 * show, `changed` with the objects that were changed. No look while nobody listens.
 */
class Live {
  readonly #listeners = new Set<Listener>();
  /** What each account was told last. */
  readonly #last = new Map<number, string>();
  #changes = new RecentChanges();
  #timer: NodeJS.Timeout | undefined;
  #looking = false;

  constructor(readonly ctx: Context) {}

  listen(listener: Listener): () => void {
    const mine = [...this.#listeners].filter((l) => l.account.id === listener.account.id);
    if (mine.length >= MOST_STREAMS) mine[0]?.end();
    this.#listeners.add(listener);
    const last = this.#last.get(listener.account.id);
    if (last) listener.hear('desk', last);
    this.#tellOne(listener, this.#changes.lately());
    this.#timer ??= setInterval(() => void this.#look(), POLL_MS);
    void this.#look();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size > 0) return;
      clearInterval(this.#timer);
      this.#timer = undefined;
      this.#last.clear();
      this.#changes = new RecentChanges();
    };
  }

  async #look(): Promise<void> {
    // A slow database is not asked again before it has answered.
    if (this.#looking) return;
    this.#looking = true;
    try {
      await this.#tellState();
      await this.#tellChanges();
    } catch (error) {
      logFailure('could not look for what is new', error);
    } finally {
      this.#looking = false;
    }
  }

  async #tellState(): Promise<void> {
    const accounts = [...new Map([...this.#listeners].map((l) => [l.account.id, l.account])).values()];
    const assigned = await countOwn(this.ctx.store, this.ctx.now(), accounts);
    const states = new Map<string, DeskState>();
    const stateOfRoles = async (account: Account) => {
      const allowed = togetherAllow(account.roles).join();
      const state = states.get(allowed) ?? (await sharedState(this.ctx, account));
      states.set(allowed, state);
      return state;
    };
    for (const account of accounts) {
      const text = JSON.stringify(
        isKept(account)
          ? await keptState(this.ctx, account)
          : withAssigned(await stateOfRoles(account), assigned.get(account.id)),
      );
      if (text === this.#last.get(account.id)) continue;
      this.#last.set(account.id, text);
      for (const l of this.#listeners) if (l.account.id === account.id) l.hear('desk', text);
    }
  }

  async #tellChanges(): Promise<void> {
    const changed = await this.#changes.look(this.ctx.store, this.ctx.now());
    for (const listener of this.#listeners) this.#tellOne(listener, changed);
  }

  #tellOne({ account, hear }: Listener, changed: readonly ChangedObject[]): void {
    const seen = fewChanges(
      // What an id belongs to would have to be looked up: those who are kept to a part are told the kind.
      changed
        .filter((c) => maySee(account, c.object))
        .map((c) => (isKept(account) ? { object: c.object, id: null } : c)),
      MOST_CHANGED,
    );
    if (seen.length > 0) hear('changed', JSON.stringify(seen));
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
  const began = sightOf(account);
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
        hear: (event, text) => write(`event: ${event}\ndata: ${text}\n\n`),
        end,
      });
      const alive = setInterval(() => write(': alive\n\n'), ALIVE_MS);
      const session = setInterval(() => {
        Promise.all([isOpen(ctx, token), findAccount(ctx.store, account.id)]).then(
          // Who may see less, or more, than when it began starts anew.
          ([open, now]) => (open && sightOf(now.account) === began) || end(),
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

/** What decides what somebody may see. */
function sightOf({ roles, scope }: Account): string {
  return JSON.stringify([togetherAllow(roles), scope]);
}
