import { z } from 'zod';
import { RefusedError } from '../../core/refusal.ts';

/** One page of a list, and what to ask for the next with; `null` at the end. */
export interface Page<T> {
  readonly rows: readonly T[];
  readonly next: string | null;
}

type Key = readonly (string | number | null)[];

/** The sort key of the last row of a page, opaque to the caller. */
export function encodeCursor(key: Key): string {
  return Buffer.from(JSON.stringify(key)).toString('base64url');
}

/** The key that `shape` says a list goes by. Throws a RefusedError for what no page of it ended with. */
export function decodeCursor<T extends z.ZodType>(cursor: string, shape: T): z.infer<T> {
  try {
    return shape.parse(JSON.parse(Buffer.from(cursor, 'base64url').toString()));
  } catch {
    throw new RefusedError('This page marker is not one of ours.', [
      { field: 'after', message: 'Start from the first page.' },
    ]);
  }
}

/** Cuts `rows`, fetched with one more than `size`, into a page. */
export function toPage<T>(rows: readonly T[], size: number, key: (row: T) => Key): Page<T> {
  const page = rows.slice(0, size);
  const last = page.at(-1);
  return { rows: page, next: rows.length > size && last ? encodeCursor(key(last)) : null };
}

export const PAGE_SIZE = 100;
export const PageSize = z.coerce.number().int().min(1).max(500).default(PAGE_SIZE);

/** The rows of every page, one page in memory at a time. */
export async function* everyRow<T>(load: (after: string | undefined) => Promise<Page<T>>): AsyncGenerator<T> {
  for (let after: string | undefined; ;) {
    const page = await load(after);
    yield* page.rows;
    if (page.next === null) return;
    after = page.next;
  }
}
