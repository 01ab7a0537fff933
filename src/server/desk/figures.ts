import { may, type Account } from '../../core/accounts/authority.ts';
import { fit } from '../../core/desk/find-rank.ts';
import { formulaWords, type FigureWords, type Part } from '../../core/figures/figure.ts';
import { notFound } from '../../core/refusal.ts';
import { AREAS } from '../areas.ts';
import type { Context } from '../context.ts';
import { NO_AIM, readAims, type Aim } from '../figures/aims.ts';
import type { Figure } from '../figures/figure.ts';
import { keepFigure, keptFigures, type KeptValue } from '../figures/kept-figures.ts';
import type { Found } from './found.ts';
import { logFailure } from '../processes/failure-log.ts';

const FIGURES: ReadonlyMap<string, Figure & { readonly area: string }> = new Map(
  AREAS.flatMap(({ area, figures = [] }) => figures.map((f) => [f.id, { ...f, area }] as const)),
);

/** Counts the figures of all areas for this day; one that cannot be counted keeps what it had. */
export async function keepFigures(ctx: Context): Promise<void> {
  for (const figure of FIGURES.values())
    await keepFigure(ctx, figure).catch((error: unknown) =>
      logFailure('a figure could not be counted', error, { figure: figure.id }),
    );
}

/** A figure as it is told of. */
export interface CatalogueFigure extends FigureWords, Aim {
  readonly area: string;
  readonly formula: string;
  readonly parts: readonly Part[];
  /** The rows behind it, as they are now. */
  readonly link: string;
}

export interface ShownFigure extends CatalogueFigure {
  /** One a day, oldest first; empty before it was counted for the first time. */
  readonly days: readonly KeptValue[];
}

/** The figures that an account may know, with their values of the last `days` days before `until`; all, or `only` some. */
export async function figuresOf(
  ctx: Context,
  account: Account,
  days: number,
  { until = ctx.now(), only }: { readonly until?: Date; readonly only?: ReadonlySet<string> } = {},
): Promise<ShownFigure[]> {
  const open = [...FIGURES.values()].filter((f) => may(account, f.see) && (only?.has(f.id) ?? true));
  const since = new Date(until.getTime() - days * 86_400_000);
  const [kept, aims] = await Promise.all([
    keptFigures(
      ctx.store,
      open.map((f) => f.id),
      since,
    ),
    readAims(ctx.store),
  ]);
  const last = until.toISOString().slice(0, 10);
  return open.map((f) => ({
    ...inCatalogue(f, aims.get(f.id) ?? NO_AIM),
    days: (kept.get(f.id) ?? []).filter((d) => d.day <= last),
  }));
}

function inCatalogue(figure: Figure & { readonly area: string }, aim: Aim): CatalogueFigure {
  const { id, area, name, definition, unit, good, link, from, asShare, sampledDays, parts = [] } = figure;
  return {
    ...{ id, area, name, definition, unit, good, link, parts, ...aim, formula: formulaWords(figure) },
    ...(from === undefined ? {} : { from }),
    ...(asShare === undefined ? {} : { asShare }),
    ...(sampledDays === undefined ? {} : { sampledDays }),
  };
}

/** Of so many days no more are told in a list; the last is always among them. */
export function thinned<T>(days: readonly T[], most: number): readonly T[] {
  const step = Math.ceil(days.length / most);
  return step <= 1 ? days : days.filter((_, i) => (days.length - 1 - i) % step === 0);
}

/** Of those that an account may know. Throws a RefusedError (404). */
export function knownFigure(account: Account, id: string): Figure & { readonly area: string } {
  const figure = FIGURES.get(id);
  if (!figure || !may(account, figure.see)) throw notFound('figure');
  return figure;
}

/** Figures that an account may know, by words of their name and definition. */
export function findFigures(account: Account, text: string): readonly Found[] {
  if (!may(account, 'boards.read')) return [];
  return [...FIGURES.values()]
    .filter((f) => may(account, f.see))
    .map((f) => ({
      ...{ kind: 'figure', words: f.name, detail: f.definition },
      link: `/evidence/figures/${encodeURIComponent(f.id)}`,
    }))
    .filter((f) => fit(text, f) !== undefined);
}

/** Ids of all figures. */
export function figureIds(): ReadonlySet<string> {
  return new Set(FIGURES.keys());
}
