import type { CDPSession } from 'playwright-core';
import { hear, type Channel } from '../browser/channel.ts';

interface Pattern {
  /** An origin with `/*`. */
  readonly urlPattern: string;
  readonly resourceType?: 'Document';
  readonly requestStage: 'Request' | 'Response';
}

interface Paused {
  readonly requestId: string;
  readonly request: { readonly url: string; readonly headers: Readonly<Record<string, string>> };
  readonly responseStatusCode?: number;
  readonly responseHeaders?: { name: string; value: string }[];
}

/** Changes what a tab asks for and gets, of some origins; everything else goes its way. */
export class Interception {
  readonly #all: { pattern: Pattern; act: (event: Paused) => Promise<unknown> }[] = [];

  constructor(readonly session: CDPSession) {}

  /** Sends every request to `origin` with these headers besides its own. */
  async addHeaders(origin: string, more: Readonly<Record<string, string>>): Promise<void> {
    const added = Object.entries(more).map(([name, value]) => ({ name, value }));
    await this.#intercept({ urlPattern: `${origin}/*`, requestStage: 'Request' }, (event) => {
      const own = Object.entries(event.request.headers).map(([name, value]) => ({
        name,
        value: String(value),
      }));
      return this.session.send('Fetch.continueRequest', {
        requestId: event.requestId,
        headers: [...own, ...added],
      });
    });
  }

  /** Changes every page of `origin` before it is read. */
  async rewritePages(origin: string, rewrite: (html: string, url: string) => string): Promise<void> {
    await this.#intercept(
      { urlPattern: `${origin}/*`, resourceType: 'Document', requestStage: 'Response' },
      async (event) => {
        const { requestId } = event;
        const headers = event.responseHeaders ?? [];
        const type = headers.find((h) => h.name.toLowerCase() === 'content-type')?.value ?? '';
        if (event.responseStatusCode !== 200 || !/html/.test(type))
          return this.session.send('Fetch.continueRequest', { requestId });
        const { body, base64Encoded } = await this.session.send('Fetch.getResponseBody', { requestId });
        const html = Buffer.from(body, base64Encoded ? 'base64' : 'utf8').toString('utf8');
        const changed = Buffer.from(rewrite(html, event.request.url), 'utf8').toString('base64');
        const kept = headers.filter(
          (h) => !/^(content-length|content-encoding|transfer-encoding)$/i.test(h.name),
        );
        return this.session.send('Fetch.fulfillRequest', {
          requestId,
          responseCode: 200,
          responseHeaders: kept,
          body: changed,
        });
      },
    );
  }

  async #intercept(pattern: Pattern, act: (event: Paused) => Promise<unknown>): Promise<void> {
    if (this.#all.length === 0)
      hear<Paused>(this.session as unknown as Channel, 'Fetch.requestPaused', (paused) => {
        const stage = paused.responseStatusCode === undefined ? 'Request' : 'Response';
        const wanted = this.#all.find(
          (i) =>
            i.pattern.requestStage === stage &&
            paused.request.url.startsWith(i.pattern.urlPattern.slice(0, -1)),
        );
        const done =
          wanted?.act(paused) ?? this.session.send('Fetch.continueRequest', { requestId: paused.requestId });
        done.catch(() =>
          this.session.send('Fetch.continueRequest', { requestId: paused.requestId }).catch(() => {}),
        );
      });
    this.#all.push({ pattern, act });
    await this.session.send('Fetch.enable', { patterns: this.#all.map((i) => i.pattern) });
  }
}
