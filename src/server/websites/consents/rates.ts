import { z } from 'zod';
import {
  ratesOf,
  type Rate,
  type RateBy,
  type RateCount,
  type RateWish,
} from '../../../core/websites/consents/rate.ts';
import type { Context } from '../../context.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import { findSite } from '../sites/sites.ts';

/** The Monday that a week begins with, UTC. */
const WEEK = (at: string) => `DATE(${at} - INTERVAL WEEKDAY(${at}) DAY)`;

const COLUMNS: Readonly<Record<RateBy, readonly [record: string, shown: string]>> = {
  week: [WEEK('at'), WEEK('day')],
  region: ['region', 'region'],
  language: ['language', 'language'],
  device: ['device', 'device'],
  version: ['notice_version', 'version'],
  page: ['page_group', 'page_group'],
};
const MOST_GROUPS = 120;

export interface Rates {
  readonly by: RateBy;
  readonly all: Rate;
  readonly rows: readonly Rate[];
}

/** How visitors answered within some days, by group; each visitor counts once in each group, with their latest answer. */
export async function consentRatesBy(
  ctx: Context,
  host: string,
  { by, days }: RateWish,
  since = new Date(ctx.now().getTime() - days * 86_400_000),
): Promise<Rates> {
  const site = await findSite(ctx.store, host);
  const [column, shownColumn] = COLUMNS[by];
  const grouped = async (group: string, shownGroup: string) => {
    const rows = await ctx.store.all(
      z.object({ k: z.coerce.string(), asked: z.string(), allowed: z.string(), n: Count }),
      `SELECT CAST(k AS CHAR) AS k, asked, allowed, COUNT(*) AS n FROM (
         SELECT ${group} AS k, asked, allowed,
           ROW_NUMBER() OVER (PARTITION BY ${group}, visitor_key ORDER BY at DESC, id DESC) AS place
         FROM consent_record WHERE site_id = ? AND at >= ?) latest
       WHERE place = 1 GROUP BY k, asked, allowed`,
      [site.id, toDatetime(since)],
    );
    const shown = await ctx.store.all(
      z.object({ k: z.coerce.string(), n: Count }),
      `SELECT CAST(${shownGroup} AS CHAR) AS k, SUM(n) AS n FROM notice_shown WHERE site_id = ? AND day >= ? GROUP BY 1`,
      [site.id, since.toISOString().slice(0, 10)],
    );
    return countsOf(rows, new Map(shown.map((s) => [s.k, s.n])));
  };
  const counts = await grouped(column, shownColumn);
  const [all] = await grouped("''", "''");
  const inOrder = by === 'week';
  const ordered = inOrder
    ? counts.toSorted((a, b) => (a.key < b.key ? -1 : 1))
    : counts.toSorted((a, b) => b.answered - a.answered);
  return {
    by,
    all: ratesOf([all ?? { key: '', shown: null, answered: 0, refused: 0, purposes: {} }], false)[0] as Rate,
    rows: ratesOf(ordered.slice(0, MOST_GROUPS), inOrder),
  };
}

function countsOf(
  rows: readonly { k: string; asked: string; allowed: string; n: number }[],
  shown: ReadonlyMap<string, number>,
): RateCount[] {
  const keys = [...new Set([...rows.map((r) => r.k), ...shown.keys()])];
  return keys.map((key) => {
    const theirs = rows.filter((r) => r.k === key);
    const purposes: Record<string, { asked: number; allowed: number }> = {};
    for (const { asked, allowed, n } of theirs)
      for (const p of asked.split(',').filter(Boolean)) {
        const counted = (purposes[p] ??= { asked: 0, allowed: 0 });
        counted.asked += n;
        if (allowed.split(',').includes(p)) counted.allowed += n;
      }
    const sum = (of: readonly { n: number }[]) => of.reduce((s, r) => s + r.n, 0);
    return {
      ...{ key, purposes, shown: shown.get(key) ?? null },
      ...{ answered: sum(theirs), refused: sum(theirs.filter((r) => r.allowed === '')) },
    };
  });
}
