/**
 * A change as a plain value: what was there, what is there now, by path. It can be inverted, squashed, applied,
 * merged with another's, told in words and put in the ledger. Objects are compared by key; everything else,
 * lists included, changes as a whole.
 */
export type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };

export interface Difference {
  readonly path: readonly string[];
  /** `undefined`: the key was not there. */
  readonly before?: Json | undefined;
  /** `undefined`: the key is gone. */
  readonly after?: Json | undefined;
}

export type Change = readonly Difference[];

/** What leads from `before` to `after`, in the order of the keys. */
export function change(before: Json, after: Json): Change {
  return compare(before, after, []);
}

export function invert(of: Change): Change {
  return of.map(({ path, before, after }) => ({ path, before: after, after: before })).reverse();
}

/** Two changes in a row as one; what was changed there and back falls out. */
export function squash(first: Change, second: Change): Change {
  const keyed = new Map(first.map((d) => [JSON.stringify(d.path), d]));
  for (const d of second) {
    const key = JSON.stringify(d.path);
    const earlier = keyed.get(key);
    keyed.set(key, earlier ? { path: d.path, before: earlier.before, after: d.after } : d);
  }
  return [...keyed.values()].filter((d) => !same(d.before, d.after));
}

/** Throws a RangeError naming the path when the value is not what the change says it was. */
export function apply(value: Json, of: Change): Json {
  return of.reduce((current, difference) => applyOne(current, difference, 0), value);
}

export interface Merge {
  readonly value: Json;
  /** Paths that both changed to different things; the value there is `mine`. */
  readonly conflicts: readonly {
    readonly path: readonly string[];
    readonly mine?: Json;
    readonly theirs?: Json;
  }[];
}

/** Three-way merge: what either side changed since `base`, and where they collide. */
export function merge(base: Json, mine: Json, theirs: Json): Merge {
  const ours = change(base, mine);
  const others = change(base, theirs);
  const conflicts = ours.flatMap((m) => {
    const t = others.find((o) => overlaps(m.path, o.path) && !same(m.after, o.after));
    return t ? [{ path: m.path, mine: m.after, theirs: t.after }] : [];
  });
  const free = ours.filter((m) => !others.some((o) => overlaps(m.path, o.path)));
  const clashing = new Set(conflicts.map((c) => JSON.stringify(c.path)));
  let value = apply(theirs, free);
  for (const m of ours) if (clashing.has(JSON.stringify(m.path))) value = put(value, m.path, m.after);
  return { value, conflicts };
}

/** How values and paths are called; anything not named is shown as it is. */
export interface Vocabulary {
  readonly path?: (path: readonly string[]) => string | undefined;
  readonly value?: (value: Json, path: readonly string[]) => string | undefined;
}

/** A change in words, one line a difference: "Ask again after: 6 → 12 months". */
export function inWords(of: Change, vocabulary: Vocabulary = {}): readonly string[] {
  return of.map(({ path, before, after }) => {
    const name = vocabulary.path?.(path) ?? path.join(', ');
    const say = (value: Json) => vocabulary.value?.(value, path) ?? plain(value);
    if (before === undefined) return `${name}: ${say(after ?? null)} added`;
    if (after === undefined) return `${name}: ${say(before)} removed`;
    if (Array.isArray(before) && Array.isArray(after)) return `${name}: ${listWords(before, after, say)}`;
    return `${name}: ${say(before)} → ${say(after)}`;
  });
}

function listWords(before: readonly Json[], after: readonly Json[], say: (v: Json) => string): string {
  const gone = before.filter((b) => !after.some((a) => same(a, b))).map(say);
  const added = after.filter((a) => !before.some((b) => same(a, b))).map(say);
  const parts = [
    added.length ? `${added.join(', ')} added` : '',
    gone.length ? `${gone.join(', ')} removed` : '',
  ];
  return parts.filter(Boolean).join('; ') || 'order changed';
}

function plain(value: Json): string {
  if (value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'string')
    return value === '' ? 'empty' : value.length > 60 ? `${value.slice(0, 57)}…` : value;
  if (typeof value === 'number') return String(value);
  return Array.isArray(value) ? value.map(plain).join(', ') : JSON.stringify(value);
}

export function same(a: Json | undefined, b: Json | undefined): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((x, i) => same(x, b[i] as Json));
  if (isObject(a) && isObject(b)) {
    const keys = Object.keys(a);
    return (
      keys.length === Object.keys(b).length && keys.every((k) => Object.hasOwn(b, k) && same(a[k], b[k]))
    );
  }
  return false;
}

function compare(before: Json, after: Json, path: readonly string[]): Difference[] {
  if (same(before, after)) return [];
  if (!isObject(before) || !isObject(after)) return [{ path, before, after }];
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])];
  return keys.flatMap((key): Difference[] => {
    const here = [...path, key];
    if (!Object.hasOwn(before, key)) return [{ path: here, after: after[key] }];
    if (!Object.hasOwn(after, key)) return [{ path: here, before: before[key] }];
    return compare(before[key] as Json, after[key] as Json, here);
  });
}

function applyOne(value: Json | undefined, d: Difference, depth: number): Json {
  if (depth === d.path.length) {
    if (!same(value, d.before))
      throw new RangeError(`${d.path.join('.') || 'the value'} is not what the change expects`);
    return d.after as Json;
  }
  if (!isObject(value))
    throw new RangeError(`${d.path.slice(0, depth).join('.') || 'the value'} is not an object`);
  const key = d.path[depth] as string;
  const child = Object.hasOwn(value, key) ? value[key] : undefined;
  return withKey(value, key, applyOne(child, d, depth + 1) as Json | undefined);
}

/** The value with something else at a path; what is missing on the way is made. */
export function put(value: Json, path: readonly string[], after: Json | undefined): Json {
  const [key, ...rest] = path;
  if (key === undefined) return after as Json;
  const object = isObject(value) ? value : {};
  return withKey(object, key, rest.length === 0 ? after : put(object[key] ?? {}, rest, after));
}

function withKey(object: { readonly [k: string]: Json }, key: string, value: Json | undefined): Json {
  const entries = Object.entries(object).filter(([k]) => k !== key);
  if (value === undefined) return fromEntries(entries);
  return fromEntries(
    Object.hasOwn(object, key)
      ? Object.entries(object).map(([k, v]) => [k, k === key ? value : v])
      : [...entries, [key, value]],
  );
}

/** Own properties only, so that a key named `__proto__` stays a key. */
function fromEntries(entries: readonly (readonly [string, Json])[]): Json {
  return Object.fromEntries(entries);
}

function overlaps(a: readonly string[], b: readonly string[]): boolean {
  const n = Math.min(a.length, b.length);
  return a.slice(0, n).every((step, i) => step === b[i]);
}

function isObject(value: Json | undefined): value is { readonly [key: string]: Json } {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
