/** The visitors a sweep comes as; each starts with a clean profile. New ones go last: their places are kept in bits. */
export const VISITORS = ['before', 'refused', 'accepted', 'chosen', 'gpc'] as const;
export type Visitor = (typeof VISITORS)[number];

export const VISITOR_WORDS: Readonly<Record<Visitor, string>> = {
  before: 'Before choice',
  refused: 'After refusal',
  accepted: 'After accept',
  chosen: 'Own choice',
  gpc: 'With GPC',
};

/** The same for the heads of narrow columns. */
export const VISITOR_HEADS: Readonly<Record<Visitor, string>> = {
  before: 'Before',
  refused: 'Refused',
  accepted: 'Accept',
  chosen: 'Own',
  gpc: 'GPC',
};

/** What each visitor does, as the officer reads it. */
export const VISITOR_ACTS: Readonly<Record<Visitor, string>> = {
  before: 'before any choice',
  refused: 'after refusing',
  accepted: 'after accepting',
  chosen: 'after allowing some purposes only',
  gpc: 'with Global Privacy Control sent and no choice made',
};

export type Choice = 'refuse' | 'accept' | 'choose';

/** The choice a visitor makes on the notice before it is watched; `undefined` when it makes none. */
export function choiceOf(visitor: Visitor): Choice | undefined {
  switch (visitor) {
    case 'before':
    case 'gpc':
      return undefined;
    case 'refused':
      return 'refuse';
    case 'accepted':
      return 'accept';
    case 'chosen':
      return 'choose';
  }
}

/** A set of visitors as bits, in the order of `VISITORS`. */
export function visitorBits(visitors: readonly Visitor[]): number {
  return visitors.reduce((bits, v) => bits | (1 << VISITORS.indexOf(v)), 0);
}

export function visitorsOf(bits: number): Visitor[] {
  return VISITORS.filter((_, i) => bits & (1 << i));
}
