import type { Context } from '../../context.ts';
import { csvLine } from '../../http/csv.ts';
import { everyRow } from '../../store/page.ts';
import { reviewLines } from './reviews.ts';

/** The evidence of a review: a row for each line. */
export async function* reviewCsv(ctx: Context, id: number): AsyncGenerator<string> {
  yield csvLine([
    ...['Place', 'To whom', 'What', 'Until', 'Given', 'Used in 90 days', 'Last used', 'Asked'],
    ...['Answer', 'Reason', 'Said by', 'Said at'],
  ]);
  for await (const r of everyRow((after) => reviewLines(ctx, id, { after, size: 500 })))
    yield csvLine([
      [r.place.path, r.place.name].filter(Boolean).join(' / '),
      ...[r.to.name, r.is === 'link' ? `link, ${r.strength}` : r.strength, r.until ?? '', r.given ?? ''],
      ...[r.used, r.lastUse ?? 'never', r.owner, r.answer ?? 'no answer', r.reason, r.saidBy ?? ''],
      r.saidAt ?? '',
    ]);
}
