import { may, type Account, type AuthorityObject } from '../../core/accounts/authority.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import type { RunKind } from '../runs/run-kind.ts';
import { findRun, withinOfRun } from '../runs/run-store.ts';

/** Of all areas, by the word of the ledger. */
export const RUN_KINDS: ReadonlyMap<string, RunKind<unknown>> = new Map(
  AREAS.flatMap((a) => a.runs ?? []).map((k) => [k.kind, k]),
);

/** Throws a RefusedError (404) for a run of a kind that no area has any more. */
export async function kindOfRun({ store }: Context, id: string): Promise<RunKind<unknown>> {
  const kind = RUN_KINDS.get((await findRun(store, id)).kind);
  if (!kind) throw notFound('run');
  return kind;
}

/** The run as it is, where one may know of it; throws a RefusedError (404). */
export async function runObject(
  ctx: Context,
  { id }: { id: string },
  account: Account,
): Promise<AuthorityObject> {
  const run = await findRun(ctx.store, id);
  const kind = RUN_KINDS.get(run.kind);
  if (!kind || !may(account, kind.see)) throw notFound('run');
  const within = withinOfRun(run);
  return {
    kind: 'run',
    id,
    within,
    ...(within.length === 0 && kind.wholeOf ? { wholeOf: kind.wholeOf } : {}),
  };
}

/** Throws a RefusedError (403) for somebody who may not start runs of its kind. */
export function requireStarter(account: Account, kind: RunKind<unknown>): void {
  if (!may(account, kind.start))
    throw new RefusedError('Only those who may start this work may pause or stop it.', [], 403);
}
