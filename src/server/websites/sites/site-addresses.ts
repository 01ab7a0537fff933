import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { destinationRules } from '../../http/allowed-destination.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { trackerIdentity } from '../trackers/sightings.ts';
import { checkSite } from './site-check.ts';
import { showSiteOnToday } from './site-today.ts';
import { findSite } from './sites.ts';

/** Where a site stands besides its own address, and whether it is still looked after. */
export interface SiteAddresses {
  readonly alsoAt: readonly string[];
  readonly firstHost: string;
  readonly retiredAt: string | null;
}

export async function readAddresses(store: Queries, siteId: number): Promise<SiteAddresses> {
  const row = await store.one(
    z.object({
      also_at: JsonColumn(z.array(z.string())).nullable(),
      first_host: z.string(),
      retired_at: Instant.nullable(),
    }),
    'SELECT also_at, first_host, retired_at FROM site WHERE id = ?',
    [siteId],
  );
  return {
    alsoAt: row?.also_at ?? [],
    firstHost: row?.first_host ?? '',
    retiredAt: row?.retired_at ?? null,
  };
}

/**
 * Moves a site to another address, which is asked first. Its notice, decisions, sweeps and records stay: what its own host
 * stored is the same under the new one. Throws a RefusedError naming the field.
 */
export async function moveSite(
  ctx: Context,
  accountId: number,
  host: string,
  address: string,
): Promise<{ host: string }> {
  const check = await checkSite(address, destinationRules(ctx.settings));
  if (!check.ok)
    throw new RefusedError('The site cannot move there yet.', [
      { field: 'address', message: `${check.why} ${check.fix}` },
    ]);
  try {
    await ctx.store.transaction(async (tx) => {
      const site = await findSite(tx, host, true);
      await tx.run(
        // In this order: an assignment sees what stands before it.
        "UPDATE site SET hosts_were = JSON_ARRAY_APPEND(COALESCE(hosts_were, '[]'), '$', host), first_host = IF(first_host = '', host, first_host), host = ?, start_url = ? WHERE id = ?",
        [check.host, check.url, site.id],
      );
      await tx.run("UPDATE rule SET name = ? WHERE kind = 'notice' AND id = ?", [
        check.host.slice(0, 200),
        String(site.id),
      ]);
      await moveTrackers(tx, site.id, new URL(site.start_url).hostname, new URL(check.url).hostname);
      await record(tx, ctx.now(), {
        actor: accountId,
        action: 'site.move',
        object: 'site',
        objectId: site.id,
        detail: { from: site.host, to: check.host },
      });
      await showSiteOnToday(tx, site.id);
    });
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    throw new RefusedError(`${check.host} is a site of its own in the program.`, [
      { field: 'address', message: 'Retire that one first, or give another address.' },
    ]);
  }
  return { host: check.host };
}

/** What the site's own host stored is found under the new host by the next sweep: it is the same tracker, with its decision. */
async function moveTrackers(tx: Queries, siteId: number, from: string, to: string): Promise<void> {
  if (from === to) return;
  const own = await tx.all(
    z.object({ id: z.number(), kind: z.string(), name: z.string(), host: z.string() }),
    'SELECT id, kind, name, host FROM tracker WHERE site_id = ? AND host = ? FOR UPDATE',
    [siteId, from],
  );
  for (const { id, ...key } of own)
    await tx.run('UPDATE IGNORE tracker SET host = ?, identity = ? WHERE id = ?', [
      to,
      trackerIdentity({ ...key, host: to } as Parameters<typeof trackerIdentity>[0]),
      id,
    ]);
}

export const AlsoAt = z
  .array(
    z
      .string()
      .trim()
      .toLowerCase()
      .regex(/^[a-z0-9.-]+(:\d{1,5})?$/, 'A host such as shop.company.example')
      .max(260, 'At most 260 characters'),
  )
  .max(20, 'At most 20 addresses');

/** Says at which other hosts the site answers: answers given there are its answers. `saw` is what the editor saw. */
export async function sayAddresses(
  ctx: Context,
  accountId: number,
  host: string,
  alsoAt: readonly string[],
  saw: readonly string[],
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const before = await readAddresses(tx, site.id);
    if (before.alsoAt.join() !== saw.join())
      throw new RefusedError(
        'Somebody else changed this meanwhile. Look at it, and change it then.',
        [],
        409,
      );
    const taken = await tx.one(
      z.object({ host: z.string() }),
      'SELECT host FROM site WHERE id <> ? AND host IN (?) LIMIT 1',
      [site.id, alsoAt.length > 0 ? [...alsoAt] : ['']],
    );
    if (taken)
      throw new RefusedError('This address is another site’s.', [
        { field: 'alsoAt', message: `${taken.host} is in the program by itself.` },
      ]);
    await tx.run('UPDATE site SET also_at = ? WHERE id = ?', [JSON.stringify(alsoAt), site.id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'site.addresses',
      object: 'site',
      objectId: site.id,
      detail: { before: [...before.alsoAt], after: [...alsoAt] },
    });
  });
}

/**
 * Retires a site: visitors are shown no notice and nothing is let go, it is not swept by itself, and what is on record stays
 * as long as the log keeps it. Or takes it up again.
 */
export async function retireSite(
  ctx: Context,
  accountId: number,
  host: string,
  retired: boolean,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const { retiredAt } = await readAddresses(tx, site.id);
    if ((retiredAt !== null) === retired) return;
    await tx.run('UPDATE site SET retired_at = ?, next_sweep = IF(?, NULL, next_sweep) WHERE id = ?', [
      retired ? toDatetime(ctx.now()) : null,
      retired,
      site.id,
    ]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: retired ? 'site.retire' : 'site.resume',
      object: 'site',
      objectId: site.id,
      detail: {},
    });
  });
}
