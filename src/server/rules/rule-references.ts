import { z } from 'zod';
import type { Queries } from '../store/pool.ts';
import { StageColumn } from './stage-column.ts';
import type { Key, RuleKind } from './rule-kind.ts';

/** Keeps what a draft names of others, in the transaction that writes it. */
export async function keepReferences<T>(
  tx: Queries,
  kind: Pick<RuleKind<T>, 'object' | 'refersTo'>,
  key: Key,
  content: T,
): Promise<void> {
  if (!kind.refersTo) return;
  await tx.run('DELETE FROM rule_reference WHERE kind = ? AND id = ?', [kind.object, String(key)]);
  const rows = kind.refersTo(content).map((r) => [kind.object, String(key), r.object, r.id]);
  if (rows.length > 0)
    await tx.run('INSERT IGNORE INTO rule_reference (kind, id, object, object_id) VALUES ?', [rows]);
}

/** Rules whose draft names an object, by name. */
export function rulesNaming(
  store: Queries,
  object: string,
  id: string,
): Promise<readonly { kind: string; id: string; name: string; stage: z.infer<typeof StageColumn> }[]> {
  return store.all(
    z.object({ kind: z.string(), id: z.string(), name: z.string(), stage: StageColumn }),
    `SELECT r.kind, r.id, r.name, r.stage FROM rule_reference f JOIN rule r ON r.kind = f.kind AND r.id = f.id
     WHERE f.object = ? AND f.object_id = ? ORDER BY r.name, r.id LIMIT 500`,
    [object, id],
  );
}
