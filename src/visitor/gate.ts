import type { Placeholders } from './placeholder.ts';

/** Lets go of what the page marked for a purpose, once that purpose is allowed. Each element at most once. */
export class Gate {
  readonly #released = new WeakSet<Element>();
  readonly #told = new WeakSet<Element>();
  #placeholders: Placeholders | undefined;
  #allowed: ReadonlySet<string> = new Set();
  #ready = false;
  /** Scripts that are let go, one after the other, in the order of the page. */
  #scripts: Promise<void> = Promise.resolve();

  /** Watches for marked elements that come later, too. */
  constructor(
    /** A page, or a tree of its own within it. */
    readonly root: Document | ShadowRoot,
    /** Hears of what is kept back. */
    readonly tell: (what: 'held', name: string, purpose: string) => void = () => {},
  ) {
    new MutationObserver(() => this.#release()).observe(root, {
      childList: true,
      subtree: true,
    });
  }

  allow(purposes: readonly string[]): void {
    this.#allowed = new Set(purposes);
    this.#ready = true;
    this.#release();
  }

  /** Puts something in the place of what is held and would be seen. */
  showHeld(placeholders: Placeholders): void {
    this.#placeholders = placeholders;
    this.#release();
  }

  #release(): void {
    if (!this.#ready) return;
    for (const element of this.root.querySelectorAll<HTMLElement>('[data-yare-purpose]')) {
      const purpose = element.getAttribute('data-yare-purpose') ?? '';
      if (this.#released.has(element)) continue;
      if (purpose !== 'essential' && !this.#allowed.has(purpose)) {
        this.#placeholders?.put(element, purpose);
        if (!this.#told.has(element)) this.tell('held', sourceOf(element), purpose);
        this.#told.add(element);
        continue;
      }
      this.#released.add(element);
      this.#placeholders?.take(element);
      if (element.localName === 'script')
        this.#scripts = this.#scripts.then(() => runScript(element as HTMLScriptElement)).catch(() => {});
      else loadElement(element);
    }
  }
}

/** A script runs when it is inserted with a script's type. What it loads is waited for, unless it is `async`. */
function runScript(held: HTMLScriptElement): Promise<void> | undefined {
  if (!held.isConnected) return;
  const script = held.ownerDocument.createElement('script');
  for (const { name, value } of held.attributes)
    if (name !== 'type' && name !== 'data-yare-purpose') script.setAttribute(name, value);
  const type = held.getAttribute('data-yare-type');
  if (type) script.type = type;
  // A content security policy hides the nonce from the attributes.
  script.nonce = held.nonce;
  script.async = held.hasAttribute('async');
  script.text = held.text;
  const waits = script.src && !script.async;
  const over = waits
    ? new Promise<void>((done) => {
        script.onload = script.onerror = () => done();
        setTimeout(done, 10_000);
      })
    : undefined;
  held.replaceWith(script);
  return over;
}

function sourceOf(element: HTMLElement): string {
  const source = ['src', 'data-yare-src', 'href', 'data-yare-href', 'data-yare-data'].find((a) =>
    element.hasAttribute(a),
  );
  return source ? (element.getAttribute(source) ?? '') : `${element.localName} in the page`;
}

function loadElement(element: HTMLElement): void {
  for (const name of ['src', 'srcset', 'href', 'data']) {
    const held = element.getAttribute(`data-yare-${name}`);
    if (held !== null) element.setAttribute(name, held);
  }
}
