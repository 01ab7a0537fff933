import { z } from 'zod';
import { USUAL_WEIGHTS, Weights } from '../../core/obligations/readiness/weights.ts';
import { notFound } from '../../core/refusal.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { JsonColumn } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

const KEY = 1;

/** What controls weigh here; as usual where nobody said otherwise. */
export async function readinessWeights(store: Queries, lock = false): Promise<Weights> {
  const row = await store.one(
    z.object({ content: JsonColumn(Weights) }),
    `SELECT content FROM readiness_weights WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [KEY],
  );
  return row?.content ?? USUAL_WEIGHTS;
}

export const READINESS_WEIGHTS: PlainKind<Weights> = {
  object: 'readiness weights',
  content: Weights,
  vocabulary: () =>
    Promise.resolve({ path: ([, name]) => (name === undefined ? undefined : `Weight of “${name}”`) }),
  read: async (store, key, lock) => {
    if (Number(key) !== KEY) throw notFound('weights');
    return readinessWeights(store, lock);
  },
  write: async (tx, _key, content) => {
    await tx.run(
      'INSERT INTO readiness_weights (id, content) VALUES (?, ?) ON DUPLICATE KEY UPDATE content = VALUES(content)',
      [KEY, JSON.stringify(content)],
    );
  },
};
