/**
 * A place as rules name it: the source and the steps down from it, parted by `/`, as `3/Manifests/2026`. A `*` stands for
 * any run of characters within its step, so that `3/Mani*` is every folder right below the source 3 that begins so, whenever it
 * comes. What lies below a place is in it.
 */
export type PlacePattern = string;

export interface PlaceMatcher {
  readonly pattern: PlacePattern;
  /** How many steps it names, the source being one. */
  readonly depth: number;
  /** Whether a place, in its steps without any `*`, is it or lies below it. */
  matches(place: readonly string[]): boolean;
}

export function placeMatcher(pattern: PlacePattern): PlaceMatcher {
  const steps = stepsOf(pattern).map(stepMatcher);
  return {
    pattern,
    depth: steps.length,
    matches: (place) => place.length >= steps.length && steps.every((is, i) => is(place[i] as string)),
  };
}

/** Whether a pattern names one place, and not whichever match. */
export function isNamed(pattern: PlacePattern): boolean {
  return !pattern.includes('*');
}

/** How deep the deepest of some patterns is that a place lies in; `undefined` where it lies in none. */
export function deepestMatch(
  matchers: readonly PlaceMatcher[],
  place: readonly string[],
): number | undefined {
  let deepest: number | undefined;
  for (const m of matchers)
    if ((deepest === undefined || m.depth > deepest) && m.matches(place)) deepest = m.depth;
  return deepest;
}

/** The source, and the steps down from it. */
export function stepsOf(place: string): readonly string[] {
  return place.split('/').filter(Boolean);
}

function stepMatcher(step: string): (part: string) => boolean {
  const [first = '', ...rest] = step.split('*');
  const last = rest.pop();
  if (last === undefined) return (part) => part === step;
  return (part) => {
    if (part.length < first.length + last.length || !part.startsWith(first) || !part.endsWith(last))
      return false;
    // Each run between two stars is looked for behind the one before: the first find is never worse than a later one.
    const end = part.length - last.length;
    let at = first.length;
    for (const run of rest) {
      const found = part.indexOf(run, at);
      if (found < 0 || found + run.length > end) return false;
      at = found + run.length;
    }
    return true;
  };
}
