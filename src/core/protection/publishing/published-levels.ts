import { nearness, type Audience, type Reached } from '../../accounts/staff/audience.ts';
import type { Ranks } from '../rules/level-verdict.ts';

/** A publication as it is weighed for somebody. */
export interface WeighedPublication {
  readonly id: string;
  readonly levels: readonly string[];
  readonly to: Audience;
  readonly not: Audience;
  readonly first: 'weakest' | 'strongest';
  /** '' for none. */
  readonly start: string;
}

export interface LostPublication {
  readonly id: string;
  readonly because:
    /** It is for them, and its order and beginning give way; its levels are offered. */
    'another is nearer' | 'they are left out' | 'it is not for them';
}

/** What somebody is offered, and what decided. */
export interface PublishedLevels {
  /** In the order in which they are shown. */
  readonly levels: readonly string[];
  /** What something new begins with; `undefined` for none. */
  readonly start: string | undefined;
  /** The publication that is nearest, and decides order and beginning; `undefined` where none is for them. */
  readonly by: string | undefined;
  readonly lost: readonly LostPublication[];
}

/**
 * Levels that somebody may choose: those of every publication that is for them. The nearest (named, then by group, then
 * everyone) says in what order, and what something new begins with; of those that are as near, the one that begins with
 * the stronger level. Levels that are not in force (not in `ranks`) are not offered.
 */
export function publishedLevels(
  publications: readonly WeighedPublication[],
  person: Reached,
  ranks: Ranks,
): PublishedLevels {
  const rank = (level: string) => ranks.get(level) ?? -1;
  const lost: LostPublication[] = [];
  const mine: { readonly of: WeighedPublication; readonly near: number }[] = [];
  for (const of of publications) {
    const near = nearness(of.to, person);
    if (near === undefined) lost.push({ id: of.id, because: 'it is not for them' });
    else if (nearness(of.not, person) !== undefined) lost.push({ id: of.id, because: 'they are left out' });
    else mine.push({ of, near });
  }
  mine.sort((a, b) => a.near - b.near || rank(b.of.start) - rank(a.of.start) || (a.of.id < b.of.id ? -1 : 1));
  const [best, ...others] = mine;
  const offered = [...new Set(mine.flatMap((m) => m.of.levels))].filter((l) => ranks.has(l));
  const sign = best?.of.first === 'strongest' ? -1 : 1;
  return {
    levels: offered.toSorted((a, b) => sign * (rank(a) - rank(b))),
    start: best && offered.includes(best.of.start) ? best.of.start : undefined,
    by: best?.of.id,
    lost: [...others.map((o) => ({ id: o.of.id, because: 'another is nearer' as const })), ...lost],
  };
}

export interface PublishedNames {
  level(id: string): string;
  publication(id: string): string;
}

/** Why somebody is offered what they are, in sentences. */
export function publishedWords(
  { levels, start, by, lost }: PublishedLevels,
  names: PublishedNames,
): readonly string[] {
  if (by === undefined)
    return [
      'They are offered no level: no publication is for them.',
      ...lost.filter((l) => l.because === 'they are left out').map((l) => leftOut(l.id)),
    ];
  const list = levels.map((l) => names.level(l)).join(', ') || 'no level that is in force';
  return [
    `They are offered ${list}.`,
    start === undefined
      ? `“${names.publication(by)}” is nearest to them; something new begins with no level.`
      : `Something new begins with ${names.level(start)}, by “${names.publication(by)}”, which is nearest to them.`,
    ...lost.flatMap(({ id, because }) =>
      because === 'another is nearer'
        ? [
            `“${names.publication(id)}” is for them too: its levels are offered, its order and beginning are not.`,
          ]
        : because === 'they are left out'
          ? [leftOut(id)]
          : [],
    ),
  ];

  function leftOut(id: string): string {
    return `“${names.publication(id)}” leaves them out.`;
  }
}

/** Why a level may not be put in another's place; `undefined` where it may. */
export type Refused = 'never' | 'needs a reason' | undefined;

/** Whether a level may be lowered, as the one that stands says. What is not lower is free. */
export function lowering(
  before: { readonly id: string; readonly lowered: 'freely' | 'with a reason' | 'never' } | undefined,
  after: string | undefined,
  ranks: Ranks,
  { reason, mayAlways }: { readonly reason: string; readonly mayAlways: boolean },
): Refused {
  if (!before) return undefined;
  const isLower = after === undefined || (ranks.get(after) ?? -1) < (ranks.get(before.id) ?? -1);
  if (!isLower || before.lowered === 'freely') return undefined;
  if (before.lowered === 'never' && !mayAlways) return 'never';
  return reason.trim() === '' ? 'needs a reason' : undefined;
}
