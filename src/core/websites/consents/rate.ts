import { z } from 'zod';
import { wilson, type Share } from '../../interval.ts';
import { changedByMoreThanChance } from '../../two-shares.ts';

/** By what rates are told apart. */
export const RATE_BY = ['week', 'region', 'language', 'device', 'version', 'page'] as const;
export type RateBy = (typeof RATE_BY)[number];

export const RATE_BY_WORDS: Readonly<Record<RateBy, string>> = {
  week: 'week',
  region: 'region',
  language: 'language',
  device: 'kind of device',
  version: 'version of the notice',
  page: 'part of the site',
};

/** Fewer visitors than these could be known by what they chose. */
export const LEAST_GROUP = 10;

export const RateWish = z.object({
  by: z.enum(RATE_BY).default('week'),
  days: z.coerce.number().int().min(1).max(730).default(90),
});
export type RateWish = z.infer<typeof RateWish>;

/** What was counted of a group; visitors count once, by their latest answer. */
export interface RateCount {
  readonly key: string;
  /** Times that the notice was shown; `null` where nobody counted. */
  readonly shown: number | null;
  readonly answered: number;
  readonly refused: number;
  /** By purpose: of those who were asked for it, how many allowed it. */
  readonly purposes: Readonly<Record<string, { readonly asked: number; readonly allowed: number }>>;
}

export interface Rate {
  readonly key: string;
  readonly shown: number | null;
  readonly answered: number;
  /** `null` where the group is too small to be told. */
  readonly shares: {
    readonly refused: Share;
    readonly purposes: Readonly<Record<string, Share | null>>;
  } | null;
  /** The share that refused all differs from the row before by more than chance. */
  readonly changed: boolean;
}

/** The rates of groups in their order; `inOrder` where one follows another, as weeks do. */
export function ratesOf(counts: readonly RateCount[], inOrder: boolean): readonly Rate[] {
  const told = counts.filter((c) => c.answered >= LEAST_GROUP);
  const changes = inOrder
    ? changedByMoreThanChance(told.map((c) => ({ successes: c.refused, trials: c.answered })))
    : told.map(() => false);
  return counts.map((c) => {
    const at = told.indexOf(c);
    const { key, shown, answered } = c;
    if (at < 0) return { key, shown, answered, shares: null, changed: false };
    return {
      ...{ key, shown, answered, changed: changes[at] ?? false },
      shares: {
        refused: wilson(c.refused, answered) as Share,
        purposes: Object.fromEntries(
          Object.entries(c.purposes).map(([p, n]) => [
            p,
            n.asked < LEAST_GROUP ? null : (wilson(n.allowed, n.asked) ?? null),
          ]),
        ),
      },
    };
  });
}
