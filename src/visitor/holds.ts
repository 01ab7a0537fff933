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

  /** The purpose an address waits for; `undefined` where it may go. */
  #heldUrl(address: unknown): string | undefined {
    let url: URL;
    try {
      url = new URL(String(address), this.window.document.baseURI);
    } catch {
      return undefined;
    }
    return this.#held('request', url.pathname, url.hostname);
  }

  #held(kind: GateHold['kind'], name: string, host = ''): string | undefined {
    return this.holds.find(
      (h) =>
        h.kind === kind &&
        !this.#allowed.has(h.purpose) &&
        (kind !== 'request' || h.host === host) &&
        matchesGlob(h.name, name),
    )?.purpose;
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
        if (purpose === undefined) return false;
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
    const heldUrl = (address: unknown) => this.#heldUrl(address);
    window.fetch = (input, init) =>
      heldUrl(input instanceof Request ? input.url : input) === undefined
        ? fetch.call(window, input, init)
        : Promise.resolve(new Response(null, { status: 204 }));
    wrap(
      window.Navigator.prototype,
      'sendBeacon',
      (native) =>
        function (...args) {
          return heldUrl(args[0]) === undefined ? native.apply(this, args) : true;
        },
    );
    const silenced = new WeakSet<object>();
    wrap(
      window.XMLHttpRequest.prototype,
      'open',
      (native) =>
        function (...args) {
          if (heldUrl(args[1]) !== undefined) silenced.add(this as object);
          return native.apply(this, args);
        },
    );
    wrap(
      window.XMLHttpRequest.prototype,
      'send',
      (native) =>
        function (...args) {
          return silenced.has(this as object) ? undefined : native.apply(this, args);
        },
    );
  }

  #holdWrites(): void {
    const { window } = this;
    const cookie = Object.getOwnPropertyDescriptor(window.Document.prototype, 'cookie');
    if (cookie?.set) {
      const set = cookie.set;
      const held = (line: string) => this.#held('cookie', line.split('=')[0]?.trim() ?? '');
      Object.defineProperty(window.Document.prototype, 'cookie', {
        ...cookie,
        set(this: unknown, line: unknown) {
          if (held(String(line)) === undefined) set.call(this, line);
        },
      });
    }
    const heldKey = (key: unknown) => this.#held('storage', String(key));
    wrap(
      window.Storage.prototype,
      'setItem',
      (native) =>
        function (...args) {
          return heldKey(args[0]) === undefined ? native.apply(this, args) : undefined;
        },
    );
  }
}

function wrap(owner: object, name: string, make: (native: Method) => Method): void {
  const methods = owner as Record<string, Method | undefined>;
  const native = methods[name];
  if (native) methods[name] = make(native);
}
