import { countsPeople } from '../items/people.ts';

/** A detector in one version, in force or only rehearsed. */
export interface ReadWith {
  readonly id: string;
  readonly version: number;
  readonly rehearsed: boolean;
}

/** What is left to do with an item that was read before and did not change. */
export type LeftToRead =
  | { readonly read: 'nothing' }
  /** With these alone; what others found stays. */
  | { readonly read: 'some'; readonly detectors: readonly string[]; readonly dropped: readonly ReadWith[] }
  /** What is found by detectors that are not in use any more goes, without reading. */
  | { readonly read: 'no more'; readonly dropped: readonly ReadWith[] }
  | { readonly read: 'all' };

/**
 * What has to be read again of an unchanged item, once detectors have changed: with those alone that are new or another
 * version. All of it where one of them says who is a person or what kind of document it is, since those follow from
 * all findings together, and where most of those in use changed. `wholeDocument` tells detectors that judge whole
 * documents; `inUse`, how many detectors there are; `cannotMatter`, those of which it is known that their other version
 * finds in this item what the one before found: nothing.
 */
export function leftToRead(
  before: readonly ReadWith[],
  now: readonly ReadWith[],
  wholeDocument: (detector: string) => boolean,
  inUse = now.length,
  cannotMatter: (was: ReadWith, is: ReadWith) => boolean = () => false,
): LeftToRead {
  const key = (d: ReadWith) => `${d.id} ${d.version} ${d.rehearsed}`;
  const had = new Set(before.map(key));
  const has = new Set(now.map(key));
  const other = now.filter((d) => !had.has(key(d)));
  const dropped = before.filter((d) => !has.has(key(d)));
  if (other.length === 0 && dropped.length === 0) return { read: 'nothing' };
  const idle = new Set(
    other.filter((d) => {
      const was = before.find((b) => b.id === d.id && b.rehearsed === d.rehearsed);
      return was !== undefined && cannotMatter(was, d);
    }),
  );
  const added = other.filter((d) => !idle.has(d));
  const idleIds = new Set([...idle].filter((d) => !d.rehearsed).map((d) => d.id));
  const changed = [...added, ...dropped].filter((d) => !d.rehearsed && !idleIds.has(d.id));
  if (changed.some((d) => countsPeople(d.id) || wholeDocument(d.id))) return { read: 'all' };
  if (added.length === 0) return { read: 'no more', dropped };
  if (added.length > inUse / 2) return { read: 'all' };
  return { read: 'some', detectors: [...new Set(added.map((d) => d.id))], dropped };
}

/** What an item was read with, after it was read again for some detectors alone. */
export function mergedReading(
  before: readonly ReadWith[],
  now: readonly ReadWith[],
  only: readonly string[],
): readonly ReadWith[] {
  return [...before.filter((d) => !only.includes(d.id)), ...now].toSorted((a, b) =>
    a.id < b.id ? -1 : a.id > b.id ? 1 : a.version - b.version,
  );
}
