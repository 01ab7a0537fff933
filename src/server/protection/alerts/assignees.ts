import { peopleWho } from '../../accounts/account-names.ts';
import type { Queries } from '../../store/pool.ts';

/** Those who may look into alerts, by name. */
export async function assignees(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string }[]> {
  const people = await peopleWho(store, 'protection.alerts');
  return people.filter((p) => p.able).map(({ id, name }) => ({ id, name }));
}
