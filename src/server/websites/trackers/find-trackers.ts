import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { Where } from '../../store/where.ts';
import { sitePlace } from '../sites/site-place.ts';

export async function findTrackers(
  ctx: Context,
  text: string,
  account: Pick<Account, 'scope'>,
): Promise<readonly Found[]> {
  const where = keepToScope(
    new Where().holding(['t.name COLLATE utf8mb4_unicode_ci', 't.host'], text),
    account,
    'site',
    't.site_id',
  );
  const trackers = await ctx.store.all(
    z.object({ id: z.number(), name: z.string(), host: z.string(), site: z.string() }),
    `SELECT t.id, t.name, t.host, s.host AS site FROM tracker t JOIN site s ON s.id = t.site_id WHERE ${where.sql} ORDER BY t.last_seen DESC LIMIT 8`,
    where.params,
  );
  return trackers.map((t) => ({
    kind: 'tracker',
    words: t.name,
    detail: `${t.host}, on ${t.site}`,
    link: sitePlace(t.site, `?tracker=${t.id}`),
  }));
}
