import { z } from 'zod';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { likeText } from '../store/like-text.ts';
import { LEVEL } from './levels/levels.ts';
import { PUBLICATION } from './publishing/publications.ts';
import { LEVEL_RULE } from './rules/level-rules.ts';

const PLACES: Readonly<Record<string, string>> = {
  [LEVEL.object]: 'levels',
  [LEVEL_RULE.object]: 'rules',
  [PUBLICATION.object]: 'published',
};

/** Levels, the rules that set them and to whom they are published, by a part of their name. */
export async function findProtection({ store }: Context, text: string): Promise<readonly Found[]> {
  const rows = await store.all(
    z.object({ kind: z.string(), id: z.string(), name: z.string() }),
    'SELECT kind, id, name FROM rule WHERE kind IN (?) AND name LIKE ? ORDER BY name LIMIT 8',
    [Object.keys(PLACES), likeText(text)],
  );
  return rows.map(({ kind, id, name }) => ({
    kind,
    words: name,
    detail: kind,
    link: `/protection/${PLACES[kind] ?? ''}/${encodeURIComponent(id)}`,
  }));
}
