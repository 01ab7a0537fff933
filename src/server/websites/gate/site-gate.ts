import { z } from 'zod';
import { FIRST_GATE, GateSettings } from '../../../core/websites/gate/gate-settings.ts';
import {
  asSaid,
  comesBy,
  gatePlan,
  keptNames,
  KEPT_KINDS,
  type SaidNeed,
  type Sorted,
} from '../../../core/websites/gate/gate-plan.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import { HOLD_KINDS, type GateHold } from '../../../core/websites/trackers/fix.ts';
import type { Cause, ObservedTracker } from '../../../core/websites/trackers/tracker.ts';
import { change, same, type Json } from '../../../core/rules/change.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { listPurposes } from '../notices/purposes.ts';
import { findSite, findSiteById, type Site } from '../sites/sites.ts';
import { latestSweeps } from '../sweeps/sweeps.ts';
import { observedIn } from '../trackers/sightings.ts';
import { saidTags, type SaidTag } from './said-tags.ts';

const Hold = z.object({
  kind: z.enum(HOLD_KINDS),
  host: z.string(),
  name: z.string(),
  purpose: z.string(),
  without: z.array(z.string()).optional(),
});

const Plan = z.object({
  /** What somebody said of tags, one by one: held however the site is set. */
  told: z.array(Hold),
  /** That, and what it holds by itself where the site is set so. */
  holds: z.array(Hold),
  open: z.array(
    z.object({
      tracker: z.object({ kind: z.string(), name: z.string(), host: z.string() }),
      why: z.string(),
    }),
  ),
  kept: z.array(
    z.object({
      kind: z.enum(KEPT_KINDS),
      name: z.string(),
      host: z.string(),
      purpose: z.string(),
    }),
  ),
});
export type StoredPlan = z.infer<typeof Plan>;

export interface SiteGate {
  readonly settings: GateSettings;
  readonly plan: StoredPlan;
}

const NO_PLAN: StoredPlan = { told: [], holds: [], open: [], kept: [] };

/** How the gate of a site works, and what was worked out for it last. */
export async function readGate(store: Queries, siteId: number): Promise<SiteGate> {
  const row = await store.one(
    z.object({ settings: JsonColumn(GateSettings), plan: JsonColumn(Plan) }),
    'SELECT settings, plan FROM site_gate WHERE site_id = ?',
    [siteId],
  );
  return row ?? { settings: FIRST_GATE, plan: NO_PLAN };
}

/** What the gate holds besides the single trackers that somebody told it to. */
export function ownHolds({ settings, plan }: SiteGate): readonly GateHold[] {
  return settings.mode === 'by itself' ? plan.holds : plan.told;
}

/** What the two newest sweeps saw, each tracker with what it is for now: of a held one only an older sweep may know. */
export async function sortedTrackers(store: Queries, site: Pick<Site, 'id' | 'site_key'>): Promise<Sorted[]> {
  const purposes = await listPurposes(store);
  const sorted = new Map<number, ObservedTracker>();
  for (const sweep of await latestSweeps(store, site.id))
    for (const { id, tracker } of await observedIn(store, sweep.id)) {
      const newer = sorted.get(id);
      sorted.set(id, newer ? { ...newer, sightings: [...newer.sightings, ...tracker.sightings] } : tracker);
    }
  if (sorted.size === 0) return [];
  const decided = await store.all(
    z.object({ id: z.number(), purpose: z.string().nullable() }),
    'SELECT id, purpose FROM tracker WHERE site_id = ? AND id IN (?) ORDER BY id',
    [site.id, [...sorted.keys()]],
  );
  return decided.map(({ id, purpose }) => ({
    tracker: withoutGate(sorted.get(id) as ObservedTracker, site.site_key),
    purpose,
    essential: purposes.some((p) => p.code === purpose && p.essential),
  }));
}

/** What the gate let go was not put there by the gate. */
function withoutGate(tracker: ObservedTracker, siteKey: string): ObservedTracker {
  const isGate = ({ url }: Cause) => URL.canParse(url) && new URL(url).pathname === `/${siteKey}.js`;
  return {
    ...tracker,
    sightings: tracker.sightings.map((s) => ({ ...s, cause: s.cause.filter((c) => !isGate(c)) })),
  };
}

/** Works out anew what the gate of a site holds, after a sweep, a decision, or another word on a tag. */
export async function remakeGate(tx: Queries, siteId: number): Promise<void> {
  const site = await findSiteById(tx, siteId);
  const { settings } = await readGate(tx, siteId);
  const said = await saidTags(tx, siteId);
  const needs = neededBy(said, await listPurposes(tx));
  const sorted = asSaid(await sortedTrackers(tx, site), needs);
  const reduced = said.filter((t) => t.plan.reduced);
  // A tag as a whole, as somebody said, whether a sweep has met it or not.
  const whole = needs
    .filter((n) => !n.essential && !reduced.some((r) => r.host === n.host && r.name === n.name))
    .map(({ host, name, purpose }): GateHold => ({ kind: 'request', host, name, purpose }));
  const withWhole = (holds: readonly GateHold[]) =>
    [...whole, ...holds.filter((h) => !whole.some((w) => w.host === h.host && w.name === h.name))].map(
      ({ without, ...h }) => (without ? { ...h, without: [...without] } : h),
    );
  const spoken = said.filter((t) => t.plan.needs !== null || t.plan.reduced);
  const { holds, open } = gatePlan(sorted, reduced);
  const plan: StoredPlan = {
    told: withWhole(gatePlan(sorted, reduced, (t) => comesBy(t, spoken)).holds),
    holds: withWhole(holds),
    open: open.map((o) => ({ ...o })),
    kept: keptNames(sorted, new URL(site.start_url).hostname).map((k) => ({ ...k })),
  };
  await tx.run(
    'INSERT INTO site_gate (site_id, settings, plan) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE plan = VALUES(plan)',
    [siteId, JSON.stringify(settings), JSON.stringify(plan)],
  );
}

/** The tags of which somebody said what they need. */
export function neededBy(said: readonly SaidTag[], purposes: readonly Purpose[]): readonly SaidNeed[] {
  return said.flatMap(({ host, name, plan: { needs } }) => {
    const purpose = purposes.find((p) => p.code === needs);
    return purpose ? [{ host, name, purpose: purpose.code, essential: purpose.essential }] : [];
  });
}

export const GateEdit = GateSettings.partial();
export type GateEdit = z.infer<typeof GateEdit>;

/** Changes how a gate works; `saw` is what the editor saw. Throws a RefusedError (400, 409). */
export async function editGate(
  ctx: Context,
  accountId: number,
  host: string,
  edit: GateEdit,
  saw: GateSettings,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const before = (await readGate(tx, site.id)).settings;
    const given = Object.fromEntries(Object.entries(edit).filter(([, v]) => v !== undefined));
    const after = GateSettings.parse({ ...before, ...given });
    const stale = (Object.keys(given) as (keyof GateSettings)[]).find(
      (k) => !same(before[k] as Json, saw[k] as Json),
    );
    if (stale)
      throw new RefusedError(
        'Someone else changed this a moment ago. It is shown as it is now.',
        [{ field: stale, message: 'Look at it again, then change it if it is still to be.' }],
        409,
      );
    const own = new URL(site.start_url).hostname;
    if (after.domain !== '' && own !== after.domain && !own.endsWith(`.${after.domain}`))
      throw new RefusedError('This domain is not the site’s.', [
        { field: 'domain', message: `${own} is no host of ${after.domain}.` },
      ]);
    const difference = change(before as Json, after as Json);
    if (difference.length === 0) return;
    await tx.run(
      'INSERT INTO site_gate (site_id, settings, plan) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE settings = VALUES(settings)',
      [site.id, JSON.stringify(after), JSON.stringify(NO_PLAN)],
    );
    await remakeGate(tx, site.id);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'gate.edit',
      object: 'site',
      objectId: site.id,
      detail: { change: difference as unknown as Json },
    });
  });
}
