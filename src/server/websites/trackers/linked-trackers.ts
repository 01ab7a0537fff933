import { z } from 'zod';
import { Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

export interface LinkedTracker {
  readonly id: number;
  readonly name: string;
  readonly host: string;
  readonly purpose: string | null;
  readonly site: string;
  readonly firstSeen: string;
}

const MOST = 2000;

/**
 * Third parties' trackers as the newest sweep of each site saw them: those of `sites` (ids), and, whatever their site, those of
 * `hosts` and what is below them.
 */
export async function linkedTrackers(
  store: Queries,
  { sites, hosts }: { readonly sites: readonly string[]; readonly hosts: readonly string[] },
): Promise<readonly LinkedTracker[]> {
  if (sites.length + hosts.length === 0) return [];
  const where = [
    ...(sites.length > 0 ? ['site.id IN (?)'] : []),
    ...hosts.map(
      () => "(t.host = ? OR t.host LIKE CONCAT('%.', REPLACE(REPLACE(?, '_', '\\\\_'), '%', '\\\\%')))",
    ),
  ];
  return store.all(
    z.object({
      ...{ id: z.number(), name: z.string(), host: z.string(), purpose: z.string().nullable() },
      ...{ site: z.string(), firstSeen: Instant },
    }),
    `SELECT t.id, t.name, t.host, t.purpose, site.name AS site, t.first_seen AS firstSeen
     FROM site JOIN sweep w ON w.id = (SELECT MAX(x.id) FROM sweep x WHERE x.site_id = site.id AND x.state IN ('complete', 'cancelled') AND x.pages > 0)
     JOIN swept_tracker s ON s.sweep_id = w.id AND s.party = 'third' JOIN tracker t ON t.id = s.tracker_id
     WHERE ${where.join(' OR ')} ORDER BY t.host, t.name, t.id LIMIT ${MOST}`,
    [...(sites.length > 0 ? [sites] : []), ...hosts.flatMap((h) => [h, h])],
  );
}
