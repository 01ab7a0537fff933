import { z } from 'zod';
import type { Account, AuthorityObject } from '../../core/accounts/authority.ts';
import type { Context } from '../context.ts';
import { readRule } from '../rules/rule-store.ts';
import { readObject } from '../rules/plain-object.ts';
import { plainKind } from './plain-kinds.ts';
import { ruleKind } from './rule-kinds.ts';

/** The rule a request is about: its kind by the word of the ledger, and its id. */
export const RuleInput = z.object({ kind: z.string().max(40), id: z.string().min(1).max(64) });

/** The object a request is about, in the same way. */
export const ObjectInput = RuleInput;

/** The rule as it is, and what it belongs to; throws a RefusedError (404). */
export async function ruleObject(
  { store }: Context,
  { kind: name, id }: z.infer<typeof RuleInput>,
): Promise<AuthorityObject> {
  const { kind } = ruleKind(name);
  await readRule(store, kind, id);
  const within = await kind.within?.(store, id);
  return { kind: name, id, ...(within ? { within } : {}) };
}

/** The same, to have it moved or agreed to: that may reach further than its draft. */
export async function forcedRule(ctx: Context, input: z.infer<typeof RuleInput>): Promise<AuthorityObject> {
  const { wholeOf } = ruleKind(input.kind);
  return { ...(await ruleObject(ctx, input)), ...(wholeOf ? { wholeOf } : {}) };
}

/** The object as it is, and what it belongs to; throws a RefusedError (404). */
export function plainObject(ctx: Context, input: z.infer<typeof ObjectInput>, account: Account) {
  return guarded(ctx, input, account, 'see');
}

/** The same, to have it changed. */
export function editedObject(ctx: Context, input: z.infer<typeof ObjectInput>, account: Account) {
  return guarded(ctx, input, account, 'edit');
}

async function guarded(
  { store }: Context,
  { kind: name, id }: z.infer<typeof ObjectInput>,
  account: Account,
  does: 'see' | 'edit',
): Promise<AuthorityObject> {
  const area = plainKind(name);
  await readObject(store, area.kind, id);
  await area.guard?.(store, id, account, does);
  const within = await area.within?.(store, id);
  return {
    kind: name,
    id,
    ...(within ? { within } : {}),
    ...(area.wholeOf ? { wholeOf: area.wholeOf } : {}),
  };
}
