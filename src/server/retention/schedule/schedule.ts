import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import { allActivities, itemNames } from '../../holdings/offers.ts';
import { listRules } from '../../rules/rule-store.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';
import { askRetention, retentionWeighing } from '../weighing.ts';

/** How far the rules in force reach over a source. */
export interface CoveredSource {
  readonly id: string;
  readonly name: string;
  readonly items: number;
  readonly ruled: number;
  readonly byLaw: number;
}

export interface ScheduleView {
  /** The one with the most items that nothing lets go first. */
  readonly sources: readonly CoveredSource[];
  /** Right below sources, those with the most such items. */
  readonly bare: readonly { readonly place: string; readonly items: number; readonly people: number }[];
  /** Distinct people in such items. */
  readonly barePeople: { readonly people: number; readonly error: number };
  /** Records of processing whose systems hold items, and no rule decides of any. */
  readonly unruledActivities: readonly {
    readonly id: string;
    readonly name: string;
    readonly kept: string;
    readonly items: number;
  }[];
  /** Rules in force that decide only of items in systems which no record of processing names. */
  readonly unnamedRules: readonly { readonly id: string; readonly name: string; readonly items: number }[];
  readonly rules: number;
}

/** The schedule against what is held, and against the records of processing. */
export async function viewSchedule(ctx: Context, account: Pick<Account, 'scope'>): Promise<ScheduleView> {
  const { store } = ctx;
  const weighing = await retentionWeighing(ctx, 'in force');
  const [sources, uncovered, names, activities, systems, rules] = await Promise.all([
    askRetention(ctx, account, weighing, { what: 'sources' }),
    askRetention(ctx, account, weighing, { what: 'uncovered', above: '' }),
    itemNames(store),
    allActivities(store),
    store.all(
      z.object({ id: z.coerce.string(), system: z.coerce.string().nullable() }),
      'SELECT id, system_id AS system FROM source',
    ),
    listRules(store, RETENTION_RULE, ['in force', 'rehearsing']),
  ]);
  const deep = await Promise.all(
    uncovered.places
      .slice(0, 6)
      .map((p) => askRetention(ctx, account, weighing, { what: 'uncovered', above: p.value })),
  );
  const nameOf = (value: string) => {
    const [source = '', ...steps] = value.split('/');
    return [names.sources.get(source) ?? source, ...steps].join(' / ');
  };
  const systemOf = new Map(systems.map((s) => [s.id, s.system]));
  const bySystem = new Map<string, { items: number; ruled: number }>();
  for (const s of sources) {
    const system = systemOf.get(s.source);
    if (!system) continue;
    const of = bySystem.get(system) ?? { items: 0, ruled: 0 };
    bySystem.set(system, { items: of.items + s.items, ruled: of.ruled + s.ruled });
  }
  const named = new Set(activities.flatMap((a) => a.content.systems));
  return {
    sources: sources.map((s) => ({
      id: s.source,
      name: names.sources.get(s.source) ?? s.source,
      items: s.items,
      ruled: s.ruled,
      byLaw: s.byLaw,
    })),
    bare: deep
      .flatMap((d) => d.places)
      .toSorted((a, b) => b.items - a.items)
      .slice(0, 12)
      .map((p) => ({ place: nameOf(p.value), items: p.items, people: p.people })),
    barePeople: uncovered.figures.people,
    unruledActivities: activities.flatMap(({ id, content }) => {
      const of = content.systems.map((s) => bySystem.get(s));
      const items = of.reduce((n, s) => n + (s?.items ?? 0), 0);
      const ruled = of.reduce((n, s) => n + (s?.ruled ?? 0), 0);
      return items > 0 && ruled === 0 ? [{ id, name: content.name, kept: content.retention, items }] : [];
    }),
    unnamedRules: [...weighing.contents.values()].flatMap(({ id, name }) => {
      const of = sources.flatMap((s) =>
        s.rules.filter((r) => r.id === id).map((r) => ({ ...r, system: systemOf.get(s.source) })),
      );
      const items = of.reduce((n, r) => n + r.items, 0);
      const isNamed = of.some((r) => r.system !== undefined && r.system !== null && named.has(r.system));
      return items > 0 && !isNamed ? [{ id, name, items }] : [];
    }),
    rules: rules.length,
  };
}
