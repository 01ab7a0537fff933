import { z } from 'zod';
import { folded } from '../../core/desk/find-rank.ts';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { likeText } from '../store/like-text.ts';
import { allRoles } from './roles/all-roles.ts';

const MOST = 5;
const Named = z.object({ id: z.number(), name: z.string(), detail: z.string() });

/** People with an account, roles and providers, by a part of their name. */
export async function findAccounts({ store }: Context, text: string): Promise<readonly Found[]> {
  const like = likeText(text);
  const people = await store.all(
    Named,
    `SELECT id, name, IF(disabled_at IS NULL, title, CONCAT_WS(' · ', NULLIF(title, ''), 'disabled')) AS detail FROM account
     WHERE name LIKE ? OR email LIKE ? ORDER BY disabled_at IS NOT NULL, name LIMIT ?`,
    [like, like, MOST],
  );
  const providers = await store.all(
    Named,
    "SELECT id, name, 'signing in' AS detail FROM identity_provider WHERE name LIKE ? ORDER BY name LIMIT ?",
    [like, MOST],
  );
  const roles = (await allRoles(store)).filter((r) => folded(r.name).includes(folded(text)));
  return [
    ...people.map((p) => ({
      ...{ kind: 'account', words: p.name, detail: p.detail, link: `/account/${p.id}` },
    })),
    ...roles.slice(0, MOST).map((r) => ({
      ...{ kind: 'role', words: r.name, detail: r.state },
      link: `/account/roles/${encodeURIComponent(r.id)}`,
    })),
    ...providers.map((p) => ({
      ...{ kind: 'provider', words: p.name, detail: p.detail, link: `/account/sign-on/${p.id}` },
    })),
  ];
}
