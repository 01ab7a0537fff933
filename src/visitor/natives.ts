export type Method = (this: unknown, ...args: unknown[]) => unknown;
export type Realm = Window & typeof globalThis;

/** Puts another method in the place of a browser's own; nothing where there is none. */
export function wrap(owner: object | undefined, name: string, make: (native: Method) => Method): void {
  const methods = owner as Record<string, Method | undefined> | undefined;
  const native = methods?.[name];
  if (methods && native) methods[name] = make(native);
}

/** Hears of what a browser's own getter gives. */
export function wrapGetter(owner: object, name: string, hear: (got: unknown) => void): void {
  const there = Object.getOwnPropertyDescriptor(owner, name);
  const get = there?.get as Method | undefined;
  if (get)
    Object.defineProperty(owner, name, {
      ...there,
      get(this: unknown) {
        const got = get.call(this);
        hear(got);
        return got;
      },
    });
}

/** Puts another setter in the place of a browser's own. */
export function wrapSetter(owner: object | undefined, name: string, make: (native: Method) => Method): void {
  const there = owner && Object.getOwnPropertyDescriptor(owner, name);
  if (owner && there?.set) Object.defineProperty(owner, name, { ...there, set: make(there.set as Method) });
}

/** What a browser hands out where something cannot be had: of the kind that was asked for, and it fails in a moment. */
export function failing(window: Realm, proto: object, own: object): object {
  const it = Object.setPrototypeOf(new window.EventTarget(), proto) as EventTarget &
    Record<string, Method | undefined>;
  const nothing = { onopen: null, onmessage: null, onsuccess: null, onerror: null, onclose: null };
  for (const [name, value] of Object.entries({ ...nothing, ...own }))
    Object.defineProperty(it, name, { value, writable: true, configurable: true });
  setTimeout(() => {
    for (const type of ['error', 'close']) {
      const event = new window.Event(type, { cancelable: true });
      it.addEventListener(type, (e) => it[`on${type}`]?.(e), { once: true });
      it.dispatchEvent(event);
    }
  });
  return it;
}
