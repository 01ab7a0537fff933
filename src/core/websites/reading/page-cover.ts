import type { Sighting, TrackerKey } from '../trackers/tracker.ts';
import { trackerKey } from '../trackers/tracker.ts';

type Seen = TrackerKey & { readonly sighting: Pick<Sighting, 'onPages'> };

/**
 * Few pages on which all of these trackers were seen, at most so many: each time the page with most of those still
 * missing (greedy set cover), the one seen first where several have as many.
 */
export function pageCover(seen: readonly Seen[], most: number): readonly string[] {
  const missing = new Map(seen.map((s) => [trackerKey(s), new Set(s.sighting.onPages)]));
  const cover: string[] = [];
  while (cover.length < most) {
    const counts = new Map<string, number>();
    for (const pages of missing.values()) for (const p of pages) counts.set(p, (counts.get(p) ?? 0) + 1);
    const [best] = [...counts].reduce<[string | undefined, number]>(
      (top, [page, n]) => (n > top[1] ? [page, n] : top),
      [undefined, 0],
    );
    if (best === undefined) break;
    cover.push(best);
    for (const [key, pages] of missing) if (pages.has(best)) missing.delete(key);
  }
  return cover;
}
