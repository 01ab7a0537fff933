import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { change, inWords, same, type Json } from '../../../core/rules/change.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import { NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import { firstNotice } from '../../../core/websites/notice/notice.ts';
import { REGION_PATTERN, UNKNOWN_REGION } from '../../../core/websites/notice/region.ts';
import { nextTime, Schedule, scheduleWords } from '../../../core/schedule/schedule.ts';
import { Scope, WHOLE_SITE } from '../../../core/websites/sweeps/scope.ts';
import { listPurposes } from '../notices/purposes.ts';
import { bareOfText, hidePaths, sealPaths } from './site-paths.ts';
import { NOTICE } from '../notices/notice-kind.ts';
import { NOTICE_OF_SITE } from './notice-of-site.ts';
import { insertRule } from '../../rules/rule-store.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import type { Page } from '../../store/page.ts';
import { Where } from '../../store/where.ts';
import { SITE_LIST } from '../../../core/websites/sites/site-list.ts';
import { StageColumn } from '../../rules/stage-column.ts';
import { checkSite } from './site-check.ts';
import { destinationRules } from '../../http/allowed-destination.ts';

export const InstallResult = z.object({
  at: z.string(),
  steps: z.array(z.object({ met: z.boolean(), words: z.string(), fix: z.string() })),
});
export type InstallResult = z.infer<typeof InstallResult>;

const SiteRow = z.object({
  id: z.number(),
  host: z.string(),
  start_url: z.string(),
  name: z.string(),
  site_key: z.string(),
  scope: JsonColumn(Scope),
  region: z.string(),
  chosen: JsonColumn(z.array(z.string())),
  paths: JsonColumn(SitePaths),
  reading: JsonColumn(NoticeReading.nullable()),
  schedule: JsonColumn(Schedule.nullable()),
  next_sweep: Instant.nullable(),
  install: JsonColumn(InstallResult.nullable()),
  created_at: Instant,
});
export type Site = z.infer<typeof SiteRow>;
const COLUMNS =
  'id, host, start_url, name, site_key, scope, region, chosen, paths, reading, schedule, next_sweep, install, created_at';

/** Throws a RefusedError (404). */
export async function findSite(store: Queries, host: string, lock = false): Promise<Site> {
  const site = await store.one(
    SiteRow,
    `SELECT ${COLUMNS} FROM site WHERE host = ?${lock ? ' FOR UPDATE' : ''}`,
    [host.toLowerCase()],
  );
  if (!site) throw notFound('site');
  return site;
}

export async function findSiteById(store: Queries, id: number): Promise<Site> {
  const site = await store.one(SiteRow, `SELECT ${COLUMNS} FROM site WHERE id = ?`, [id]);
  if (!site) throw notFound('site');
  return site;
}

/** The public keys of all sites. */
export async function siteKeys(store: Queries): Promise<ReadonlySet<string>> {
  const rows = await store.all(z.object({ site_key: z.string() }), 'SELECT site_key FROM site');
  return new Set(rows.map((r) => r.site_key));
}

/** What the register shows of a site. */
export interface ListedSite {
  readonly host: string;
  readonly name: string;
  readonly stage: Stage;
  readonly leaks: number;
  readonly unsorted: number;
  readonly trackers: number;
  readonly pages: number;
  readonly sweptAt: string | null;
  readonly sweeping: boolean;
}

const ListedRow = z
  .object({
    host: z.string(),
    name: z.string(),
    stage: StageColumn,
    leaks: Count,
    unsorted: Count,
    trackers: Count,
    pages: Count,
    swept_at: Instant.nullable(),
    sweeping: Count,
  })
  .transform(({ swept_at, sweeping, ...row }): ListedSite => ({
    ...row,
    sweptAt: swept_at,
    sweeping: sweeping > 0,
  }));

/** The leak of a swept tracker `s`: some visitor saw it without permission. */
export const LEAKS_SQL = '(s.leaks <> 0)';

/** Of the newest sweep of a site that saw pages, `w`; each for the rows of a page alone. */
const SWEPT = (count: string) =>
  `(SELECT ${count} FROM swept_tracker s JOIN tracker t ON t.id = s.tracker_id WHERE s.sweep_id = w.id)`;

const SOURCE: ListSource<ListedSite> = {
  list: SITE_LIST,
  select: `site.host, site.name, n.stage, ${SWEPT(`SUM(${LEAKS_SQL})`)} AS leaks, ${SWEPT('SUM(t.purpose IS NULL)')} AS unsorted, ${SWEPT('COUNT(*)')} AS trackers, w.pages, w.finished_at AS swept_at,
     (SELECT COUNT(*) FROM sweep r WHERE r.site_id = site.id AND r.state IN ('waiting', 'running')) AS sweeping`,
  from: `site JOIN ${NOTICE_OF_SITE('site')}
     LEFT JOIN sweep w ON w.id = (SELECT MAX(id) FROM sweep c WHERE c.site_id = site.id AND c.state IN ('complete', 'cancelled') AND c.pages > 0)`,
  row: ListedRow,
  id: 'site.id',
  sorts: { id: 'site.id' },
  search: ['site.host', 'site.name'],
  filters: {},
};

/** Those that an account may see. */
export async function listSites(
  store: Queries,
  account: Pick<Account, 'scope'>,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedSite> & { total?: number }> {
  return listRegister(store, SOURCE, wish, {
    base: () => keepToScope(new Where(), account, 'site', 'site.id'),
    after,
    size,
    countFrom: 'site',
  });
}

/**
 * Takes a site into the program after checking its address, with a draft notice that is ready to be put in force.
 * Throws a RefusedError naming the field when the address will not do or the site is there already.
 */
export async function addSite(
  ctx: Context,
  accountId: number,
  address: string,
  name: string,
): Promise<{ host: string; redirects: readonly string[] }> {
  const check = await checkSite(address, destinationRules(ctx.settings));
  if (!check.ok)
    throw new RefusedError('This site cannot be taken in yet.', [
      { field: 'address', message: `${check.why} ${check.fix}` },
    ]);
  await ctx.store.transaction((tx) =>
    insertSite(tx, ctx.now(), {
      host: check.host,
      startUrl: check.url,
      name: name || check.title || check.host,
      by: accountId,
    }),
  );
  return { host: check.host, redirects: check.redirects };
}

export interface NewSite {
  readonly host: string;
  readonly startUrl: string;
  readonly name: string;
  readonly by: number | null;
  readonly region?: string;
}

/** Hosts of all sites in the program, by name. */
export async function siteHosts(store: Queries): Promise<readonly string[]> {
  const rows = await store.all(z.object({ host: z.string() }), 'SELECT host FROM site ORDER BY host');
  return rows.map((r) => r.host);
}

export async function insertSite(
  tx: Queries,
  now: Date,
  site: NewSite,
): Promise<{ id: number; siteKey: string }> {
  const siteKey = randomBytes(10).toString('hex');
  try {
    const { id } = await tx.run(
      'INSERT INTO site (host, start_url, name, site_key, scope, region, created_at, created_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [
        site.host,
        site.startUrl,
        site.name.slice(0, 120),
        siteKey,
        JSON.stringify(WHOLE_SITE),
        site.region ?? UNKNOWN_REGION,
        toDatetime(now),
        site.by,
      ],
    );
    await insertRule(tx, now, NOTICE, id, firstNotice(), site.by);
    await record(tx, now, {
      actor: site.by ?? 'system',
      action: 'site.add',
      object: 'site',
      objectId: id,
      detail: { host: site.host },
    });
    return { id, siteKey };
  } catch (error) {
    if (isDuplicate(error))
      throw new RefusedError(
        `${site.host} is in the program already.`,
        [{ field: 'address', message: 'Find it in the list on the left.' }],
        409,
      );
    throw error;
  }
}

export const SiteEdit = z.object({
  name: z.string().trim().min(1, 'Give the site a name').max(120, 'At most 120 characters').optional(),
  scope: Scope.partial().optional(),
  region: z.string().regex(REGION_PATTERN, 'A region such as DK or US-CA').optional(),
  chosen: z.array(z.string().max(31)).max(20).optional(),
  paths: SitePaths.partial().optional(),
  schedule: Schedule.nullable().optional(),
});
export type SiteEdit = z.infer<typeof SiteEdit>;

/**
 * Changes a site’s name or how it is swept; what is not given stays. `saw` is what the editor saw of what is changed.
 * Throws a RefusedError naming the field, and (409) where someone else changed the same meanwhile.
 */
export async function editSite(
  ctx: Context,
  accountId: number,
  host: string,
  edit: SiteEdit,
  saw: SiteEdit,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const changed = changedMeanwhile(site, edit, saw);
    if (changed.length > 0)
      throw new RefusedError(
        'Someone else changed this a moment ago. It is shown as it is now.',
        changed.map((field) => ({
          field,
          message: 'Look at it again, then change it if it is still to be.',
        })),
        409,
      );
    const codes = (await listPurposes(tx)).map((p) => p.code);
    const wrong = edit.chosen?.find((c) => !codes.includes(c));
    if (wrong !== undefined)
      throw new RefusedError('There is no such purpose.', [
        { field: 'chosen', message: `“${wrong}” is none of ${codes.join(', ')}.` },
      ]);
    const before = {
      name: site.name,
      scope: site.scope,
      region: site.region,
      chosen: site.chosen,
      schedule: site.schedule,
    };
    const after = {
      name: edit.name ?? before.name,
      scope: { ...before.scope, ...given(edit.scope ?? {}) },
      region: edit.region ?? before.region,
      chosen: edit.chosen ?? before.chosen,
      schedule: edit.schedule === undefined ? before.schedule : edit.schedule,
    };
    const paths = sealPaths(
      ctx.settings.SECRET_KEY,
      { ...site.paths, ...given(edit.paths ?? {}) },
      site.paths,
    );
    const difference = change(
      { ...before, paths: bareOfText(site.paths) } as Json,
      { ...after, paths: bareOfText(paths) } as Json,
    );
    const secretsOnly = difference.length === 0 && JSON.stringify(paths) !== JSON.stringify(site.paths);
    if (difference.length === 0 && !secretsOnly) return;
    const next = after.schedule ? nextTime(after.schedule, ctx.now()) : null;
    await tx.run(
      'UPDATE site SET name = ?, scope = ?, region = ?, chosen = ?, paths = ?, schedule = ?, next_sweep = ? WHERE id = ?',
      [
        after.name,
        JSON.stringify(after.scope),
        after.region,
        JSON.stringify(after.chosen),
        JSON.stringify(paths),
        after.schedule && JSON.stringify(after.schedule),
        next && toDatetime(next),
        site.id,
      ],
    );
    const words = inWords(difference, {
      path: (path) => path.map((p) => EDIT_WORDS[String(p)] ?? String(p)).join(', '),
      value: (value, path) =>
        path[0] === 'schedule' && path.length === 1 && value
          ? scheduleWords(value as unknown as Schedule)
          : undefined,
    });
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'site.edit',
      object: 'site',
      objectId: site.id,
      detail: {
        words: secretsOnly ? ['A text that a path types'] : [...words],
        change: difference as unknown as Json,
      },
    });
  });
}

/** Fields of an edit that are not what its editor saw. */
function changedMeanwhile(site: Site, edit: SiteEdit, saw: SiteEdit): string[] {
  const stands: SiteEdit = {
    name: site.name,
    scope: site.scope,
    region: site.region,
    chosen: site.chosen,
    paths: hidePaths(site.paths),
    schedule: site.schedule,
  };
  return (Object.keys(edit) as (keyof SiteEdit)[]).flatMap((field) => {
    const [now, before, next] = [stands[field], saw[field], edit[field]];
    if (next === undefined) return [];
    if (field !== 'scope' && field !== 'paths') return same(now as Json, before as Json) ? [] : [field];
    return Object.keys(next as object)
      .filter((k) => !same(part(now, k), part(before, k)))
      .map((k) => `${field}.${k}`);
  });
}

function part(of: unknown, key: string): Json {
  return ((of as Record<string, Json | undefined> | undefined)?.[key] ?? null) as Json;
}

/** Without what was not given, since a spread takes `undefined` for a value. */
function given<T extends object>(edit: T): { [K in keyof T]-?: NonNullable<T[K]> | Extract<T[K], null> } {
  return Object.fromEntries(Object.entries(edit).filter(([, v]) => v !== undefined)) as never;
}

const EDIT_WORDS: Readonly<Record<string, string>> = {
  name: 'Name',
  scope: 'Sweep',
  maxPages: 'most pages',
  maxMinutes: 'most minutes',
  maxDepth: 'most links from the start',
  startPaths: 'pages to begin at',
  sitemap: 'site map read',
  include: 'only pages like',
  exclude: 'no pages like',
  perShape: 'most pages of one shape',
  robotsOverride: 'robots.txt not kept to, because',
  paceMs: 'milliseconds between pages',
  region: 'Region of its sweeps',
  chosen: 'Purposes of a choice of one’s own',
  schedule: 'Swept by itself',
  paths: 'Path',
  signIn: 'to sign in',
  refuse: 'to refuse',
  accept: 'to accept',
  choose: 'to choose',
};
