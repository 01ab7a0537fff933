/** The visitors a sweep comes as; each starts with a clean profile. */
export const VISITORS = ['before', 'refused', 'accepted'] as const;
export type Visitor = (typeof VISITORS)[number];

export const VISITOR_WORDS: Readonly<Record<Visitor, string>> = {
  before: 'Before choice',
  refused: 'After refusal',
  accepted: 'After accept',
};

/** The choice a visitor makes on the notice before it is watched; `undefined` when it makes none. */
export function choiceOf(visitor: Visitor): 'refuse' | 'accept' | undefined {
  switch (visitor) {
    case 'before':
      return undefined;
    case 'refused':
      return 'refuse';
    case 'accepted':
      return 'accept';
  }
}
