import { RefusedError } from '../../../core/refusal.ts';
import type { FigureWords } from '../../../core/figures/figure.ts';
import type { Context } from '../../context.ts';
import type { KeptValue } from '../../figures/kept-figures.ts';
import { keepEvidence } from './evidence.ts';

/**
 * Adds a figure of the program to a measure’s evidence as it shows now, with its days and the place of its rows. Throws a
 * RefusedError where it was never counted, or for a measure that is not there (404).
 */
export async function freezeFigure(
  ctx: Context,
  by: number,
  key: string,
  figure: FigureWords & { readonly link: string; readonly days: readonly KeptValue[] },
  until: string | null,
): Promise<number> {
  if (figure.days.length === 0)
    throw new RefusedError(`“${figure.name}” was not counted yet.`, [
      { field: 'figure', message: 'Choose one that was.' },
    ]);
  const at = ctx.now().toISOString();
  const bytes = Buffer.from(JSON.stringify({ format: 'yare-figure-1', frozenAt: at, ...figure }, null, 2));
  const name = `${figure.name}, ${at.slice(0, 10)}.json`;
  return ctx.store.transaction((tx) =>
    keepEvidence(ctx, tx, by, key, { name, bytes, until, link: figure.link }),
  );
}
