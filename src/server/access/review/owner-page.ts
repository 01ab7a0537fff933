import type { Context } from '../../context.ts';
import { listReviews, reviewLines, type ReviewLine } from './reviews.ts';

/** What one person is asked in a review, the first of it. */
export interface AskedOfOwner {
  readonly id: number;
  readonly name: string;
  readonly due: string;
  readonly total: number;
  readonly lines: readonly ReviewLine[];
}

const AT_ONCE = 100;

/** What an owner has not answered yet, by review. */
export async function openLinesOf(ctx: Context, address: string): Promise<readonly AskedOfOwner[]> {
  const found: AskedOfOwner[] = [];
  for (const r of await listReviews(ctx.store)) {
    if (r.state !== 'open') continue;
    const { rows, next } = await reviewLines(ctx, r.id, { answer: 'open', owner: address, size: AT_ONCE });
    if (rows.length > 0)
      found.push({
        ...{ id: r.id, name: r.name, due: r.due, lines: rows },
        total: next === null ? rows.length : Math.max(rows.length + 1, r.lines - r.kept - r.taken),
      });
  }
  return found;
}
