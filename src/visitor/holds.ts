import type { GateHold } from '../core/websites/trackers/fix.ts';
import { matchesGlob } from '../core/websites/trackers/glob.ts';

type Method = (this: unknown, ...args: unknown[]) => unknown;

/**
 * Holds what scripts of the page ask for and write. What stands in the page's own HTML is kept from running too, but a
 * browser asks for it before any script can say no: such a tag has to be marked in the page.
 */
export class Holds {
  #allowed: ReadonlySet<string> = new Set();
  readonly #waiting: { readonly purpose: string; readonly release: () => void }[] = [];

  constructor(
    readonly window: Window & typeof globalThis,
    readonly holds: readonly GateHold[],
    /** Hears of what is kept back. */
    readonly tell: (what: 'held' | 'reduced', name: string, purpose: string) => void = () => {},
  ) {
    if (holds.length === 0) return;
    this.#holdElements();
    this.#holdRequests();
    this.#holdWrites();
  }

  allow(purposes: readonly string[]): void {
    this.#allowed = new Set(purposes);
    for (const held of this.#waiting.splice(0))
      if (this.#allowed.has(held.purpose)) held.release();
      else this.#waiting.push(held);
  }

  /** The purpose an address waits for, `undefined` where it may go: as it is, or as `reduced` says. */
  #heldUrl(address: unknown): string | undefined {
    const hold = this.#holdOf(address)?.hold;
    return hold?.without ? undefined : hold?.purpose;
  }

  /** An address without what identifies, where it may go only so. */
  #reduced(address: unknown): string | undefined {
    const { hold, url } = this.#holdOf(address) ?? {};
    if (!hold?.without || !url) return undefined;
    for (const name of hold.without) url.searchParams.delete(name);
    this.tell('reduced', url.hostname + url.pathname, hold.purpose);
    return url.href;
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

  /** Whether a write has to wait. */
  #isHeld(kind: GateHold['kind'], name: string): boolean {
    const hold = this.#find(kind, name);
    if (hold) this.tell('held', name, hold.purpose);
    return hold !== undefined;
  }

  #holdElements(): void {
    const { window } = this;
    for (const name of ['HTMLScriptElement', 'HTMLIFrameElement', 'HTMLImageElement'] as const) {
      const proto = window[name].prototype as object;
      const src = Object.getOwnPropertyDescriptor(proto, 'src');
      if (!src?.set) continue;
      const set = src.set;
      const holds = (element: unknown, value: unknown) => {
        const purpose = this.#heldUrl(value);
        const reduced = this.#reduced(value);
        if (reduced !== undefined) {
          (element as HTMLImageElement).crossOrigin = 'anonymous';
          set.call(element, reduced);
          return true;
        }
        if (purpose === undefined) return false;
        this.tell('held', String(value), purpose);
        this.#waiting.push({ purpose, release: () => set.call(element, value) });
        return true;
      };
      Object.defineProperty(proto, 'src', {
        ...src,
        set(this: unknown, value: unknown) {
          if (!holds(this, value)) set.call(this, value);
        },
      });
      const setAttribute = window.Element.prototype.setAttribute;
      Object.defineProperty(proto, 'setAttribute', {
        configurable: true,
        writable: true,
        value(this: Element, attribute: string, value: string) {
          if (attribute.toLowerCase() !== 'src' || !holds(this, value))
            setAttribute.call(this, attribute, value);
        },
      });
    }
    new window.MutationObserver((changes) => {
      for (const { addedNodes } of changes)
        for (const node of addedNodes) {
          const element = node as HTMLElement & { src?: string; type?: string };
          const purpose = element.src ? this.#heldUrl(element.src) : undefined;
          if (purpose === undefined || element.dataset?.['yarePurpose']) continue;
          this.tell('held', element.src ?? '', purpose);
          if (element.localName === 'script') element.type = 'text/plain';
          else if (element.localName === 'iframe' || element.localName === 'img') {
            element.dataset['yareSrc'] = element.src;
            element.removeAttribute('src');
          } else continue;
          // From here on it is a marked element like any other.
          element.dataset['yarePurpose'] = purpose;
        }
    }).observe(window.document.documentElement, { childList: true, subtree: true });
  }

  #holdRequests(): void {
    const { window } = this;
    const { fetch } = window;
    const addressOf = (input: unknown) => (input instanceof Request ? input.url : input);
    const holds = (address: unknown) => {
      const purpose = this.#heldUrl(address);
      if (purpose !== undefined) this.tell('held', String(address), purpose);
      return purpose !== undefined;
    };
    const reduced = (address: unknown) => this.#reduced(address);
    window.fetch = (input, init) => {
      if (holds(addressOf(input))) return Promise.resolve(new Response(null, { status: 204 }));
      const bare = reduced(addressOf(input));
      return bare === undefined
        ? fetch.call(window, input, init)
        : fetch.call(window, bare, { mode: 'no-cors', credentials: 'omit', referrerPolicy: 'origin' });
    };
    wrap(
      window.Navigator.prototype,
      'sendBeacon',
      (native) =>
        function (...args) {
          if (holds(args[0])) return true;
          const bare = reduced(args[0]);
          if (bare === undefined) return native.apply(this, args);
          void fetch(bare, { mode: 'no-cors', credentials: 'omit', keepalive: true }).catch(() => {});
          return true;
        },
    );
    const silenced = new WeakSet<object>();
    const bared = new WeakSet<object>();
    wrap(
      window.XMLHttpRequest.prototype,
      'open',
      (native) =>
        function (...args) {
          if (holds(args[1])) silenced.add(this as object);
          const bare = reduced(args[1]);
          if (bare !== undefined) bared.add(this as object);
          return native.apply(this, bare === undefined ? args : [args[0], bare, ...args.slice(2)]);
        },
    );
    wrap(
      window.XMLHttpRequest.prototype,
      'send',
      (native) =>
        function (...args) {
          if (silenced.has(this as object)) return undefined;
          if (!bared.has(this as object)) return native.apply(this, args);
          (this as XMLHttpRequest).withCredentials = false;
          return native.apply(this, []);
        },
    );
  }

  #holdWrites(): void {
    const { window } = this;
    const holds = (kind: GateHold['kind'], name: string) => this.#isHeld(kind, name);
    const cookie = Object.getOwnPropertyDescriptor(window.Document.prototype, 'cookie');
    if (cookie?.set) {
      const set = cookie.set;
      Object.defineProperty(window.Document.prototype, 'cookie', {
        ...cookie,
        set(this: unknown, line: unknown) {
          const text = String(line);
          // Taking a cookie away is never held.
          if (
            /;\s*(max-age\s*=\s*(0|-)|expires\s*=[^;]*\b19[67]\d)/i.test(text) ||
            !holds('cookie', text.split('=')[0]?.trim() ?? '')
          )
            set.call(this, line);
        },
      });
    }
    wrap(
      window.Storage.prototype,
      'setItem',
      (native) =>
        function (...args) {
          return holds('storage', String(args[0])) ? undefined : native.apply(this, args);
        },
    );
  }
}

function wrap(owner: object, name: string, make: (native: Method) => Method): void {
  const methods = owner as Record<string, Method | undefined>;
  const native = methods[name];
  if (native) methods[name] = make(native);
}
