import type { Json } from '../../rules/change.ts';
import type { TagSystem } from './tag-system.ts';

/** What a tag system is told at the start, before any other script runs, or when the state changes. */
export function tagEntry(
  system: TagSystem,
  moment: 'start' | 'change',
  { allowed, answered, region }: { allowed: readonly string[]; answered: boolean; region: string },
): Json {
  const state = Object.fromEntries(
    Object.entries(system.names).flatMap(([purpose, names]) =>
      names.map((n) => [n, allowed.includes(purpose) ? system.on : system.off] as const),
    ),
  );
  const said: Record<string, Json> = { $state: state, $wait: answered ? 0 : system.waitMs, $region: region };
  const put = (value: Json): Json => {
    if (typeof value === 'string') return Object.hasOwn(said, value) ? (said[value] as Json) : value;
    if (Array.isArray(value)) return value.map(put);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, put(v as Json)]));
  };
  return put(JSON.parse(system[moment]) as Json);
}

/** Puts an entry on the queue of a page, which may be there already, and may be no array. */
export function pushTo(globals: object, queue: string, entry: Json): void {
  let at = globals as Record<string, unknown>;
  const path = queue.split('.');
  const last = path.pop() as string;
  for (const part of path) at = (at[part] ??= {}) as Record<string, unknown>;
  const list = (at[last] ??= []) as { push?: (entry: Json) => void };
  list.push?.(entry);
}
