import { expect, it } from 'vitest';
import { checkDigit } from './check-digit.ts';
import { CHECK_DIGITS } from './check-digit-list.ts';
import { builtInDetectors } from '../library/library.ts';

it('names check digits that there are, and all that the library asks for', () => {
  for (const by of CHECK_DIGITS) expect(checkDigit(by), by).toBeDefined();
  const asked = builtInDetectors().flatMap((d) =>
    d.checks.flatMap((c) => (c.check === 'check digit' ? [c.by] : [])),
  );
  expect(asked.filter((by) => !CHECK_DIGITS.includes(by))).toEqual([]);
});
