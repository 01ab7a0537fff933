import { z } from 'zod';
import type { Context } from '../../../context.ts';
import type { Found } from '../../../desk/found.ts';
import { Count } from '../../../store/columns.ts';
import { likeText } from '../../../store/like-text.ts';

export async function findSets(ctx: Context, text: string): Promise<readonly Found[]> {
  const sets = await ctx.store.all(
    z.object({ id: z.number(), name: z.string(), texts: Count }),
    'SELECT s.id, s.name, (SELECT COUNT(*) FROM labelled_text t WHERE t.set_id = s.id) AS texts FROM labelled_set s WHERE s.name LIKE ? ORDER BY s.name LIMIT 4',
    [likeText(text)],
  );
  return sets.map((s) => ({
    kind: 'labelled set',
    words: s.name,
    detail: `${s.texts} texts`,
    link: `/holdings/sets/${s.id}`,
  }));
}
