import { z } from 'zod';
import type { Context } from '../../context.ts';
import { Count } from '../../store/columns.ts';
import { reviewLines, type ReviewLine } from './reviews.ts';

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
  const reviews = await ctx.store.all(
    z.object({ id: z.number(), name: z.string(), due: z.string(), total: Count }),
    `SELECT r.id, r.name, r.due, COUNT(*) AS total
     FROM access_review r JOIN access_review_line l ON l.review_id = r.id
     WHERE r.state = 'open' AND l.owner = ? AND l.answer IS NULL GROUP BY r.id ORDER BY r.due, r.id`,
    [address],
  );
  const found: AskedOfOwner[] = [];
  for (const r of reviews) {
    const { rows } = await reviewLines(ctx, r.id, { answer: 'open', owner: address, size: AT_ONCE });
    if (rows.length > 0) found.push({ ...r, lines: rows });
  }
  return found;
}
