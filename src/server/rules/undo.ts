import { z } from 'zod';
import { apply, invert, type Change, type Json, type Vocabulary } from '../../core/rules/change.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { JsonColumn } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { Key } from './rule-kind.ts';

const Difference = z.object({
  path: z.array(z.string()),
  before: z.json().optional(),
  after: z.json().optional(),
});

/**
 * The content without the edit that made `revision`, as the ledger has it: its change inverted, all or nothing. Throws a
 * RefusedError (404) where no such edit is on record, (409) where what it changed was changed again since, or where the
 * ledger does not keep all of it.
 */
export async function withoutEdit(
  tx: Queries,
  { object, key, revision }: { readonly object: string; readonly key: Key; readonly revision: number },
  content: Json,
  vocabulary: Vocabulary,
): Promise<Json> {
  const entry = await tx.one(
    z.object({
      detail: JsonColumn(z.object({ change: z.array(Difference), redacted: z.boolean().optional() })),
    }),
    "SELECT detail FROM ledger_entry WHERE object = ? AND object_id = ? AND action = ? AND JSON_VALUE(detail, '$.revision') = ? ORDER BY id DESC LIMIT 1",
    [object, String(key), `${object}.edit`, revision],
  );
  if (!entry) throw notFound('edit');
  if (entry.detail.redacted)
    throw new RefusedError(
      'The ledger keeps only part of this edit, so that it cannot be undone from there.',
      [{ field: 'revision', message: 'Change it by hand, or take an older version back.' }],
      409,
    );
  const inverted = invert(entry.detail.change as Change);
  try {
    return inverted.length === 0 ? content : apply(content, inverted);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    const names = inverted.map((d) => vocabulary.path?.(d.path) ?? d.path.join(', '));
    throw new RefusedError(
      'This was changed again since. Nothing was undone.',
      [{ field: 'revision', message: `Look at ${names.join('; ')} again.` }],
      409,
    );
  }
}
