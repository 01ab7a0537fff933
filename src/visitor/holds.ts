import type { GateHold } from '../core/websites/trackers/fix.ts';
import { matchesGlob } from '../core/text/glob.ts';
import type { HeldBack } from './held-back.ts';
import { holdElements } from './hold-elements.ts';
import { holdRequests } from './hold-requests.ts';
import { holdWrites } from './hold-writes.ts';
import { wrap, wrapGetter, type Method, type Realm } from './natives.ts';

type Told = (what: 'held' | 'reduced', name: string, purpose: string) => void;

/**
 * Holds what scripts of the page ask for and write, in its own window and in the empty frames they make. What stands in
 * the page's own HTML is kept from running too, but a browser asks for it before any script can say no: such a tag has
 * to be marked in the page.
 */
export class Holds implements HeldBack {
  #allowed: ReadonlySet<string> = new Set();
  readonly #waiting: { readonly purpose: string; readonly release: () => void }[] = [];
  readonly #realms = new WeakSet<object>();
  readonly #roots = new WeakSet<Node>();

  constructor(
    readonly window: Realm,
    readonly holds: readonly GateHold[],
    /** Hears of what is kept back. */
    readonly tell: Told = () => {},
    /** Hears of an empty frame or a tree of its own, in which something may be marked from now on. */
    readonly entered: (root: Document | ShadowRoot) => void = () => {},
  ) {
    if (holds.length > 0) this.#hold(window);
  }

  allow(purposes: readonly string[]): void {
    this.#allowed = new Set(purposes);
    for (const held of this.#waiting.splice(0))
      if (this.#allowed.has(held.purpose)) held.release();
      else this.#waiting.push(held);
  }

  heldUrl(address: unknown): string | undefined {
    const hold = this.#holdOf(address)?.hold;
    return hold?.without ? undefined : hold?.purpose;
  }

  holdsUrl(address: unknown): boolean {
    const purpose = this.heldUrl(address);
    if (purpose !== undefined) this.tell('held', String(address), purpose);
    return purpose !== undefined;
  }

  reduced(address: unknown): string | undefined {
    const { hold, url } = this.#holdOf(address) ?? {};
    if (!hold?.without || !url) return undefined;
    for (const name of hold.without) url.searchParams.delete(name);
    this.tell('reduced', url.hostname + url.pathname, hold.purpose);
    return url.href;
  }

  holdsWrite(kind: GateHold['kind'], name: string): boolean {
    const hold = this.#find(kind, name);
    if (hold) this.tell('held', name, hold.purpose);
    return hold !== undefined;
  }

  wait(purpose: string, release: () => void): void {
    this.#waiting.push({ purpose, release });
  }

  enter(root: Document | ShadowRoot): void {
    if (!this.#roots.has(root)) this.entered(root);
    this.#roots.add(root);
  }

  #holdOf(address: unknown): { hold: GateHold; url: URL } | undefined {
    let url: URL;
    try {
      url = new URL(String(address), this.window.document.baseURI);
    } catch {
      return undefined;
    }
    const hold = this.#find('request', url.pathname, url.hostname);
    return hold && { hold, url };
  }

  #find(kind: GateHold['kind'], name: string, host = ''): GateHold | undefined {
    return this.holds.find(
      (h) =>
        h.kind === kind &&
        !this.#allowed.has(h.purpose) &&
        (kind !== 'request' || h.host === host) &&
        matchesGlob(h.name, name),
    );
  }

  #hold(window: Realm): void {
    // The object that stands for a window outlives what is in it.
    this.#realms.add(window.Element);
    holdElements(window, this);
    holdRequests(window, this);
    holdWrites(window, this);
    this.#holdFrames(window);
  }

  /** In an empty frame everything would be as the browser made it. */
  #holdFrames(window: Realm): void {
    const enter = (frame: Window | null | undefined) => this.#enter(frame);
    wrapGetter(window.HTMLIFrameElement.prototype, 'contentWindow', (got) => enter(got as Window | null));
    wrapGetter(window.HTMLIFrameElement.prototype, 'contentDocument', (got) =>
      enter((got as Document | null)?.defaultView),
    );
    const put = (native: Method): Method =>
      function (...args) {
        const done = native.apply(this, args);
        for (const node of args) if (node instanceof window.HTMLIFrameElement) enter(node.contentWindow);
        return done;
      };
    for (const method of ['appendChild', 'insertBefore']) wrap(window.Node.prototype, method, put);
    wrap(window.Element.prototype, 'append', put);
  }

  #enter(frame: Window | null | undefined): void {
    try {
      if (!frame || !/^about:/.test(frame.location.href)) return;
      if (this.#realms.has((frame as Realm).Element)) return;
      this.#hold(frame as Realm);
      this.enter(frame.document);
    } catch {
      // Of another origin, which has its own.
    }
  }
}
