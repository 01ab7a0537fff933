import { z } from 'zod';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';
import { likeText } from '../../store/like-text.ts';
import { sitePlace } from '../sites/site-place.ts';

export async function findTrackers(ctx: Context, text: string): Promise<readonly Found[]> {
  const like = likeText(text);
  const trackers = await ctx.store.all(
    z.object({ id: z.number(), name: z.string(), host: z.string(), site: z.string() }),
    'SELECT t.id, t.name, t.host, s.host AS site FROM tracker t JOIN site s ON s.id = t.site_id WHERE t.name COLLATE utf8mb4_unicode_ci LIKE ? OR t.host LIKE ? ORDER BY t.last_seen DESC LIMIT 8',
    [like, like],
  );
  return trackers.map((t) => ({
    kind: 'tracker',
    words: t.name,
    detail: `${t.host}, on ${t.site}`,
    link: sitePlace(t.site, `?tracker=${t.id}`),
  }));
}
