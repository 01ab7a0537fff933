import { z } from 'zod';
import { builtInDetectors } from '../../../core/holdings/offers.ts';
import { NO_FACTS, type LinkedFacts, type Links } from '../../../core/cases/linked/linked.ts';
import type { Context } from '../../context.ts';
import { allActivities, foundIn, listOwnDetectors, recordNames } from '../../holdings/offers.ts';
import { reachOfFirm } from '../../access/offers.ts';
import { linkedTrackers, siteNames } from '../../websites/offers.ts';
import { linkedOthers } from './linked-others.ts';
import { JsonColumn } from '../../store/columns.ts';

export interface LinkedQuery extends Links {
  /** Hosts whose trackers belong to it, on whatever site. */
  readonly hosts?: readonly string[];
  /** Domains at which those have their mail whose accounts are its own. */
  readonly domains?: readonly string[];
  /** The id of an assessment, to which vendors and AI systems on the same belong too. */
  readonly assessment?: number;
}

/** What links come to now. Systems are those that are linked, and those of the activities. */
export async function readFacts(ctx: Context, { assessment, ...links }: LinkedQuery): Promise<LinkedFacts> {
  const { store } = ctx;
  const [all, names, sites, trackers, others, firm] = await Promise.all([
    allActivities(store),
    recordNames(store),
    siteNames(store),
    linkedTrackers(store, { sites: links.sites, hosts: links.hosts ?? [] }),
    assessment === undefined ? { vendors: [], machines: [] } : linkedOthers(store, links, assessment),
    reachOfFirm(ctx, links.domains ?? []),
  ]);
  const activities = all.filter((a) => links.activities.includes(a.id));
  const systemIds = [...new Set([...links.systems, ...activities.flatMap((a) => a.content.systems)])].filter(
    (s) => names.systems.has(s),
  );
  const systems =
    systemIds.length === 0
      ? []
      : await store.all(
          z.object({ id: z.number(), country: z.string().nullable() }),
          "SELECT id, JSON_VALUE(content, '$.country') AS country FROM data_system WHERE id IN (?) ORDER BY id",
          [systemIds],
        );
  const found = await foundIn(ctx, systemIds);
  // A system holds much that an activity has nothing to do with: what was found beside the records counts for systems that are
  // linked themselves.
  const beside = links.systems.length === 0 ? undefined : await foundIn(ctx, links.systems);
  const categories = new Map<string, string>(
    [...builtInDetectors(), ...(await listOwnDetectors(store))].map((d) => [d.id, d.category]),
  );
  const recorded = new Set(activities.flatMap((a) => a.content.data));
  const kinds = new Set([...recorded, ...(beside?.data.keys() ?? [])]);
  return {
    activities: activities.map((a) => ({
      id: a.id,
      name: a.content.name,
      purpose: a.content.purpose,
      retention: a.content.retention,
    })),
    systems: systems.map((s) => ({
      id: String(s.id),
      name: names.systems.get(String(s.id)) ?? '',
      country: s.country ?? '',
    })),
    sites: sites.filter((s) => links.sites.includes(s.id)),
    data: [...kinds].toSorted().map((detector) => ({
      ...{
        detector,
        name: names.detectors.get(detector) ?? detector,
        category: categories.get(detector) ?? 'own',
      },
      ...{ recorded: recorded.has(detector), items: found?.data.get(detector) ?? 0 },
    })),
    people: [...new Set(activities.flatMap((a) => a.content.people))],
    count: found?.people ?? null,
    recipients: [
      ...new Map(
        activities.flatMap((a) => a.content.recipients).map((r) => [`${r.name} ${r.country}`, r]),
      ).values(),
    ],
    trackers,
    ...others,
    reach: firm && {
      ...{ accounts: firm.accounts, accountCount: firm.accountCount, places: firm.places },
      ...{ items: firm.lies.items, people: firm.lies.people },
      data: firm.lies.data.map((d) => names.detectors.get(d.value) ?? d.value),
    },
  };
}

/** What an earlier reading of facts was kept as; it may know less than one of today. */
export const KeptFacts = JsonColumn(
  z
    .custom<Partial<LinkedFacts>>((v) => v !== null && typeof v === 'object')
    .transform((kept): LinkedFacts => ({ ...NO_FACTS, ...kept }))
    .nullable(),
);

/** What can be linked, by name. */
export async function linkOptions(ctx: Context) {
  const [activities, names, sites] = await Promise.all([
    allActivities(ctx.store),
    recordNames(ctx.store),
    siteNames(ctx.store),
  ]);
  return {
    activities: activities.map((a) => ({ value: a.id, words: a.content.name })),
    systems: [...names.systems]
      .map(([value, words]) => ({ value, words }))
      .toSorted((a, b) => a.words.localeCompare(b.words)),
    sites: sites.map((s) => ({ value: s.id, words: s.name })),
  };
}
