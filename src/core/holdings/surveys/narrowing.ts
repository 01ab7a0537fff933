import type { Check, PatternDetector } from '../detection/detector/detector.ts';
import type { OwnDetector } from '../detection/detector/own-detector.ts';
import { same, type Json } from '../../rules/change.ts';

/**
 * Whether a later version of a detector finds nothing that the one before did not find: it asks for more confidence, checks
 * more, or takes fewer values. Where that cannot be told for sure, it is not so.
 */
export function onlyNarrows(before: OwnDetector, after: OwnDetector): boolean {
  if (before.kind === 'pattern' && after.kind === 'pattern') return patternNarrows(before, after);
  if (before.kind === 'likeness' && after.kind === 'likeness')
    return (
      after.from >= before.from &&
      after.templates.every((t) => before.templates.some((b) => b.digest === t.digest))
    );
  if (before.kind === 'learned' && after.kind === 'learned')
    return (
      after.training === before.training &&
      before.threshold !== null &&
      after.threshold !== null &&
      after.threshold >= before.threshold
    );
  // The table of a roster may be another one at each version.
  return false;
}

function patternNarrows(before: PatternDetector, after: PatternDetector): boolean {
  const { checks, keepFrom, ...rest } = plain(before);
  const { checks: nowChecks, keepFrom: nowFrom, ...nowRest } = plain(after);
  return same(rest as Json, nowRest as Json) && nowFrom >= keepFrom && checksNarrow(checks, nowChecks);
}

/** Without what says nothing of what is found. */
function plain({
  name: _name,
  about: _about,
  version: _version,
  ...rest
}: PatternDetector & { version?: number }) {
  return rest;
}

/** Every check that was there is there and no milder, in the same order; those added can only take away. */
function checksNarrow(before: readonly Check[], after: readonly Check[]): boolean {
  let at = 0;
  for (const check of after) {
    const was = before[at];
    if (was && isStricter(was, check)) at++;
    else if (check.passes > 0) return false;
    else if (check.fails !== 'drop' && check.fails > 0) return false;
  }
  return at === before.length;
}

function isStricter(was: Check, now: Check): boolean {
  if (same(was as Json, now as Json)) return true;
  if (was.check !== now.check || was.passes !== now.passes || was.fails !== now.fails) return false;
  // What fails has to cost something, or failing more often would not narrow.
  if (was.fails !== 'drop' && was.fails > was.passes) return false;
  if (was.check === 'is none of' && now.check === 'is none of')
    return was.values.every((v) => now.values.includes(v));
  if (was.check === 'is one of' && now.check === 'is one of')
    return now.values.every((v) => was.values.includes(v));
  if ((was.check === 'range' && now.check === 'range') || (was.check === 'length' && now.check === 'length'))
    return (
      now.from >= was.from && now.to <= was.to && (!('of' in was) || !('of' in now) || was.of === now.of)
    );
  return false;
}
