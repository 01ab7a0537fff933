import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { Where } from '../../store/where.ts';
import { sitePlace } from './site-place.ts';

export async function findSites(
  ctx: Context,
  text: string,
  account: Pick<Account, 'scope'>,
): Promise<readonly Found[]> {
  const where = keepToScope(new Where().holding(['host', 'name'], text), account, 'site', 'id');
  const sites = await ctx.store.all(
    z.object({ host: z.string(), name: z.string() }),
    `SELECT host, name FROM site WHERE ${where.sql} ORDER BY id LIMIT 8`,
    where.params,
  );
  return sites.map((s) => ({ kind: 'site', words: s.host, detail: s.name, link: sitePlace(s.host) }));
}
