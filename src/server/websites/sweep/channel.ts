import type { CDPSession } from 'playwright-core';

/** A debugging session of a page, or of a worker behind it; events are those of the Chrome DevTools Protocol. */
export interface Channel {
  on(event: string, listener: (e: never) => void): void;
  send(method: string, params?: Record<string, unknown>): Promise<unknown>;
}

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
    session.on('Target.attachedToTarget', (e) => {
      const { sessionId, targetInfo } = e;
      this.#listeners.set(sessionId, new Map());
      const channel = this.#channel(sessionId);
      void attached(channel, targetInfo.url, targetInfo.type)
        .catch(() => {})
        .finally(() => void channel.send('Runtime.runIfWaitingForDebugger').catch(() => {}));
    });
    session.on('Target.detachedFromTarget', (e) => this.#listeners.delete(e.sessionId));
    session.on('Target.receivedMessageFromTarget', (e) => this.#received(e.sessionId, e.message));
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
