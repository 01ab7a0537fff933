import type { AuthorityObject } from '../../core/accounts/authority.ts';
import type { Context } from '../context.ts';
import { findAccount } from './account.ts';

/** The account as it is; throws a RefusedError (404). */
export async function accountObject(ctx: Context, { id }: { id: number }): Promise<AuthorityObject> {
  await findAccount(ctx.store, id);
  return { kind: 'account', id };
}
