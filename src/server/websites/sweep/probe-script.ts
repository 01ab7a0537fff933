/**
 * Runs in every frame before any of its scripts: tells, through the binding, who writes cookies and storage. It keeps
 * no reference on `window`, and what it wraps behaves as before.
 */
export function probeScript(binding: string): string {
  return `(${probe.toString()})(${JSON.stringify(binding)})`;
}

function probe(binding: string): void {
  const global = globalThis as unknown as Record<string, ((text: string) => void) | undefined>;
  const tell = global[binding];
  if (!tell) return;
  delete global[binding];
  const stringify = JSON.stringify;
  const where = (): string[] => {
    const limit = Error.stackTraceLimit;
    Error.stackTraceLimit = 30;
    const stack = String(new Error().stack ?? '');
    Error.stackTraceLimit = limit;
    const frames: string[] = [];
    for (const line of stack.split('\n')) {
      const match = /((?:https?|blob|data):[^\s)]+):(\d+):\d+\)?$/.exec(line);
      if (match) frames.push(`${match[1]} ${match[2]}`);
    }
    return frames;
  };
  const report = (kind: string, name: string, value = '') => {
    try {
      tell(
        stringify({
          kind,
          name,
          value: value.slice(0, 4096),
          length: value.length,
          frames: where(),
          document: location.href,
          origin: location.origin,
        }),
      );
    } catch {
      // The page must not notice.
    }
  };
  const wrapSetter = (owner: object, property: string, kind: string) => {
    const descriptor = Object.getOwnPropertyDescriptor(owner, property);
    if (!descriptor?.set || !descriptor.configurable) return;
    const set = descriptor.set;
    Object.defineProperty(owner, property, {
      ...descriptor,
      set(this: unknown, value: unknown) {
        report(kind, String(value));
        set.call(this, value);
      },
    });
  };
  wrapSetter(Document.prototype, 'cookie', 'cookie');
  const setItem = Storage.prototype.setItem;
  Storage.prototype.setItem = function (this: Storage, key: string, value: string) {
    let kind = 'local storage';
    try {
      if (this === sessionStorage) kind = 'session storage';
    } catch {
      // Storage is closed to this frame.
    }
    report(kind, String(key), String(value));
    return setItem.call(this, key, value);
  };
  const store = (
    globalThis as unknown as { CookieStore?: { prototype: { set: (...args: unknown[]) => unknown } } }
  ).CookieStore;
  if (store) {
    const set = store.prototype.set;
    store.prototype.set = function (this: unknown, ...args: unknown[]) {
      const [first] = args;
      const name =
        typeof first === 'object' && first !== null
          ? String((first as { name?: unknown }).name)
          : String(first);
      report('cookie', `${name}=`);
      return set.apply(this, args);
    };
  }
}
