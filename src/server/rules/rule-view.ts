import type { Queries } from '../store/pool.ts';
import { latestApproval, neededFor, type Approval } from './approval-store.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { readRule, type Rule } from './rule-store.ts';
import { draftChanges, listRuleVersions, readRuleVersion, type ListedVersion } from './rule-versions.ts';

/** A rule with all that every rule's sheet shows. */
export interface RuleView<T> extends Rule<T> {
  /** Of its kind, by the word of the ledger. */
  readonly object: string;
  /** What the draft changes in the newest version, in words; empty when nothing. */
  readonly changes: readonly string[];
  readonly versions: readonly ListedVersion[];
  /** How many others have to agree before it is in force. */
  readonly needed: number;
  readonly approval: Approval | null;
  /** What the version says that waits to be agreed to; '' where none does. */
  readonly waiting: string;
}

/** Throws a RefusedError (404). */
export async function viewRule<T>(store: Queries, kind: RuleKind<T>, key: Key): Promise<RuleView<T>> {
  const rule = await readRule(store, kind, key);
  const [changes, versions, needed, approval] = await Promise.all([
    draftChanges(store, kind, rule),
    listRuleVersions(store, kind, key),
    neededFor(store, kind.object),
    latestApproval(store, kind.object, key),
  ]);
  const waiting =
    approval?.state === 'open' && kind.text
      ? await kind.text(store, key, await readRuleVersion(store, kind, key, approval.version))
      : '';
  return { ...rule, object: kind.object, changes, versions, needed, approval: approval ?? null, waiting };
}
