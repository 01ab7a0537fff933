import type { Granting } from './role-kinship.ts';

/** That somebody used a permission. Days as `YYYY-MM-DD`. */
export interface Use {
  readonly account: number;
  readonly action: string;
  readonly lastOn: string;
}

/** How much of a role those who hold it use. */
export interface RoleUse {
  /** What somebody who holds it did since the day, in the order of the role. */
  readonly used: readonly string[];
  /** What none of them did. */
  readonly unused: readonly string[];
  /** By person: how many of its permissions they used. */
  readonly byHolder: readonly { readonly account: number; readonly used: number }[];
}

/**
 * What of a role was used on `since` or later by those who hold it. A use counts for every role that allows it: which of
 * them somebody had in mind, nobody can say.
 */
export function roleUse(
  { actions }: Granting,
  holders: readonly number[],
  uses: readonly Use[],
  since: string,
): RoleUse {
  const allowed = new Set(actions);
  const by = new Map(holders.map((id) => [id, new Set<string>()]));
  for (const u of uses) if (u.lastOn >= since && allowed.has(u.action)) by.get(u.account)?.add(u.action);
  const used = new Set([...by.values()].flatMap((s) => [...s]));
  return {
    used: actions.filter((a) => used.has(a)),
    unused: actions.filter((a) => !used.has(a)),
    byHolder: holders.map((account) => ({ account, used: by.get(account)?.size ?? 0 })),
  };
}
