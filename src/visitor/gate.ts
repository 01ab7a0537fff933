/** Lets go of what the page marked for a purpose, once that purpose is allowed. Each element at most once. */
export class Gate {
  readonly #released = new WeakSet<Element>();
  #allowed: ReadonlySet<string> = new Set();

  /** Watches for marked elements that come later, too. */
  constructor(readonly document: Document) {
    new MutationObserver(() => this.#release()).observe(document.documentElement, {
      childList: true,
      subtree: true,
    });
  }

  allow(purposes: readonly string[]): void {
    this.#allowed = new Set(purposes);
    this.#release();
  }

  #release(): void {
    for (const element of this.document.querySelectorAll('[data-yare-purpose]')) {
      const purpose = element.getAttribute('data-yare-purpose') ?? '';
      if (this.#released.has(element) || !(purpose === 'essential' || this.#allowed.has(purpose))) continue;
      this.#released.add(element);
      if (element instanceof HTMLScriptElement) runScript(element);
      else if (element instanceof HTMLElement) loadElement(element);
    }
  }
}

/** A script runs when it is inserted with a script's type; order among the released is kept. */
function runScript(held: HTMLScriptElement): void {
  const script = held.ownerDocument.createElement('script');
  for (const { name, value } of held.attributes)
    if (name !== 'type' && name !== 'data-yare-purpose') script.setAttribute(name, value);
  const type = held.getAttribute('data-yare-type');
  if (type) script.type = type;
  script.async = held.hasAttribute('async');
  script.text = held.text;
  held.replaceWith(script);
}

function loadElement(element: HTMLElement): void {
  for (const name of ['src', 'srcset', 'href']) {
    const held = element.getAttribute(`data-yare-${name}`);
    if (held !== null) element.setAttribute(name, held);
  }
}
