import { stepOf, type CompiledCheck } from '../detector/check.ts';
import { sumOf, type Step } from '../detector/confidence.ts';
import { mostAround, weighContext } from './context-weight.ts';
import { isExcluded, SLACK, type Prepared } from './prepared-detector.ts';
import type { Surroundings } from './surroundings.ts';

/** Adds what the checks say to `steps`; what rules the value out, empty where nothing does. */
export function check(ready: Prepared, value: string, steps: Step[]): string {
  for (const check of ready.checks) {
    const result = check.run(value);
    const step = stepOf(check.of, result);
    if (!step) return result.says;
    if (step.steps !== 0) steps.push(step);
  }
  return isExcluded(ready, value) ? 'is excluded' : '';
}

/**
 * All that speaks for and against a match; `undefined` where it cannot come to count. What is cheap is looked at
 * first, and the rest only where it can still make a difference.
 */
export function weigh(
  ready: Prepared,
  value: string,
  around: () => Surroundings,
  more: readonly Step[],
): Step[] | undefined {
  // A longer match of words keeps shorter ones away even where it does not count itself.
  const mayFail = ready.of.anchor.by === 'pattern';
  const { checks } = ready;
  let steps: Step[] = [ready.base, ...more];
  let open = ready.lacking - ready.dearSteps - sumOf(more);
  for (let i = 0; i < checks.length; i++) {
    const check = checks[i] as CompiledCheck;
    if (check.dear) continue;
    const step = stepOf(check.of, check.run(value));
    if (!step) return undefined;
    open -= step.steps;
    if (step.steps !== 0) steps.push(step);
  }
  if (mayFail && open - ready.contextSteps > SLACK) return undefined;
  let context: readonly Step[] = [];
  if (ready.context.length > 0) {
    const near = around();
    if (mayFail && open > SLACK && open - mostAround(ready.context, near) > SLACK) return undefined;
    context = weighContext(ready.context, near);
    if (mayFail && open - sumOf(context) > SLACK) return undefined;
  }
  if (ready.hasDear) {
    // Told in the order of the detector; what was cheap is known by now.
    steps = [ready.base, ...more];
    for (const check of checks) {
      const step = stepOf(check.of, check.run(value));
      if (!step) return undefined;
      if (step.steps !== 0) steps.push(step);
    }
  }
  if (isExcluded(ready, value)) return undefined;
  steps.push(...context);
  return steps;
}
