import { z } from 'zod';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { likeText } from '../store/like-text.ts';
import { LEVEL } from './levels/levels.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';

/** Levels and the rules that set them, by a part of their name. */
export async function findProtection({ store }: Context, text: string): Promise<readonly Found[]> {
  const rows = await store.all(
    z.object({ kind: z.string(), id: z.string(), name: z.string() }),
    'SELECT kind, id, name FROM rule WHERE kind IN (?) AND name LIKE ? ORDER BY name LIMIT 8',
    [[LEVEL.object, LEVEL_RULE.object], likeText(text)],
  );
  return rows.map(({ kind, id, name }) => ({
    kind,
    words: name,
    detail: kind,
    link: `/protection/${kind === LEVEL.object ? 'levels' : 'rules'}/${encodeURIComponent(id)}`,
  }));
}
