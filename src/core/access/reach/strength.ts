/** What somebody can do with a place, weakest first: know that it is there, read it, change it, give it to others. */
export const STRENGTHS = ['see', 'read', 'change', 'give'] as const;
export type Strength = (typeof STRENGTHS)[number];

/** Places in `STRENGTHS`, from 0; steps as a sum of `1 << place`. */
export type Steps = number;

export const NO_STEPS: Steps = 0;

/** A strength with all below it. */
export function upTo(strength: Strength): Steps {
  return (1 << (STRENGTHS.indexOf(strength) + 1)) - 1;
}

/** What a grant gives. */
export function givenBy({ strength, only }: { readonly strength: Strength; readonly only: boolean }): Steps {
  return only ? (1 << STRENGTHS.indexOf(strength)) | 1 : upTo(strength);
}

/** A strength with all above it: what denying it takes away. */
export function from(strength: Strength): Steps {
  return 0b1111 & ~((1 << STRENGTHS.indexOf(strength)) - 1);
}

/** The highest of some steps; null for none. */
export function highest(steps: Steps): Strength | null {
  return STRENGTHS.findLast((_, i) => (steps & (1 << i)) !== 0) ?? null;
}

/** In order. */
export function stepsIn(steps: Steps): readonly Strength[] {
  return STRENGTHS.filter((_, i) => (steps & (1 << i)) !== 0);
}
