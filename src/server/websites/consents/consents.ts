import { CONSENT_LIST, NOT_TOLD, pagesAt } from '../../../core/websites/consents/consent-list.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import type { ListWish } from '../../../core/lists/list.ts';
import type { Cell } from '../../http/csv.ts';
import { listCount, listFacet, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { findSite } from '../sites/sites.ts';
import { CONSENT_COLUMNS, ConsentRow, type ConsentRecord } from './consent-record.ts';

const SOURCE: ListSource<ConsentRecord> = {
  list: CONSENT_LIST,
  select: CONSENT_COLUMNS,
  from: fromWhere,
  row: ConsentRow,
  id: 'id',
  bytes: true,
  sorts: { at: 'at' },
  filters: {
    from: (where, day) => where.and('at >= ?', toDatetime(`${day}T00:00:00Z`)),
    // A plain bound, so that an index is entered at it and not searched for it.
    to: (where, day) => where.and('at < ?', toDatetime(new Date(Date.parse(day) + 86_400_000))),
    choice: (where, choice) => where.and('choice = ?', choice),
    region: (where, region) => where.and('region = ?', region),
    visitor: (where, key) =>
      where.and('visitor_key = ?', Buffer.from(/^[0-9a-f]{32}$/.test(key) ? key : '', 'hex')),
    language: (where, language) => where.and('language = ?', language),
    device: (where, device) => where.among('device', [device === NOT_TOLD ? '' : device]),
    page: (where, page) => where.among('page_group', [page.replace(/^\//, '')]),
    // What is no number is no version either.
    version: (where, version) => where.and('notice_version = ?', /^\d+$/.test(version) ? Number(version) : 0),
  },
};

/**
 * With days given, the index of just the other filters is entered at the day. Left to itself, MariaDB takes an index for its
 * order alone, and skips from the newest on.
 */
function fromWhere({ filters }: ListWish): string {
  const { from, to, visitor, choice, region, version, language, device, page } = filters;
  if ((!from && !to) || visitor) return 'consent_record';
  const by = [region && 'region', version && (!region || !choice) && 'version', choice && 'choice'];
  const alone = (page && 'page') || (language && 'language') || (device && 'device') || 'site';
  return `consent_record FORCE INDEX (by_${by.filter(Boolean).join('_') || alone})`;
}

const ofSite = async (store: Queries, host: string) =>
  new Where().and('site_id = ?', (await findSite(store, host)).id);

/** Newest first. */
export async function listConsents(
  store: Queries,
  host: string,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ConsentRecord>> {
  return listPage(store, SOURCE, wish, { base: await ofSite(store, host), after, size });
}

/** Further nobody counts, however many choices are on record. */
export const MOST_COUNTED = 100_000;

/** How many choices match; one over `MOST_COUNTED` where there are more. */
export async function countConsents(store: Queries, host: string, wish: WishInput): Promise<number> {
  return listCount(store, SOURCE, wish, await ofSite(store, host), MOST_COUNTED);
}

/** How many of the newest `MOST_COUNTED` matching choices each value of a filter has, by its value. */
export type ConsentFacets = Readonly<
  Record<'choice' | 'region' | 'version' | 'language' | 'device' | 'page', Readonly<Record<string, number>>>
>;

export async function consentFacets(store: Queries, host: string, wish: WishInput): Promise<ConsentFacets> {
  const count = async (filter: string, column: string) => {
    const facets = await listFacet(
      store,
      SOURCE,
      wish,
      filter,
      column,
      await ofSite(store, host),
      400,
      MOST_COUNTED,
    );
    return Object.fromEntries(facets.map((f) => [String(f.value), f.count]));
  };
  const [choice, region, version, language, device, page] = await Promise.all([
    count('choice', 'choice'),
    count('region', 'region'),
    count('version', 'notice_version'),
    count('language', 'language'),
    count('device', 'device'),
    count('page', 'page_group'),
  ]);
  const { '': notTold, ...devices } = device;
  return {
    ...{ choice, region, version, language },
    device: notTold === undefined ? devices : { ...devices, [NOT_TOLD]: notTold },
    page: Object.fromEntries(Object.entries(page).map(([group, n]) => [pagesAt(group), n])),
  };
}

/** As a file has it: a list of purposes parted by spaces. */
export function consentCells(r: ConsentRecord): Readonly<Record<string, Cell>> {
  return { ...r, allowed: r.allowed.join(' '), asked: r.asked.join(' '), regionName: regionName(r.region) };
}
