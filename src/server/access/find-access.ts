import type { Account } from '../../core/accounts/authority.ts';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { askAccess } from './index/ask-access.ts';

/** Places, people and groups by a part of their name. */
export async function findAccess(ctx: Context, text: string, account: Account): Promise<readonly Found[]> {
  // Who is kept to some sources is told nothing of the estate, which is one.
  if (account.scope?.['source'] !== undefined) return [];
  const [places, people] = [
    await askAccess(ctx, 'search', { text, size: 5 }),
    await askAccess(ctx, 'principals', { text, from: 0, size: 5 }),
  ];
  return [
    ...places.map((p) => ({
      ...{ kind: 'place', words: p.name, detail: `who reaches it · ${p.path}` },
      link: `/access/places/${p.key}`,
    })),
    ...people.rows.map((p) => ({
      ...{ kind: p.is, words: p.name, detail: `what they reach · ${p.detail}` },
      link: `/access/people/${p.key}`,
    })),
  ];
}
