import { z } from 'zod';
import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { likeText } from '../store/like-text.ts';
import { HOLD } from './holds/holds.ts';
import { LAW_BOUND } from './rules/law-bounds.ts';
import { RETENTION_RULE } from './rules/retention-rules.ts';

const PLACES: Readonly<Record<string, { readonly place: string; readonly words: string }>> = {
  [RETENTION_RULE.object]: { place: 'rules', words: 'retention rule' },
  [LAW_BOUND.object]: { place: 'law', words: 'bound of law' },
  [HOLD.object]: { place: 'holds', words: 'hold' },
};

/** Retention rules, bounds and holds by a part of their name. */
export async function findRetention({ store }: Context, text: string): Promise<readonly Found[]> {
  const rows = await store.all(
    z.object({ kind: z.string(), id: z.string(), name: z.string() }),
    'SELECT kind, id, name FROM rule WHERE kind IN (?) AND name LIKE ? ORDER BY name LIMIT 8',
    [Object.keys(PLACES), likeText(text)],
  );
  return rows.map(({ kind, id, name }) => ({
    kind,
    words: name,
    detail: PLACES[kind]?.words ?? kind,
    link: `/retention/${PLACES[kind]?.place ?? ''}/${encodeURIComponent(id)}`,
  }));
}
