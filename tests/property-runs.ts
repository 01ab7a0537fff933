import fc from 'fast-check';

/** `./yare test long` tries each property this many times as often. */
const LONGER = 20;

function isLong(): boolean {
  return process.env['YARE_LONG'] === 'yes';
}

/** How often a property is tried: so often by itself, and much longer on request. */
export function runs(usual: number): { readonly numRuns: number } {
  return { numRuns: isLong() ? usual * LONGER : usual };
}

// For properties that do not say how often.
fc.configureGlobal({ ...fc.readConfigureGlobal(), ...runs(100) });
