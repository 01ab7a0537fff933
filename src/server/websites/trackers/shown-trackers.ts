import { z } from 'zod';
import type { TrackersShown } from '../../../core/websites/notice/shown-notice.ts';
import { isKept, lifetimeWords, TRACKER_KINDS } from '../../../core/websites/trackers/tracker.ts';
import type { Queries } from '../../store/pool.ts';
import { readLibrary } from '../library/known-trackers.ts';
import { latestSweeps } from '../sweeps/sweeps.ts';

const MOST_SHOWN = 60;

/** What a visitor is told of each purpose: the trackers behind it, of the newest sweep. */
export async function shownTrackers(
  store: Queries,
  siteId: number,
  language: string,
): Promise<TrackersShown> {
  const [sweep] = await latestSweeps(store, siteId);
  if (!sweep) return {};
  const rows = await store.all(
    z.object({
      kind: z.enum(TRACKER_KINDS),
      name: z.string(),
      host: z.string(),
      purpose: z.string(),
      lifetime: z.number().nullable(),
    }),
    'SELECT t.kind, t.name, t.host, t.purpose, s.lifetime FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = ? AND t.purpose IS NOT NULL ORDER BY t.host, t.name',
    [sweep.id],
  );
  const library = await readLibrary(store);
  const shown: Record<string, { name: string; host: string; text: string }[]> = {};
  for (const row of rows) {
    const list = (shown[row.purpose] ??= []);
    if (list.length >= MOST_SHOWN || !(isKept(row.kind) || row.kind === 'request')) continue;
    const known = library.find(row);
    const text = known?.texts[language] ?? known?.texts['en'] ?? '';
    const lasts = isKept(row.kind) ? lifetimeWords(row, row.lifetime) : '';
    list.push({ name: row.name, host: row.host, text: [lasts, text].filter(Boolean).join(', ') });
  }
  return shown;
}
