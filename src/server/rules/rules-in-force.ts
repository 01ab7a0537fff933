import { inForceNow, type Standing } from '../../core/rules/rule.ts';
import type { Queries } from '../store/pool.ts';
import type { RuleKind } from './rule-kind.ts';
import { listRules } from './rule-store.ts';
import { readRuleVersion } from './rule-versions.ts';

/** A rule as it takes effect, and since when. */
export interface StandingRule<T> extends Standing {
  readonly id: string;
  readonly content: T;
}

/** All of a kind that are in force; of one under rehearsal, what was in force before it. */
export async function standingRules<T>(
  store: Queries,
  kind: RuleKind<T>,
): Promise<readonly StandingRule<T>[]> {
  const all = await listRules(store, kind, ['in force', 'rehearsing']);
  const found = await Promise.all(
    all.map(async ({ id, stage }): Promise<StandingRule<T>[]> => {
      const standing = inForceNow(stage);
      if (!standing) return [];
      return [{ id, ...standing, content: await readRuleVersion(store, kind, id, standing.version) }];
    }),
  );
  return found.flat();
}

/** A rule as it takes effect. */
export type InForce<T> = T & { readonly id: string; readonly version: number };

/** The same, with what it says beside its id. */
export async function rulesInForce<T>(store: Queries, kind: RuleKind<T>): Promise<readonly InForce<T>[]> {
  return (await standingRules(store, kind)).map(({ id, version, content }) => ({ ...content, id, version }));
}
