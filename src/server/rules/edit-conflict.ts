import { change, inWords, merge, same, type Json, type Vocabulary } from '../../core/rules/change.ts';
import { RefusedError } from '../../core/refusal.ts';

/** What the second of two editors is told. */
export interface EditConflict<T> {
  readonly revision: number;
  readonly editedBy: string | null;
  readonly theirs: T;
  readonly merged: Json;
  /** Places both changed, in words. */
  readonly collisions: readonly string[];
  /** What the other changed, in words. */
  readonly theirChanges: readonly string[];
}

/** An edit, with what its editor began from. */
export interface Edit<T> {
  readonly revision: number;
  readonly base: T;
  readonly content: T;
}

/** Something as it is saved. */
export interface Saved<T> {
  readonly content: T;
  /** Counts saved edits. */
  readonly revision: number;
  readonly editedBy: string | null;
}

/**
 * Throws a RefusedError (409) where somebody saved something else since `edit.revision`; its detail is an EditConflict:
 * both contents, the merge, and where they collide.
 */
export function refuseConflict<T>(
  object: string,
  saved: Saved<T>,
  edit: Edit<T>,
  vocabulary: Vocabulary,
): void {
  if (saved.revision === edit.revision) return;
  const [base, mine, theirs] = [edit.base as Json, edit.content as Json, saved.content as Json];
  // What was sent twice is no conflict.
  if (same(theirs, base) || same(theirs, mine)) return;
  const merged = merge(base, mine, theirs);
  const detail: EditConflict<T> = {
    revision: saved.revision,
    editedBy: saved.editedBy,
    theirs: saved.content,
    merged: merged.value,
    collisions: merged.conflicts.map((c) => vocabulary.path?.(c.path) ?? c.path.join(', ')),
    theirChanges: inWords(change(base, theirs), vocabulary),
  };
  throw new RefusedError(
    `${saved.editedBy ?? 'Someone'} saved this ${object} while you were editing.`,
    [],
    409,
    detail,
  );
}
