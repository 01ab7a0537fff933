import type { CDPSession } from 'playwright-core';
import { logFailure } from '../../../processes/failure-log.ts';

/** A debugging session of a page, or of a worker behind it; events are those of the Chrome DevTools Protocol. */
export interface Channel {
  on(event: string, listener: (e: never) => void): void;
  send(method: string, params?: Record<string, unknown>): Promise<unknown>;
}

/** Listens so that nothing an event holds, however strange, ends more than its own handling. */
export function hear<E>(channel: Channel, event: string, listener: (e: E) => void): void {
  channel.on(event, ((e: E) => {
    try {
      listener(e);
    } catch (error) {
      logFailure('an event of a swept page could not be read', error, { event });
    }
  }) as (e: never) => void);
}

/** More workers than any honest page starts. */
const MOST_WORKERS = 200;

/** The sessions of the workers that a page starts, over the page's own session. */
export class WorkerChannels {
  readonly #listeners = new Map<string, Map<string, ((e: never) => void)[]>>();
  readonly #answers = new Map<string, { done: (v: unknown) => void; failed: (e: Error) => void }>();
  #next = 1;

  constructor(
    readonly session: CDPSession,
    /** Gets each worker before its first line runs; it starts once the promise settles. */
    readonly attached: (channel: Channel, url: string, kind: string) => Promise<void>,
  ) {
    const page = session as unknown as Channel;
    hear<{ sessionId: string; targetInfo: { url: string; type: string } }>(
      page,
      'Target.attachedToTarget',
      ({ sessionId, targetInfo }) => {
        const channel = this.#channel(sessionId);
        const start = () => void channel.send('Runtime.runIfWaitingForDebugger').catch(() => {});
        if (this.#listeners.size >= MOST_WORKERS) return start();
        this.#listeners.set(sessionId, new Map());
        void attached(channel, targetInfo.url, targetInfo.type)
          .catch(() => {})
          .finally(start);
      },
    );
    hear<{ sessionId: string }>(page, 'Target.detachedFromTarget', (e) => this.#left(e.sessionId));
    hear<{ sessionId: string; message: string }>(page, 'Target.receivedMessageFromTarget', (e) =>
      this.#received(e.sessionId, e.message),
    );
  }

  async begin(): Promise<void> {
    await this.session.send('Target.setAutoAttach', {
      autoAttach: true,
      waitForDebuggerOnStart: true,
      flatten: false,
    });
  }

  #channel(sessionId: string): Channel {
    return {
      on: (event, listener) => {
        const events = this.#listeners.get(sessionId);
        events?.set(event, [...(events.get(event) ?? []), listener]);
      },
      send: (method, params = {}) => {
        const id = this.#next++;
        const answer = new Promise<unknown>((done, failed) =>
          this.#answers.set(`${sessionId} ${id}`, { done, failed }),
        );
        this.session
          .send('Target.sendMessageToTarget', { sessionId, message: JSON.stringify({ id, method, params }) })
          .catch((error: Error) => this.#answers.get(`${sessionId} ${id}`)?.failed(error));
        return answer;
      },
    };
  }

  /** What a worker that is gone was asked is never answered. */
  #left(sessionId: string): void {
    this.#listeners.delete(sessionId);
    for (const [key, { failed }] of this.#answers)
      if (key.startsWith(`${sessionId} `)) {
        this.#answers.delete(key);
        failed(new Error('The worker is gone.'));
      }
  }

  #received(sessionId: string, text: string): void {
    const message = JSON.parse(text) as {
      id?: number;
      result?: unknown;
      error?: { message: string };
      method?: string;
      params?: never;
    };
    if (message.id === undefined) {
      const listeners = this.#listeners.get(sessionId)?.get(message.method ?? '') ?? [];
      for (const listener of listeners) listener((message.params ?? {}) as never);
      return;
    }
    const key = `${sessionId} ${message.id}`;
    const answer = this.#answers.get(key);
    this.#answers.delete(key);
    if (message.error) answer?.failed(new Error(message.error.message));
    else answer?.done(message.result);
  }
}
