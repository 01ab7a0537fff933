import type { Step } from './confidence.ts';
import { checkDigit, isDear } from './check-digit.ts';
import type { Check } from './detector.ts';
import { comparable, digitsOf } from '../../../text/mask.ts';

export interface CheckResult {
  readonly passed: boolean;
  readonly says: string;
}

export interface CompiledCheck {
  readonly of: Check;
  readonly run: (value: string) => CheckResult;
  /** Costs far more than reading what stands around. */
  readonly dear?: boolean;
}

/** The same values come again and again: in a letter’s foot, in a log, down a column. */
const MOST_REMEMBERED = 4096;

/** Throws a RangeError naming a check that there is not. */
export function compileCheck(of: Check): CompiledCheck {
  switch (of.check) {
    case 'check digit': {
      const test = checkDigit(of.by);
      if (!test) throw new RangeError(`There is no check digit named “${of.by}”.`);
      const passes = say(true, `passes its check (${of.by})`, '');
      const fails = say(false, '', `fails its check (${of.by})`);
      const known = new Map<string, boolean>();
      const run = (v: string) => {
        let passed = known.get(v);
        if (passed === undefined) {
          passed = test(v);
          if (known.size >= MOST_REMEMBERED) known.clear();
          known.set(v, passed);
        }
        return passed ? passes : fails;
      };
      return { of, run, dear: isDear(of.by) };
    }
    case 'date':
      return { of, run: (v) => say(holdsDate(v, of.digits), 'holds a date', 'holds no date') };
    case 'range':
      return {
        of,
        run: (v) => {
          const n = Number(v.replace(/[^\d.-]/g, ''));
          const passed = n >= of.from && n <= of.to;
          return { passed, says: `${passed ? '' : 'not '}from ${of.from} to ${of.to}` };
        },
      };
    case 'length':
      return {
        of,
        run: (v) => {
          const n = of.of === 'digits' ? digitsOf(v).length : v.length;
          const passed = n >= of.from && n <= of.to;
          return { passed, says: passed ? `${n} ${of.of}` : `${n} ${of.of}, not ${of.from} to ${of.to}` };
        },
      };
    case 'begins with': {
      const any = of.any.map(comparable);
      return {
        of,
        run: (v) => {
          const bare = comparable(v);
          return say(
            any.some((p) => bare.startsWith(p)),
            'begins as it should',
            'begins as none does',
          );
        },
      };
    }
    case 'is none of':
    case 'is one of': {
      const values = new Set(of.values.map(comparable));
      const wanted = of.check === 'is one of';
      return {
        of,
        run: (v) =>
          say(
            values.has(comparable(v)) === wanted,
            wanted ? 'is on its list' : 'is not on the list of forbidden values',
            wanted ? 'is not on its list' : 'is a forbidden value',
          ),
      };
    }
    case 'does not match': {
      const pattern = new RegExp(of.pattern, 'u');
      return { of, run: (v) => say(!pattern.test(v), 'in its usual form', 'not in its usual form') };
    }
    case 'entropy':
      return {
        of,
        run: (v) => {
          const bits = entropy(v);
          return say(
            bits >= of.from,
            `as mixed as chance (${bits.toFixed(1)} bits a sign)`,
            `too even for chance (${bits.toFixed(1)} bits a sign)`,
          );
        },
      };
  }
}

const say = (passed: boolean, yes: string, no: string): CheckResult => ({ passed, says: passed ? yes : no });

/** The step a result is worth; `undefined` when it rules the value out. */
export function stepOf(check: Check, result: CheckResult): Step | undefined {
  if (result.passed) return { words: result.says, steps: check.passes };
  return check.fails === 'drop' ? undefined : { words: result.says, steps: check.fails };
}

/** Shannon's entropy of the signs, in bits a sign. */
export function entropy(value: string): number {
  const counts = new Map<string, number>();
  for (const c of value) counts.set(c, (counts.get(c) ?? 0) + 1);
  let bits = 0;
  for (const n of counts.values()) bits -= (n / value.length) * Math.log2(n / value.length);
  return bits;
}

/** Whether the digits of a value hold a date where the layout has d, m and y. Two digits of a year fit any century. */
export function holdsDate(value: string, layout: string): boolean {
  const digits = digitsOf(value);
  if (digits.length < layout.length) return false;
  let day = '';
  let month = '';
  let year = '';
  for (let i = 0; i < layout.length; i++) {
    if (layout[i] === 'd') day += digits[i];
    else if (layout[i] === 'm') month += digits[i];
    else if (layout[i] === 'y') year += digits[i];
  }
  const d = Number(day);
  const m = Number(month);
  // A year of two digits: 00 is a leap year in 2000.
  const y = year === '' ? 2000 : year.length === 2 ? (Number(year) % 4 === 0 ? 2000 : 2001) : Number(year);
  if (m < 1 || m > 12 || d < 1 || (year.length === 4 && (y < 1880 || y > 2100))) return false;
  return (
    d <=
    (m === 2
      ? y % 4 === 0 && (y % 100 !== 0 || y % 400 === 0)
        ? 29
        : 28
      : [4, 6, 9, 11].includes(m)
        ? 30
        : 31)
  );
}
