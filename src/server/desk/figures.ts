import { may, type Account } from '../../core/accounts/authority.ts';
import type { FigureWords } from '../../core/figures/figure.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { keepFigure, keptFigures, type KeptValue } from '../figures/kept-figures.ts';
import { logFailure } from '../processes/failure-log.ts';

const FIGURES = AREAS.flatMap((a) => a.figures ?? []);

/** Counts the figures of all areas for this day; one that cannot be counted keeps what it had. */
export async function keepFigures(ctx: Context): Promise<void> {
  for (const figure of FIGURES)
    await keepFigure(ctx, figure).catch((error: unknown) =>
      logFailure('a figure could not be counted', error, { figure: figure.id }),
    );
}

export interface ShownFigure extends FigureWords {
  /** The rows behind it. */
  readonly link: string;
  /** One a day, oldest first; empty before it was counted for the first time. */
  readonly days: readonly KeptValue[];
}

/** The figures that an account may know, with their values of the last `days` days. */
export async function figuresOf(ctx: Context, account: Account, days: number): Promise<ShownFigure[]> {
  const open = FIGURES.filter((f) => may(account, f.see));
  const since = new Date(ctx.now().getTime() - days * 86_400_000);
  const kept = await keptFigures(
    ctx.store,
    open.map((f) => f.id),
    since,
  );
  return open.map(({ id, name, definition, unit, good, link }) => ({
    id,
    name,
    definition,
    unit,
    good,
    link,
    days: kept.get(id) ?? [],
  }));
}

/** Ids of all figures. */
export function figureIds(): ReadonlySet<string> {
  return new Set(FIGURES.map((f) => f.id));
}
