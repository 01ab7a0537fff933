import type { Unsent, UnsentChoices } from './unsent.ts';

export interface SenderHandlers {
  /** On record; `receipt` is its number, '' for a choice that is only rehearsed. */
  recorded(choice: Unsent, receipt: string): void;
  /** Refused for good: it will never be on record. */
  refused(choice: Unsent): void;
}

type Outcome =
  | { readonly said: 'recorded'; readonly receipt: string }
  | { readonly said: 'refused' }
  | { readonly said: 'later'; readonly ms: number };

const FIRST_PAUSE_MS = 400;
const LONGEST_PAUSE_MS = 60_000;

/**
 * Sends choices to the service in their order, one at a time over all tabs, again and again until each is on record or
 * refused for good. Each has a key of its own, so that one that arrives twice counts once.
 */
export class Sender {
  #flushing: Promise<void> | undefined;
  #again: number | undefined;
  #pauseMs = FIRST_PAUSE_MS;

  constructor(
    readonly window: Window & typeof globalThis,
    /** As it was before scripts of the page could change it. */
    readonly fetch: (address: string, init: RequestInit) => Promise<Response>,
    /** Where choices go. */
    readonly address: string,
    readonly unsent: UnsentChoices,
    readonly handlers: SenderHandlers,
  ) {
    for (const event of ['online', 'pageshow'] as const)
      window.addEventListener(event, () => void this.flush());
  }

  /** Settles when all are sent, or the next attempt has to wait. */
  flush(): Promise<void> {
    clearTimeout(this.#again);
    this.#flushing ??= this.#alone(() => this.#sendAll()).finally(() => (this.#flushing = undefined));
    return this.#flushing;
  }

  async #sendAll(): Promise<void> {
    for (let next = this.#next(); next; next = this.#next()) {
      const outcome = await this.#send(next);
      if (outcome.said === 'later') {
        this.#again = this.window.setTimeout(() => void this.flush(), outcome.ms);
        return;
      }
      this.#pauseMs = FIRST_PAUSE_MS;
      this.unsent.remove(next.choiceKey);
      if (outcome.said === 'recorded') this.handlers.recorded(next, outcome.receipt);
      else this.handlers.refused(next);
    }
  }

  #next(): Unsent | undefined {
    return this.unsent.all(Date.now() / 1000)[0];
  }

  async #send({ at: _at, ...choice }: Unsent): Promise<Outcome> {
    try {
      const response = await this.fetch(this.address, {
        method: 'POST',
        body: JSON.stringify(choice),
        // Goes on when the page is left.
        keepalive: true,
        credentials: 'omit',
      });
      if (response.ok) {
        const { receipt } = (await response.json()) as { receipt: { id: string } };
        return { said: 'recorded', receipt: receipt.id };
      }
      if (response.status === 429)
        return this.#later(Number(response.headers.get('retry-after')) * 1000 || LONGEST_PAUSE_MS);
      if (response.status >= 400 && response.status < 500 && response.status !== 408)
        return { said: 'refused' };
    } catch {
      // Not reached, or an answer that was lost: sent again.
    }
    this.#pauseMs = Math.min(LONGEST_PAUSE_MS, this.#pauseMs * 3);
    return this.#later(this.#pauseMs);
  }

  #later(ms: number): Outcome {
    // Many browsers that wait for the same service do not all come back at once.
    return { said: 'later', ms: Math.min(LONGEST_PAUSE_MS, ms) * (0.75 + Math.random() / 2) };
  }

  /** One tab at a time, where the browser can tell; elsewhere the keys of choices make a second harmless. */
  async #alone(work: () => Promise<void>): Promise<void> {
    const { locks } = this.window.navigator;
    if (!locks) return work();
    await locks.request('yare_unsent', work).catch(work);
  }
}
