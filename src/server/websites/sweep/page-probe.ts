import { randomBytes } from 'node:crypto';
import type { CDPSession, Page } from 'playwright-core';
import type { Cause } from '../../../core/websites/tracker.ts';
import { probeScript } from './probe-script.ts';

/** What a page did, as it was seen; the raw material of trackers. */
export type Seen =
  | {
      readonly what: 'cookie';
      readonly name: string;
      readonly domain: string;
      readonly by: 'http' | 'script';
      readonly cause: readonly Cause[];
    }
  | {
      readonly what: 'storage';
      readonly area: 'local storage' | 'session storage';
      readonly origin: string;
      readonly key: string;
      readonly value: string;
      readonly length: number;
      readonly cause: readonly Cause[];
    }
  | {
      readonly what: 'request';
      readonly url: string;
      readonly resource: string;
      readonly cause: readonly Cause[];
    };

interface Asked {
  readonly url: string;
  readonly hops: string[];
  readonly document: string;
  readonly frame: string;
  readonly initiator: Initiator;
  readonly resource: string;
}

interface CallFrame {
  readonly url: string;
  readonly lineNumber: number;
}
interface Stack {
  readonly callFrames: readonly CallFrame[];
  readonly parent?: Stack;
}
interface Initiator {
  readonly type: string;
  readonly url?: string;
  readonly lineNumber?: number;
  readonly stack?: Stack;
}

const LONGEST_CHAIN = 20;
/** More than any honest page does; a page over it is cut and says so. */
const MOST_SEEN = 5000;

/** Watches one tab over the browser's debugging protocol. */
export class PageProbe {
  readonly #binding = `b${randomBytes(8).toString('hex')}`;
  readonly #asked = new Map<string, Asked>();
  /** Who asked for a script or document, by its address. */
  readonly #loadedBy = new Map<string, { initiator: Initiator; document: string }>();
  readonly #writers = new Map<string, readonly Cause[]>();
  #seen: Seen[] = [];
  #inFlight = new Set<string>();
  #lastActivity = Date.now();
  #extraInfos = new Map<string, number>();
  #early: { requestId: string; headers: Record<string, string> }[] = [];
  overflowed = false;

  private constructor(
    readonly session: CDPSession,
    /** Storage keys that some tab was seen to write; shared, since every tab is told of every write. */
    readonly claims: Set<string>,
  ) {}

  static async attach(page: Page, claims: Set<string> = new Set()): Promise<PageProbe> {
    const session = await page.context().newCDPSession(page);
    const probe = new PageProbe(session, claims);
    probe.#listen();
    await session.send('Network.enable', { maxTotalBufferSize: 0, maxResourceBufferSize: 0 } as never);
    await session.send('DOMStorage.enable');
    // Without it the browser does not say which script asked.
    await session.send('Debugger.enable', { maxScriptsCacheSize: 0 });
    await session.send('Debugger.setAsyncCallStackDepth', { maxDepth: 4 });
    await session.send('Debugger.setSkipAllPauses', { skip: true });
    await session.send('Runtime.enable');
    await session.send('Runtime.addBinding', { name: probe.#binding });
    await session.send('Page.enable');
    await session.send('Page.addScriptToEvaluateOnNewDocument', { source: probeScript(probe.#binding) });
    return probe;
  }

  /** Sends every request to `origin` with one more header. */
  async addHeader(origin: string, name: string, value: string): Promise<void> {
    this.session.on('Fetch.requestPaused', (event) => {
      const headers = Object.entries(event.request.headers as Record<string, string>).map(([n, v]) => ({
        name: n,
        value: String(v),
      }));
      this.session
        .send('Fetch.continueRequest', { requestId: event.requestId, headers: [...headers, { name, value }] })
        .catch(() => {});
    });
    await this.session.send('Fetch.enable', { patterns: [{ urlPattern: `${origin}/*` }] });
  }

  /** Forgets what was seen so far; for the start of a page, or once a choice has been made. */
  begin(): void {
    this.#seen = [];
    this.#asked.clear();
    this.#loadedBy.clear();
    this.#writers.clear();
    this.#inFlight.clear();
    this.#extraInfos.clear();
    this.#early = [];
    this.#lastActivity = Date.now();
    this.overflowed = false;
  }

  /** As `begin`, but keeps who loaded what, since scripts of the page go on running. */
  forget(): void {
    this.#seen = [];
  }

  take(): readonly Seen[] {
    return this.#seen.filter(
      (s) => s.what !== 'storage' || s.cause.length > 0 || !this.claims.has(`${s.area}\n${s.key}`),
    );
  }

  /** Waits until nothing has been asked for or written for `quietMs`, at most `mostMs`. `false` if it never settled. */
  async settled(quietMs: number, mostMs: number): Promise<boolean> {
    const until = Date.now() + mostMs;
    for (;;) {
      const now = Date.now();
      const quiet = now - this.#lastActivity;
      if (this.#inFlight.size === 0 && quiet >= quietMs) return true;
      if (now >= until) return false;
      const wait = this.#inFlight.size === 0 ? quietMs - quiet : 40;
      await new Promise((done) => setTimeout(done, Math.max(5, Math.min(wait, until - now))));
    }
  }

  #add(seen: Seen): void {
    if (this.#seen.length >= MOST_SEEN) this.overflowed = true;
    else this.#seen.push(seen);
    this.#lastActivity = Date.now();
  }

  #listen(): void {
    const { session } = this;
    session.on('Network.requestWillBeSent', (e) => {
      const initiator = e.initiator as Initiator;
      const { url } = e.request;
      if (!/^(https?|wss?):/.test(url)) return;
      this.#lastActivity = Date.now();
      const resource = String(e.type ?? 'other').toLowerCase();
      // Of a frame's own page the browser names that page itself: what asked is in the initiator.
      const itself = resource === 'document' && e.documentURL === url;
      const document = itself ? (initiator.url ?? topFrame(initiator.stack)?.url ?? '') : e.documentURL;
      const known = this.#asked.get(e.requestId);
      if (known && e.redirectResponse) known.hops.push(url);
      else {
        this.#asked.set(e.requestId, {
          url,
          hops: [url],
          document,
          frame: e.frameId ?? '',
          initiator,
          resource,
        });
        this.#inFlight.add(e.requestId);
      }
      if (!this.#loadedBy.has(url)) this.#loadedBy.set(url, { initiator, document });
      this.#add({
        what: 'request',
        url,
        resource,
        cause: this.#causeOf(initiator, document, url),
      });
      const early = this.#early.filter((x) => x.requestId === e.requestId);
      if (early.length) {
        this.#early = this.#early.filter((x) => x.requestId !== e.requestId);
        for (const x of early) this.#responseHeaders(x.requestId, x.headers);
      }
    });
    const over = (e: { requestId: string }) => {
      this.#inFlight.delete(e.requestId);
      this.#lastActivity = Date.now();
    };
    session.on('Network.loadingFinished', over);
    session.on('Network.loadingFailed', over);
    session.on('Network.webSocketCreated', (e) => {
      this.#add({
        what: 'request',
        url: e.url,
        resource: 'websocket',
        cause: this.#causeOf((e.initiator ?? { type: 'other' }) as Initiator, '', e.url),
      });
    });
    session.on('Network.responseReceived', (e) => {
      // A stream of events never ends by itself.
      if (e.response.mimeType === 'text/event-stream') this.#inFlight.delete(e.requestId);
    });
    session.on('Network.responseReceivedExtraInfo', (e) => {
      const headers = e.headers as Record<string, string>;
      if (this.#asked.has(e.requestId)) this.#responseHeaders(e.requestId, headers);
      else if (this.#early.length < 200) this.#early.push({ requestId: e.requestId, headers });
    });
    const stored = (e: {
      storageId: { securityOrigin?: string; storageKey?: string; isLocalStorage: boolean };
      key: string;
      newValue: string;
    }) => {
      const origin = originOf(e.storageId.securityOrigin || e.storageId.storageKey || '');
      const area = e.storageId.isLocalStorage ? 'local storage' : 'session storage';
      const cause = this.#writers.get(`${area}\n${e.key}`) ?? [];
      this.#add({
        what: 'storage',
        area,
        origin,
        key: e.key,
        value: e.newValue,
        length: e.newValue.length,
        cause,
      });
    };
    session.on('DOMStorage.domStorageItemAdded', stored);
    session.on('DOMStorage.domStorageItemUpdated', stored);
    session.on('Runtime.bindingCalled', (e) => {
      if (e.name === this.#binding) this.#written(e.payload);
    });
    session.on('Page.javascriptDialogOpening', () => {
      session.send('Page.handleJavaScriptDialog', { accept: false }).catch(() => {});
    });
  }

  #written(payload: string): void {
    let told: {
      kind: string;
      name: string;
      value: string;
      length: number;
      frames: string[];
      document: string;
      origin: string;
    };
    try {
      told = JSON.parse(payload) as typeof told;
    } catch {
      return;
    }
    const frames = told.frames.map((f): CallFrame => {
      const at = f.lastIndexOf(' ');
      return { url: f.slice(0, at), lineNumber: Number(f.slice(at + 1)) - 1 };
    });
    const initiator: Initiator = { type: 'script', stack: { callFrames: frames } };
    const cause = this.#causeOf(initiator, told.document, '');
    if (told.kind === 'cookie') {
      const cookie = parseCookieName(told.name);
      if (cookie)
        this.#add({
          what: 'cookie',
          name: cookie.name,
          domain: cookie.domain || hostOf(told.document),
          by: 'script',
          cause,
        });
    } else if (told.kind === 'local storage' || told.kind === 'session storage') {
      // A value written again as it was changes nothing, and so raises no event of the browser's.
      this.#rememberWriter(`${told.kind}\n${told.name}`, cause);
      this.#add({
        what: 'storage',
        area: told.kind,
        origin: told.origin,
        key: told.name,
        value: told.value,
        length: told.length,
        cause,
      });
    }
  }

  /** The write is told after the change: who wrote is joined to what was written, whichever comes first. */
  #rememberWriter(key: string, cause: readonly Cause[]): void {
    this.claims.add(key);
    this.#writers.set(key, cause);
    this.#seen = this.#seen.map((s) =>
      s.what === 'storage' && s.cause.length === 0 && `${s.area}\n${s.key}` === key ? { ...s, cause } : s,
    );
  }

  #responseHeaders(requestId: string, headers: Record<string, string>): void {
    const asked = this.#asked.get(requestId);
    if (!asked) return;
    const hop = this.#extraInfos.get(requestId) ?? 0;
    this.#extraInfos.set(requestId, hop + 1);
    const url = asked.hops[Math.min(hop, asked.hops.length - 1)] ?? asked.url;
    const lines = Object.entries(headers).find(([name]) => name.toLowerCase() === 'set-cookie')?.[1];
    if (!lines) return;
    const cause: Cause[] = [
      ...this.#causeOf(asked.initiator, asked.document, url),
      { what: 'response', url },
    ];
    for (const line of lines.split('\n')) {
      const cookie = parseCookieName(line);
      if (cookie)
        this.#add({
          what: 'cookie',
          name: cookie.name,
          domain: cookie.domain || hostOf(url),
          by: 'http',
          cause,
        });
    }
  }

  /** From the page to what asked: walks back from the asking script through who loaded each. */
  #causeOf(initiator: Initiator, document: string, self: string): readonly Cause[] {
    const steps: Cause[] = [];
    let at: { initiator: Initiator; document: string } | undefined = { initiator, document };
    const been = new Set<string>([self]);
    while (at && steps.length < LONGEST_CHAIN) {
      const frame = topFrame(at.initiator.stack);
      const page: string = at.document;
      const url: string = frame?.url || at.initiator.url || page;
      const line = frame
        ? frame.lineNumber + 1
        : at.initiator.lineNumber !== undefined
          ? at.initiator.lineNumber + 1
          : undefined;
      if (!url) break;
      if (frame && url !== page && !been.has(url)) {
        been.add(url);
        steps.push({ what: 'script', url, line });
        at = this.#loadedBy.get(url);
        continue;
      }
      const parent = been.has(page) ? undefined : this.#loadedBy.get(page);
      const inFrame =
        parent !== undefined &&
        parent.document !== page &&
        parent.document !== '' &&
        isFrameLoad(parent.initiator);
      steps.push({ what: inFrame ? 'frame' : 'page', url: url || page, line });
      been.add(page);
      at = inFrame ? { initiator: parent.initiator, document: parent.document } : undefined;
    }
    return steps.reverse();
  }
}

function isFrameLoad(initiator: Initiator): boolean {
  return initiator.type === 'parser' || initiator.type === 'script';
}

function topFrame(stack: Stack | undefined): CallFrame | undefined {
  for (let s = stack; s; s = s.parent) {
    const frame = s.callFrames.find((f) => /^https?:/.test(f.url));
    if (frame) return frame;
  }
  return undefined;
}

/** The name and the Domain attribute of a Set-Cookie line (RFC 6265 section 5.2). */
function parseCookieName(line: string): { name: string; domain: string } | undefined {
  const [pair = '', ...attributes] = line.split(';');
  const at = pair.indexOf('=');
  const name = (at < 0 ? '' : pair.slice(0, at)).trim();
  if (name === '') return undefined;
  const domain = attributes
    .map((a) => a.split('='))
    .findLast(([key]) => key?.trim().toLowerCase() === 'domain')?.[1];
  return { name, domain: (domain ?? '').trim().replace(/^\./, '').toLowerCase() };
}

function hostOf(url: string): string {
  return URL.canParse(url) ? new URL(url).hostname : '';
}

function originOf(key: string): string {
  const [first = ''] = key.split('^');
  return URL.canParse(first) ? new URL(first).origin : first;
}
