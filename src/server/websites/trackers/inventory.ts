import { z } from 'zod';
import type { TrackersShown } from '../../../core/websites/notice/shown-notice.ts';
import type { InventoryLine } from '../../../core/websites/statements/statement.ts';
import { isKept, lifetimeWords, TRACKER_KINDS } from '../../../core/websites/trackers/tracker.ts';
import type { Queries } from '../../store/pool.ts';
import { readLibrary } from '../library/known-trackers.ts';
import { latestSweeps } from '../sweeps/sweeps.ts';

export interface Inventory {
  readonly lines: readonly InventoryLine[];
  /** Trackers that nobody has sorted. */
  readonly unsorted: number;
  /** ISO 8601 day of the sweep; empty where nobody has swept. */
  readonly swept: string;
}

const MOST_LINES = 3000;

/** What the newest sweep of a site found, by purpose, with what the library tells of it in a language. */
export async function inventoryOf(store: Queries, siteId: number, language: string): Promise<Inventory> {
  const [sweep] = await latestSweeps(store, siteId);
  if (!sweep) return { lines: [], unsorted: 0, swept: '' };
  const rows = await store.all(
    z.object({
      kind: z.enum(TRACKER_KINDS),
      name: z.string(),
      host: z.string(),
      purpose: z.string().nullable(),
      lifetime: z.number().nullable(),
    }),
    'SELECT t.kind, t.name, t.host, t.purpose, s.lifetime FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? ORDER BY t.host, t.name LIMIT ?',
    [sweep.id, MOST_LINES],
  );
  const library = await readLibrary(store);
  const lines = rows.flatMap((r): InventoryLine[] => {
    if (r.purpose === null) return [];
    const texts = library.find(r)?.texts;
    return [{ ...r, purpose: r.purpose, text: texts?.[language] ?? texts?.['en'] ?? '' }];
  });
  const at = sweep.finished_at ?? sweep.created_at;
  return { lines, unsorted: rows.length - lines.length, swept: at.slice(0, 10) };
}

/** Of each purpose in the second layer of a notice. */
const MOST_SHOWN = 60;

/** What a visitor is told of each purpose: what is stored, and what is asked of others. */
export async function shownTrackers(
  store: Queries,
  siteId: number,
  language: string,
): Promise<TrackersShown> {
  const shown: Record<string, { name: string; host: string; text: string }[]> = {};
  for (const line of (await inventoryOf(store, siteId, language)).lines) {
    const list = (shown[line.purpose] ??= []);
    const stays = isKept(line.kind);
    if (list.length >= MOST_SHOWN || !(stays || line.kind === 'request')) continue;
    const lasts = stays ? lifetimeWords(line, line.lifetime) : '';
    list.push({ name: line.name, host: line.host, text: [lasts, line.text].filter(Boolean).join(', ') });
  }
  return shown;
}
