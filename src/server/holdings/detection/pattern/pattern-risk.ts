import { createRequire } from 'node:module';

/** An input on which a pattern takes far longer than a text of its length may. */
export interface FoundRisk {
  /** How its time grows, such as “exponential”. */
  readonly growth: string;
  readonly exponential: boolean;
  readonly attack: string;
}

const CHECK_MS = 12_000;

/** Looks for an input that a pattern would hang on; `undefined` where there is none, and told so where nobody can say in time. */
export function findRisk(pattern: string, ignoreCase: boolean): FoundRisk | 'not found out' | undefined {
  // The build without a process or a binary of its own; loaded only where it is asked for.
  const { checkSync } = createRequire(import.meta.url)('recheck/lib/browser.js') as typeof import('recheck');
  const found = checkSync(pattern, ignoreCase ? 'iu' : 'u', { timeout: CHECK_MS });
  if (found.status === 'unknown') return 'not found out';
  if (found.status !== 'vulnerable') return undefined;
  return {
    growth: found.complexity.summary.replace(/ \(fuzz\)$/, ''),
    exponential: found.complexity.type === 'exponential',
    attack: found.attack.string,
  };
}
