import { expect, it, test } from 'vitest';
import fc from 'fast-check';
import { dayText, parseDay } from './day.ts';

test.each([
  ['20 Nov 2026', '2026-11-20'],
  ['20 november 2026', '2026-11-20'],
  [' 2. Mar. 2026 ', '2026-03-02'],
  ['2026-11-20', '2026-11-20'],
  ['2026-1-5', '2026-01-05'],
  ['20.11.2026', '2026-11-20'],
  ['1/2/2026', '2026-02-01'],
  ['29 Feb 2028', '2028-02-29'],
  ['29 Feb 2026', undefined],
  ['31.4.2026', undefined],
  ['13/13/2026', undefined],
  ['Nov 2026', undefined],
  ['20 Nox 2026', undefined],
  ['20 Nov 26', undefined],
  ['', undefined],
])('“%s” is %s', (text, iso) => expect(parseDay(text)).toBe(iso));

it('reads back every day that it writes', () =>
  fc.assert(
    fc.property(
      fc.date({ min: new Date('1900-01-01'), max: new Date('2199-12-31'), noInvalidDate: true }),
      (at) => {
        const iso = at.toISOString().slice(0, 10);
        expect(parseDay(dayText(iso))).toBe(iso);
        expect(parseDay(iso)).toBe(iso);
      },
    ),
  ));

it('leaves alone what is no day', () => expect(dayText('soon')).toBe('soon'));
