import { z } from 'zod';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';
import { likeText } from '../../store/like-text.ts';
import { sitePlace } from './site-place.ts';

export async function findSites(ctx: Context, text: string): Promise<readonly Found[]> {
  const like = likeText(text);
  const sites = await ctx.store.all(
    z.object({ host: z.string(), name: z.string() }),
    'SELECT host, name FROM site WHERE host LIKE ? OR name LIKE ? ORDER BY id LIMIT 8',
    [like, like],
  );
  return sites.map((s) => ({ kind: 'site', words: s.host, detail: s.name, link: sitePlace(s.host) }));
}
