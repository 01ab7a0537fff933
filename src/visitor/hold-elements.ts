import type { HeldBack } from './held-back.ts';
import { wrap, wrapSetter, type Realm } from './natives.ts';

/** The attributes by which elements ask for something. */
const LOADS: Readonly<Record<string, readonly string[]>> = {
  ...{ script: ['src'], iframe: ['src'], img: ['src', 'srcset'], source: ['src', 'srcset'] },
  ...{ video: ['src'], audio: ['src'], embed: ['src'], object: ['data'], link: ['href'] },
};
const CAN_LOAD = Object.entries(LOADS)
  .flatMap(([name, attributes]) => attributes.map((a) => `${name}[${a}]`))
  .join();
const MAY_LOAD = new RegExp(`<(${Object.keys(LOADS).join('|')})\\b`, 'i');
const CLASSES: Readonly<Record<string, string>> = {
  ...{ script: 'Script', iframe: 'IFrame', img: 'Image', source: 'Source', video: 'Media' },
  ...{ embed: 'Embed', object: 'Object', link: 'Link' },
};

/** Elements that scripts make, point elsewhere, or write as HTML. */
export function holdElements(window: Realm, holds: HeldBack): void {
  /** An address, or those of a `srcset`. */
  const addressesIn = (attribute: string, value: unknown) =>
    attribute === 'srcset'
      ? String(value)
          .split(/,\s+|,$/)
          .map((part) => part.trim().split(/\s/)[0])
      : [value];
  const purposeOf = (attribute: string, value: unknown) => {
    for (const address of addressesIn(attribute, value)) {
      const purpose = holds.heldUrl(address);
      if (purpose !== undefined) return purpose;
    }
    return undefined;
  };
  const waits = (element: Element, attribute: string, value: unknown, set: (value: unknown) => void) => {
    const purpose = purposeOf(attribute, value);
    if (purpose !== undefined) {
      holds.tell('held', String(value), purpose);
      holds.wait(purpose, () => set(value));
      return true;
    }
    const bare = attribute === 'src' ? holds.reduced(value) : undefined;
    if (bare === undefined) return false;
    (element as HTMLImageElement).crossOrigin = 'anonymous';
    set(bare);
    return true;
  };
  for (const [name, of] of Object.entries(CLASSES))
    for (const attribute of LOADS[name] ?? [])
      wrapSetter(
        (window as unknown as Record<string, { prototype: object } | undefined>)[`HTML${of}Element`]
          ?.prototype,
        attribute,
        (native) =>
          function (value) {
            const set = (v: unknown) => native.call(this, v);
            if (!waits(this as Element, attribute, value, set)) set(value);
          },
      );
  wrap(
    window.Element.prototype,
    'setAttribute',
    (native) =>
      function (...args) {
        const attribute = String(args[0]).toLowerCase();
        const set = (v: unknown) => native.call(this, attribute, v);
        if (
          !LOADS[(this as Element).localName]?.includes(attribute) ||
          !waits(this as Element, attribute, args[1], set)
        )
          native.apply(this, args);
      },
  );

  /** From here on it is a marked element like any other. */
  const mark = (element: HTMLElement): boolean => {
    if (element.dataset?.['yarePurpose']) return false;
    let held = false;
    for (const attribute of LOADS[element.localName] ?? []) {
      const value = element.getAttribute(attribute);
      const purpose = value === null ? undefined : purposeOf(attribute, value);
      if (value === null || purpose === undefined) continue;
      held = true;
      holds.tell('held', value, purpose);
      if (element.localName === 'script') {
        const type = element.getAttribute('type');
        if (type && !/javascript$/i.test(type)) element.dataset['yareType'] = type;
        element.setAttribute('type', 'text/plain');
      } else {
        element.setAttribute(`data-yare-${attribute}`, value);
        element.removeAttribute(attribute);
      }
      element.dataset['yarePurpose'] = purpose;
    }
    return held;
  };
  const markWithin = (root: ParentNode) =>
    [...root.querySelectorAll<HTMLElement>(CAN_LOAD)].map(mark).includes(true);
  new window.MutationObserver((changes) => {
    const added = new Set(changes.flatMap((c) => [...c.addedNodes]));
    for (const node of added) {
      if (!(node instanceof window.Element)) continue;
      mark(node as HTMLElement);
      // What stands in something that came with it is looked through with that.
      if (node.firstElementChild && !(node.parentNode && added.has(node.parentNode))) markWithin(node);
    }
  }).observe(window.document, { childList: true, subtree: true });

  const inner = Object.getOwnPropertyDescriptor(window.Element.prototype, 'innerHTML');
  /** HTML with what has to wait marked in it; as it was where nothing has. */
  const marked = (html: unknown): unknown => {
    if (!MAY_LOAD.test(String(html))) return html;
    const template = window.document.createElement('template');
    inner?.set?.call(template, html);
    return markWithin(template.content) ? inner?.get?.call(template) : html;
  };
  for (const owner of [window.Element, window.ShadowRoot])
    for (const name of ['innerHTML', 'outerHTML'])
      wrapSetter(
        owner?.prototype,
        name,
        (native) =>
          function (html) {
            const now = marked(html);
            native.call(this, now);
            if (now !== html && this instanceof window.ShadowRoot) holds.enter(this);
          },
      );
  for (const [owner, name, at] of [
    [window.Element, 'insertAdjacentHTML', 1],
    [window.Element, 'setHTMLUnsafe', 0],
    [window.Range, 'createContextualFragment', 0],
    [window.Document, 'write', 0],
    [window.Document, 'writeln', 0],
  ] as const)
    wrap(
      owner.prototype,
      name,
      (native) =>
        function (...args) {
          // What is written piece by piece is one text.
          const html = name.startsWith('write') ? [args.join('')] : args;
          return native.apply(
            this,
            html.map((a, i) => (i === at ? marked(a) : a)),
          );
        },
    );
}
