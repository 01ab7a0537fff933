import { z } from 'zod';
import { PurposeCode } from '../notice/purpose-code.ts';
import {
  requestName,
  type Cause,
  type ObservedTracker,
  type Sighting,
  type TrackerKey,
} from '../trackers/tracker.ts';
import type { Sorted } from './gate-plan.ts';

/** What somebody says of a tag. */
export const TagPlan = z.strictObject({
  /** The purpose it needs; `null`: as its trackers are sorted. */
  needs: PurposeCode.nullable(),
  /** Runs before it is allowed, without identifiers. */
  reduced: z.boolean(),
  /** It keeps to the state by itself, as this tag system; `null` where it does not. */
  checks: z.int().positive().nullable(),
  note: z.string().trim().max(300, 'At most 300 characters'),
});
export type TagPlan = z.infer<typeof TagPlan>;

export const NOTHING_SAID: TagPlan = { needs: null, reduced: false, checks: null, note: '' };

export interface TagKey {
  readonly host: string;
  /** Path, with what changes as `*`. */
  readonly name: string;
}

/** Something of another company that a page takes in, and what comes of it. */
export interface FoundTag extends TagKey {
  readonly what: 'script' | 'frame' | 'picture' | 'style' | 'request';
  /** Where it stands: in the page itself (with the line, where known), or put there by a script. */
  readonly placed: readonly Cause[];
  readonly pages: number;
  /** Purposes of what comes of it. */
  readonly purposes: readonly string[];
  readonly unsorted: number;
  readonly trackers: readonly TrackerKey[];
}

/** The tags behind what a sweep found: of every way that led to a tracker the first step to another company. */
export function tagsOf(sorted: readonly Sorted[]): readonly FoundTag[] {
  const tags = new Map<string, Building>();
  for (const { tracker, purpose } of sorted)
    for (const sighting of tracker.sightings) {
      const { pages } = sighting;
      const found = firstForeign(tracker, sighting);
      if (!found) continue;
      const key = `${found.host}\n${found.name}`;
      const tag = tags.get(key) ?? { ...found, pages: 0, of: new Map() };
      tag.pages = Math.max(tag.pages, pages);
      if (found.placed.length < tag.placed.length) tag.placed = found.placed;
      const id = `${tracker.kind}\n${tracker.host}\n${tracker.name}`;
      tag.of.set(id, { tracker: { kind: tracker.kind, host: tracker.host, name: tracker.name }, purpose });
      tags.set(key, tag);
    }
  return [...tags.values()]
    .map(({ of, ...tag }) => ({
      ...tag,
      purposes: [...new Set([...of.values()].flatMap((o) => o.purpose ?? []))].toSorted(),
      unsorted: [...of.values()].filter((o) => o.purpose === null).length,
      trackers: [...of.values()].map((o) => o.tracker),
    }))
    .toSorted((a, b) => a.host.localeCompare(b.host) || a.name.localeCompare(b.name));
}

interface Building extends TagKey {
  what: FoundTag['what'];
  placed: readonly Cause[];
  pages: number;
  of: Map<string, { tracker: TrackerKey; purpose: string | null }>;
}

function firstForeign(tracker: ObservedTracker, { cause, party, resource }: Sighting) {
  const page = cause[0]?.url ?? '';
  const at = cause.findIndex(({ url }, i) => i > 0 && isForeign(url, page));
  if (at > 0) {
    const step = cause[at] as Cause;
    const url = new URL(step.url);
    const what: FoundTag['what'] = step.what === 'response' || step.what === 'page' ? 'request' : step.what;
    return { host: url.hostname, name: requestName(url), what, placed: cause.slice(0, at) };
  }
  if (tracker.kind !== 'request' || party !== 'third') return undefined;
  return {
    host: tracker.host,
    name: tracker.name,
    what: RESOURCES[resource] ?? ('request' as const),
    placed: cause,
  };
}

const RESOURCES: Readonly<Record<string, FoundTag['what']>> = {
  script: 'script',
  document: 'frame',
  image: 'picture',
  stylesheet: 'style',
};

function isForeign(url: string, page: string): boolean {
  return URL.canParse(url) && URL.canParse(page) && new URL(url).host !== new URL(page).host;
}
