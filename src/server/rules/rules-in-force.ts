import { versionInForce } from '../../core/rules/rule.ts';
import type { Queries } from '../store/pool.ts';
import type { RuleKind } from './rule-kind.ts';
import { listRules } from './rule-store.ts';
import { readRuleVersion } from './rule-versions.ts';

/** A rule as it takes effect. */
export type InForce<T> = T & { readonly id: string; readonly version: number };

/** All of a kind that are in force; of one under rehearsal, what was in force before it. */
export async function rulesInForce<T>(store: Queries, kind: RuleKind<T>): Promise<readonly InForce<T>[]> {
  const all = await listRules(store, kind, ['in force', 'rehearsing']);
  const found = await Promise.all(
    all.map(async ({ id, stage }) => {
      const version = versionInForce(stage);
      return version === undefined
        ? []
        : [{ ...(await readRuleVersion(store, kind, id, version)), id, version }];
    }),
  );
  return found.flat();
}
