import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessColumns } from '../tables/table-fields.ts';
import { BASES, NEW_ACTIVITY, SAFEGUARDS, SPECIAL_BASES, type ActivityContent } from './activity.ts';
import {
  ACTIVITY_FIELDS,
  activityRow,
  readActivities,
  recipientOf,
  recipientText,
  type ActivityField,
} from './activity-table.ts';

const NAMES = {
  detectors: new Map([
    ['email', 'E-mail address'],
    ['health-condition', 'Health'],
    ['own-3', 'Name; with a semicolon'],
  ]),
  systems: new Map([
    ['1', 'Booking'],
    ['2', 'Crew \\ office'],
  ]),
};
const FIELDS = Object.keys(ACTIVITY_FIELDS) as ActivityField[];
const COLUMNS = Object.fromEntries(FIELDS.map((f, i) => [f, i])) as Record<ActivityField, number>;

const keys = <T extends object>(of: T) => fc.constantFrom(...(Object.keys(of) as (keyof T & string)[]));
/** A line as people type them: without space at its ends. */
const line = (most: number) =>
  fc
    .string({ unit: fc.constantFrom('a', 'Ø', ' ', ';', '\\', '"', ',', '1'), minLength: 1, maxLength: most })
    .map((t) => t.trim())
    .filter((t) => t !== '');
const anyActivity: fc.Arbitrary<ActivityContent> = fc.record({
  name: line(20),
  role: fc.constantFrom('controller', 'processor'),
  purpose: line(30),
  basis: keys(BASES),
  special: keys(SPECIAL_BASES),
  offences: fc.oneof(fc.constant(''), line(10)),
  people: fc.array(line(10), { maxLength: 3 }),
  data: fc.subarray([...NAMES.detectors.keys()]),
  recipients: fc.array(
    fc.record({
      name: line(12),
      country: fc.constantFrom('', 'US', 'DK'),
      safeguard: keys(SAFEGUARDS),
    }),
    { maxLength: 3 },
  ),
  retention: fc.oneof(fc.constant(''), line(10)),
  measures: fc.oneof(fc.constant(''), line(10)),
  systems: fc.subarray([...NAMES.systems.keys()]),
  owner: fc.oneof(fc.constant(''), line(10)),
  review: fc.constantFrom('', '2026-11-20', '2027-02-28'),
});

describe('records as a table', () => {
  it('are read as they were written', () =>
    fc.assert(
      fc.property(
        fc.uniqueArray(anyActivity, { selector: (a) => a.name.toLowerCase(), maxLength: 4 }),
        (all) => {
          const rows = all.map((a) => activityRow(a, NAMES));
          const { activities, faults } = readActivities(rows, COLUMNS, NAMES);
          expect(faults).toEqual([]);
          expect(activities).toEqual(all);
        },
      ),
    ));

  it('are found by the headings they are written with', () =>
    expect(
      guessColumns<ActivityField>(
        ACTIVITY_FIELDS,
        Object.values(ACTIVITY_FIELDS).map((f) => f.words),
      ),
    ).toEqual(COLUMNS));

  it('keep what the table has no column for', () => {
    const before = { ...NEW_ACTIVITY, name: 'Selling', purpose: 'sell', owner: 'Kim' };
    const { activities } = readActivities(
      [
        ['Selling', 'Robin'],
        ['New', 'Sam'],
      ],
      { name: 0, owner: 1 },
      NAMES,
      new Map([['selling', before]]),
    );
    expect(activities).toEqual([
      { ...before, owner: 'Robin' },
      { ...NEW_ACTIVITY, name: 'New', owner: 'Sam' },
    ]);
  });

  it('tell every cell that cannot be taken, and take that row for nothing', () => {
    const row = (cells: Partial<Record<ActivityField, string>>) => FIELDS.map((f) => cells[f] ?? '');
    const { activities, faults } = readActivities(
      [
        row({ name: 'Good', basis: 'Art. 6(1)(f)', special: 'art. 9(2)(h)', data: 'e-mail address; health' }),
        row({ name: 'Bad', basis: 'because', data: 'teeth', systems: 'booking; moon' }),
        row({ purpose: 'nameless' }),
        row({ name: 'good' }),
        row({ name: 'Given', recipients: 'X | Denmark' }),
        row({ name: 'Late', review: 'soon' }),
        row({}),
      ],
      COLUMNS,
      NAMES,
    );
    expect(activities).toMatchObject([
      { basis: 'legitimate interests', special: 'health care', data: ['email', 'health-condition'] },
    ]);
    expect(faults.map((f) => [f.row, FIELDS[f.column ?? -1]])).toEqual([
      [1, 'basis'],
      [1, 'data'],
      [1, 'systems'],
      [2, 'name'],
      [3, 'name'],
      [4, 'recipients'],
      [5, 'review'],
    ]);
  });

  it.each([
    [
      'Lookwell Ltd | US | standard clauses',
      { name: 'Lookwell Ltd', country: 'US', safeguard: 'standard clauses' },
    ],
    ['Somebody', { name: 'Somebody', country: '', safeguard: 'none' }],
    ['A | DK', { name: 'A', country: 'DK', safeguard: 'none' }],
  ] as const)('a recipient reads %s', (text, recipient) => {
    expect(recipientOf(text)).toEqual(recipient);
    expect(recipientText(recipient)).toBe(text);
  });
  it.each(['', '| US', 'A | usa', 'A | US | luck', 'A | US | none | more'])('%j is no recipient', (text) =>
    expect(recipientOf(text)).toBeUndefined(),
  );
});
