import { randomBytes } from 'node:crypto';
import type { CDPSession, Page } from 'playwright-core';
import type { Cause, Moment } from '../../../../core/websites/trackers/tracker.ts';
import { pause } from '../../../processes/pause.ts';
import { within } from '../../../processes/within.ts';
import { CauseChains, type Initiator, type Stack } from './cause-chains.ts';
import { hear, WorkerChannels, type Channel } from '../browser/channel.ts';
import { FrameTree, type Place } from './frame-tree.ts';
import { InFlight } from './in-flight.ts';
import { Interception } from './interception.ts';
import {
  enableNetwork,
  MOST_BODY,
  type ExtraInfo,
  type RequestEvent,
  type ResponseEvent,
} from './network-events.ts';
import { probeScript } from './probe-script.ts';
import { Told } from './told.ts';
import { clickAt, PageWorld } from './page-world.ts';
import { MOST_SEEN, SeenList } from './seen-list.ts';
import { ScriptNames, type ParsedScript } from './script-names.ts';
import { blockedCookieWords, readCookieLine, type Seen, type SeenRequest, type SeenStored } from '../seen.ts';

interface Asked {
  readonly url: string;
  readonly hops: string[];
  readonly document: string;
  readonly initiator: Initiator;
  readonly top: boolean;
  readonly seen: SeenRequest;
}

/** What all tabs of one browser share. */
export class Shared {
  /** Storage keys that some tab was seen to write, since every tab is told of every write. */
  readonly claims = new Set<string>();
  /** From the page to who registered a service worker, by its script. */
  readonly serviceWorkers = new Map<string, readonly Cause[]>();
}

export interface ProbeSettings {
  readonly shared: Shared;
  readonly gpc: boolean;
  /** Hears at once of what is seen; for who writes down when it was. */
  readonly heard?: ((seen: Seen) => void) | undefined;
}

interface ConsoleEvent {
  readonly type: string;
  readonly args: readonly { readonly type: string; readonly value?: unknown }[];
  readonly executionContextId: number;
  readonly stackTrace?: Stack;
}

/** A page that answers nothing for so long hangs. */
const HUNG_MS = 3000;
const MOST_ADDRESS = 16_000;
const MOST_VALUE = 6000;
const MOST_CLAIMS = 50_000;
const WORKER_STARTS_MS = 1200;
const MOST_FRAMES = 12;
const MOST_PATH = 200;
/** A page blocked by these never sent the request. */
const NEVER_SENT: Readonly<Record<string, string>> = {
  csp: 'the page’s content security policy forbids it',
  'mixed-content': 'not encrypted, on an encrypted page',
  'subresource-filter': 'the browser’s own filter stops it',
};

/** Watches one tab, with its frames and workers, over the browser's debugging protocol. */
export class PageProbe {
  readonly #secret = randomBytes(16).toString('hex');
  readonly #clock = `c${randomBytes(8).toString('hex')}`;
  readonly #asked = new Map<string, Asked>();
  readonly #chains = new CauseChains();
  readonly #writers = new Map<string, readonly Cause[]>();
  readonly #seen = new SeenList();
  readonly #inFlight = new InFlight();
  #lastActivity = Date.now();
  #extraInfos = new Map<string, number>();
  #early: ExtraInfo[] = [];
  readonly #frames = new FrameTree();
  readonly #scripts = new ScriptNames();
  /** The addresses the tab itself went through. */
  #path: { url: string; cause: readonly Cause[] }[] = [];
  moment: Moment = 'load';
  /** The browser let go of the page, as when it took too much memory. */
  crashed = false;

  private constructor(
    readonly page: Page,
    readonly session: CDPSession,
    readonly settings: ProbeSettings,
  ) {
    this.interception = new Interception(session);
  }

  static async attach(page: Page, settings: Partial<ProbeSettings> = {}): Promise<PageProbe> {
    const session = await page.context().newCDPSession(page);
    const probe = new PageProbe(page, session, { shared: new Shared(), gpc: false, ...settings });
    await probe.#begin();
    return probe;
  }

  async #begin(): Promise<void> {
    const { session } = this;
    const channel = session as unknown as Channel;
    this.page.on('crash', () => (this.crashed = true));
    this.#listenToPage(channel);
    this.#listenToScripts(channel, this.#scripts, undefined);
    this.#listenToNetwork(channel, this.#scripts, undefined);
    const workers = new WorkerChannels(session, (worker, url, kind) => this.#attachWorker(worker, url, kind));
    const source = this.#source();
    await Promise.all([
      enableNetwork(channel),
      session.send('DOMStorage.enable'),
      session.send('Runtime.enable'),
      session.send('Page.enable'),
      session.send('Page.addScriptToEvaluateOnNewDocument', { source }),
      workers.begin(),
    ]);
    const { frameTree } = await session.send('Page.getFrameTree');
    this.#frames.begin(frameTree);
  }

  /** A worker is watched from before its first line. */
  async #attachWorker(worker: Channel, url: string, kind: string): Promise<void> {
    if (kind === 'service_worker') {
      const known = this.settings.shared.serviceWorkers.get(url);
      if (known) this.#chains.whole(url, known);
    }
    this.#chains.worker(url);
    this.#holdRest(`worker ${url}`);
    hear(worker, 'Inspector.workerScriptLoaded', () => this.#letRest(`worker ${url}`));
    const scripts = new ScriptNames();
    this.#listenToScripts(worker, scripts, url);
    this.#listenToNetwork(worker, scripts, url);
    // Answers come only once the worker runs.
    void enableNetwork(worker).catch(() => {});
    void worker.send('Runtime.enable').catch(() => {});
    void worker.send('Runtime.evaluate', { expression: this.#source() }).catch(() => {});
    // Some of its world comes to a service worker only with its script.
    const again = `globalThis[${JSON.stringify(this.#clock)}]?.(-2, 0)`;
    if (kind === 'service_worker')
      hear<ParsedScript>(worker, 'Debugger.scriptParsed', (e) => {
        if (e.url === url) void worker.send('Runtime.evaluate', { expression: again }).catch(() => {});
      });
  }

  #source(): string {
    return probeScript({ secret: this.#secret, clock: this.#clock, gpc: this.settings.gpc });
  }

  /** Changes what the tab asks for and gets. */
  readonly interception: Interception;

  /** Forgets what was seen so far; for the start of a page. */
  begin(): void {
    this.#seen.clear();
    this.#asked.clear();
    this.#chains.clear();
    for (const [url, chain] of this.settings.shared.serviceWorkers) this.#chains.whole(url, chain);
    this.#writers.clear();
    this.#inFlight.clear();
    this.#extraInfos.clear();
    this.#early = [];
    this.#path = [];
    this.#scripts.clear();
    this.#lastActivity = Date.now();
    this.moment = 'load';
  }

  /** As `begin`, but keeps who loaded what, since scripts of the page go on running. */
  forget(): void {
    this.#seen.forget();
  }

  /** It did more than is counted. */
  get overflowed(): boolean {
    return this.#seen.overflowed;
  }

  take(): readonly Seen[] {
    const { claims } = this.settings.shared;
    return this.#seen.all.filter(
      (s) => s.what !== 'stored' || s.cause.length > 0 || !claims.has(`${s.area}\n${s.key}`),
    );
  }

  /** Addresses that the tab went through on its way, in order, the last one where it is. */
  get path(): readonly { readonly url: string; readonly cause: readonly Cause[] }[] {
    return this.#path;
  }

  /** Requests asked for since `begin`; tells whether something more is going on. */
  get requests(): number {
    return this.#asked.size;
  }

  /** Tells of what the crawl itself found on the page. */
  add(seen: Seen): void {
    this.#add(seen);
  }

  /** The frames of the page, and a world in each of them that no script of the page reaches. */
  get world(): PageWorld {
    return new PageWorld(this.session, this.#frames);
  }

  /** Whether scripts of the page let anything else run. */
  answers(): Promise<boolean> {
    const asked = this.session.send('Runtime.evaluate', { expression: '0' });
    return within(
      HUNG_MS,
      asked.then(() => true),
      false,
    );
  }

  /** What scripts of the page have made of something, as a text; '' where that is none. Anything may be in it. */
  async ownText(expression: string): Promise<string> {
    const contextId = this.#frames.ownContext(this.#frames.main);
    if (contextId === undefined) return '';
    const asked = this.session.send('Runtime.evaluate', { expression, contextId, returnByValue: true });
    const { result } = await within(2000, asked, { result: { type: 'undefined' } } as Awaited<typeof asked>);
    const value: unknown = result.value;
    return typeof value === 'string' ? value.slice(0, 2000) : '';
  }

  /** Runs the page's timers of the next `ms` early, in every frame; how many ran. */
  async passTime(ms: number, most: number): Promise<number> {
    const runs = this.#frames
      .all(MOST_FRAMES)
      .map((frame) => this.#runTimers(frame, ms, most).catch(() => 1));
    const ran = (await Promise.all(runs)).reduce((sum, n) => sum + n, 0);
    // What came of it is told on this session before its answer.
    await this.session.send('Runtime.evaluate', { expression: '0' }).catch(() => {});
    return ran;
  }

  /** The page's own world holds its timers: what comes back is a number, or nothing that counts. */
  async #runTimers(frame: string, ms: number, most: number): Promise<number> {
    const contextId = this.#frames.ownContext(frame);
    if (contextId === undefined) return 0;
    const { result } = await this.session.send('Runtime.evaluate', {
      expression: `globalThis[${JSON.stringify(this.#clock)}]?.(${ms}, ${most}) ?? 0`,
      contextId,
      awaitPromise: true,
      returnByValue: true,
    });
    const ran: unknown = result.value;
    return typeof ran === 'number' && ran >= 0 && ran <= most ? ran : 1;
  }

  /** Tells the page, and every frame in it, that it is being left. */
  async sayGoodbye(): Promise<void> {
    await this.passTime(-1, 0);
  }

  /** A click as a visitor's hand does it. */
  click(x: number, y: number): Promise<void> {
    return clickAt(this.session, x, y);
  }

  /** Waits until nothing has been asked for or written for `quietMs`, at most `mostMs`. `false` if it never settled. */
  async settled(quietMs: number, mostMs: number): Promise<boolean> {
    const until = Date.now() + mostMs;
    for (;;) {
      const now = Date.now();
      const quiet = now - this.#lastActivity;
      if (this.#inFlight.size === 0 && quiet >= quietMs) return true;
      if (now >= until || this.crashed) return false;
      const wait = this.#inFlight.size === 0 ? quietMs - quiet : 20;
      await pause(Math.max(5, Math.min(wait, until - now)));
    }
  }

  /** Something is starting that the page does not wait for: it has not come to rest until that is under way. */
  #holdRest(id: string): void {
    this.#inFlight.begin(id);
    this.#lastActivity = Date.now();
    setTimeout(() => this.#letRest(id), WORKER_STARTS_MS);
  }

  #letRest(id: string): void {
    if (!this.#inFlight.end(id)) return;
    // Its first requests come right after.
    this.#lastActivity = Date.now() + 60;
  }

  #add(seen: Seen): void {
    this.#lastActivity = Date.now();
    this.#seen.add(seen);
    this.settings.heard?.(seen);
  }

  #listenToPage(channel: Channel): void {
    const { session } = this;
    const stored = (e: {
      storageId: { securityOrigin?: string; storageKey?: string; isLocalStorage: boolean };
      key: string;
      newValue: string;
    }) => {
      const origin = originOf(e.storageId.securityOrigin || e.storageId.storageKey || '');
      const area = e.storageId.isLocalStorage ? 'local storage' : 'session storage';
      const key = e.key.slice(0, MOST_VALUE);
      this.#add({
        what: 'stored',
        area,
        origin,
        key,
        value: e.newValue.slice(0, MOST_VALUE),
        length: e.newValue.length,
        cause: this.#writers.get(`${area}\n${key}`) ?? [],
        refused: '',
        moment: this.moment,
      });
    };
    hear(channel, 'DOMStorage.domStorageItemAdded', stored);
    hear(channel, 'DOMStorage.domStorageItemUpdated', stored);
    hear(channel, 'Page.javascriptDialogOpening', () => {
      session.send('Page.handleJavaScriptDialog', { accept: false }).catch(() => {});
    });
    this.#frames.listen(channel);
    hear<{ frame: { parentId?: string; url: string } }>(channel, 'Page.frameNavigated', ({ frame }) => {
      if (frame.parentId || !/^https?:/.test(frame.url) || this.#path.length >= MOST_PATH) return;
      const last = this.#path.at(-1);
      const url = frame.url.slice(0, MOST_ADDRESS);
      if (last?.url !== url) this.#path.push({ url, cause: [] });
    });
  }

  /** Where scripts come from, and what the probe in the page tells, with the browser's word for who did it. */
  #listenToScripts(channel: Channel, scripts: ScriptNames, worker: string | undefined): void {
    hear<ParsedScript>(channel, 'Debugger.scriptParsed', (e) => scripts.parsed(e));
    hear<ConsoleEvent>(channel, 'Runtime.consoleAPICalled', (e) => {
      const text = e.args[0]?.value;
      if (e.type !== 'debug' || typeof text !== 'string' || !text.startsWith(this.#secret)) return;
      const told = Told.safeParse(JSON.parse(text.slice(this.#secret.length)));
      if (!told.success) return;
      const place =
        worker === undefined
          ? this.#frames.placeOf(e.executionContextId)
          : { document: worker, origin: originOf(worker) };
      this.#told(told.data, scripts.stack(e.stackTrace), place);
    });
  }

  #listenToNetwork(channel: Channel, scripts: ScriptNames, worker: string | undefined): void {
    const scoped = (id: string) => (worker === undefined ? id : `${worker} ${id}`);
    hear<RequestEvent>(channel, 'Network.requestWillBeSent', (e) => {
      const url = e.request.url.slice(0, MOST_ADDRESS);
      if (!/^(https?|wss?):/.test(url) || !URL.canParse(url) || e.type === 'Preflight') return;
      this.#asks(
        {
          ...e,
          request: { ...e.request, url },
          requestId: scoped(e.requestId),
          initiator: scripts.initiator(e.initiator),
        },
        worker,
      );
    });
    const over = (e: { requestId: string; blockedReason?: string }) => {
      const asked = this.#asked.get(scoped(e.requestId));
      const refused = NEVER_SENT[e.blockedReason ?? ''];
      if (asked && refused) asked.seen.refused = refused;
      this.#inFlight.end(scoped(e.requestId));
      // The script of a worker is asked for by the page and finished by the worker.
      this.#inFlight.end(e.requestId);
      this.#lastActivity = Date.now();
    };
    hear(channel, 'Network.loadingFinished', over);
    hear(channel, 'Network.loadingFailed', over);
    hear<{ url: string; initiator?: Initiator }>(channel, 'Network.webSocketCreated', (e) => {
      const initiator = scripts.initiator(e.initiator ?? { type: 'other' });
      if (!URL.canParse(e.url)) return;
      this.#add({
        what: 'request',
        url: e.url.slice(0, MOST_ADDRESS),
        resource: 'websocket',
        body: '',
        headers: {},
        by: 'script',
        refused: '',
        cause: this.#chains.of(initiator, worker ?? this.page.url(), e.url),
        moment: this.moment,
      });
    });
    hear<ResponseEvent>(channel, 'Network.responseReceived', (e) => {
      if (worker !== undefined) this.#answeredUnasked(e, worker);
      // A stream of events never ends by itself, film may go on for hours, and of what has no content nothing comes.
      const { mimeType, status } = e.response;
      if (/^(text\/event-stream|video\/|audio\/)/.test(mimeType) || status === 204)
        this.#inFlight.end(scoped(e.requestId));
      else this.#inFlight.answered(scoped(e.requestId), String(e.type ?? '').toLowerCase());
    });
    hear<{ requestId: string }>(channel, 'Network.dataReceived', (e) =>
      this.#inFlight.more(scoped(e.requestId)),
    );
    hear<ExtraInfo>(channel, 'Network.responseReceivedExtraInfo', (e) => {
      const info = { ...e, requestId: scoped(e.requestId) };
      if (this.#asked.has(info.requestId)) this.#responseHeaders(info);
      else if (this.#early.length < 200) this.#early.push(info);
    });
  }

  /** A worker that could not be watched from its first line: what it asked for before is known by the answer. */
  #answeredUnasked({ requestId, type, response: { url } }: ResponseEvent, worker: string): void {
    if (this.#asked.has(`${worker} ${requestId}`) || this.#asked.has(requestId) || url === worker) return;
    if (!/^https?:/.test(url) || !URL.canParse(url)) return;
    this.#add({
      what: 'request',
      url,
      resource: String(type ?? 'other').toLowerCase(),
      body: '',
      headers: {},
      by: 'script',
      refused: '',
      cause: this.#chains.of({ type: 'script' }, worker, url),
      moment: this.moment,
    });
  }

  #asks(e: RequestEvent, worker: string | undefined): void {
    const { url } = e.request;
    const known = this.#asked.get(e.requestId);
    const hop = known && e.redirectResponse ? known.hops.at(-1) : undefined;
    // A redirect was asked for by whoever asked at first.
    const initiator = hop && known ? known.initiator : e.initiator;
    const resource = String(e.type ?? 'other').toLowerCase();
    const top = resource === 'document' && e.frameId === this.#frames.main;
    // Of a frame's own page the browser names that page itself: what asked is in the initiator.
    const itself = resource === 'document' && e.documentURL === url;
    const asker = this.#chains.asker(initiator);
    const document = hop && known ? known.document : (worker ?? (itself ? asker : e.documentURL));
    const cause = [
      ...this.#chains.of(initiator, document, url),
      ...(hop ? [{ what: 'response' as const, url: hop }] : []),
    ];
    const seen: SeenRequest = {
      what: 'request',
      url,
      resource: top ? 'page' : resource,
      body: (e.request.postData ?? '').slice(0, MOST_BODY),
      headers: e.request.headers,
      by: initiator.type === 'script' ? 'script' : 'page',
      refused: '',
      cause,
      moment: this.moment,
    };
    if (top && this.#path.length < MOST_PATH) this.#path.push({ url, cause });
    if (known && hop) known.hops.push(url);
    else if (this.#asked.size >= MOST_SEEN) this.#seen.overflowed = true;
    else {
      this.#asked.set(e.requestId, { url, hops: [url], document, initiator, top, seen });
      this.#inFlight.begin(e.requestId, resource);
    }
    this.#chains.loaded(url, { initiator, document });
    this.#add(seen);
    const early = this.#early.filter((x) => x.requestId === e.requestId);
    if (early.length === 0) return;
    this.#early = this.#early.filter((x) => x.requestId !== e.requestId);
    for (const x of early) this.#responseHeaders(x);
  }

  #told(told: Told, stack: Stack | undefined, { document, origin }: Place): void {
    const initiator: Initiator = { type: 'script', ...(stack ? { stack } : {}) };
    const common = { cause: this.#chains.of(initiator, document, ''), moment: this.moment };
    switch (told.kind) {
      case 'cookie': {
        const host = hostOf(origin) || hostOf(document);
        const cookie = readCookieLine(told.name, host, Date.now() / 1000);
        if (!cookie) return;
        if (cookie.removes)
          return this.#seen.takeBack(
            (s) => s.what === 'cookie' && s.by === 'script' && s.name === cookie.name,
          );
        const { removes: _removes, ...rest } = cookie;
        return this.#add({
          what: 'cookie',
          ...rest,
          by: 'script',
          refused: told.refused,
          top: false,
          ...common,
        });
      }
      case 'local storage':
      case 'session storage':
        // A value written again as it was changes nothing, and so raises no event of the browser's.
        this.#rememberWriter(`${told.kind}\n${told.name}`, common.cause);
        return this.#stored(told, told.kind, origin, common);
      case 'IndexedDB':
      case 'cache storage':
        return this.#stored(told, told.kind, origin, common);
      case 'worker':
        return this.#holdRest(`worker ${told.name}`);
      case 'service worker':
        this.#holdRest(`worker ${told.name}`);
        if (!this.settings.shared.serviceWorkers.has(told.name))
          this.settings.shared.serviceWorkers.set(told.name, common.cause);
        this.#chains.whole(told.name, this.settings.shared.serviceWorkers.get(told.name) ?? common.cause);
        // Told at once, and again should the browser refuse it in the end.
        if (told.refused)
          this.#seen.takeBack(
            (s) => s.what === 'stored' && s.area === told.kind && s.key === pathOf(told.name),
          );
        return this.#stored({ ...told, name: pathOf(told.name) }, told.kind, origin, common);
      case 'IndexedDB gone':
      case 'cache storage gone':
        return this.#seen.takeBack(
          (s) =>
            s.what === 'stored' && told.kind.startsWith(s.area) && s.key === told.name && s.origin === origin,
        );
      case 'fingerprint':
        return this.#add({ what: 'fingerprint', name: told.name, origin, ...common });
      case 'link':
        if (URL.canParse(told.name))
          this.#add({ what: 'link', url: told.name, before: told.value, ...common });
    }
  }

  #stored(
    { name: key, value, length, refused }: Told,
    area: SeenStored['area'],
    origin: string,
    common: { cause: readonly Cause[]; moment: Moment },
  ): void {
    this.#add({ what: 'stored', area, origin, key, value, length, refused, ...common });
  }

  /** The write is told after the change: who wrote is joined to what was written, whichever comes first. */
  #rememberWriter(key: string, cause: readonly Cause[]): void {
    const { claims } = this.settings.shared;
    if (claims.size < MOST_CLAIMS) claims.add(key);
    if (this.#writers.size < MOST_SEEN) this.#writers.set(key, cause);
    this.#seen.writtenBy(key, cause);
  }

  #responseHeaders(info: ExtraInfo): void {
    const asked = this.#asked.get(info.requestId);
    if (!asked) return;
    const hop = this.#extraInfos.get(info.requestId) ?? 0;
    this.#extraInfos.set(info.requestId, hop + 1);
    const at = Math.min(hop, asked.hops.length - 1);
    const url = asked.hops[at] ?? asked.url;
    const text = Object.entries(info.headers).find(([name]) => name.toLowerCase() === 'set-cookie')?.[1];
    const blocked = new Map((info.blockedCookies ?? []).map((b) => [b.cookieLine, b.blockedReasons]));
    const lines = new Set([...(text?.split('\n') ?? []), ...blocked.keys()]);
    if (lines.size === 0) return;
    const cause: Cause[] = [
      ...this.#chains.of(asked.initiator, asked.document, url),
      ...asked.hops.slice(0, at).map((u): Cause => ({ what: 'response', url: u })),
      { what: 'response', url },
    ];
    for (const line of lines) {
      const cookie = readCookieLine(line, hostOf(url), Date.now() / 1000);
      if (!cookie || cookie.removes) continue;
      const { removes: _removes, ...rest } = cookie;
      const reasons = blocked.get(line);
      this.#add({
        what: 'cookie',
        ...rest,
        by: 'http',
        refused: reasons ? blockedCookieWords(reasons) : '',
        top: asked.top,
        cause,
        moment: this.moment,
      });
    }
  }
}

function hostOf(url: string): string {
  return URL.canParse(url) ? new URL(url).hostname : '';
}

function pathOf(url: string): string {
  return URL.canParse(url) ? new URL(url).pathname : url;
}

function originOf(key: string): string {
  const [first = ''] = key.split('^');
  return URL.canParse(first) ? new URL(first).origin : first;
}
