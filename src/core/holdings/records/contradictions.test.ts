import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseLens } from '../../lens/lens-text.ts';
import { ActivityContent, NEW_ACTIVITY } from './activity.ts';
import { contradictions, heightened, needsSafeguard, type FoundInSystem } from './contradictions.ts';

const TODAY = '2026-11-29';
const system = (more: Partial<FoundInSystem> = {}): FoundInSystem => ({
  id: '1',
  name: 'Port',
  hasSteward: true,
  sources: ['7'],
  data: new Map([['email', 3]]),
  items: 10,
  ...more,
});
const activity = (more: Partial<ActivityContent> = {}, id = 'a') => ({
  id,
  content: { ...NEW_ACTIVITY, name: 'Boarding', systems: ['1'], data: ['email'], ...more },
});
const told = (activities: ReturnType<typeof activity>[], systems: readonly FoundInSystem[]) =>
  contradictions(activities, systems, (d) => d, TODAY);
const kinds = (activities: ReturnType<typeof activity>[], systems: readonly FoundInSystem[]) =>
  told(activities, systems).map((c) => c.kind);

describe('records and estate', () => {
  it.each<[string, ReturnType<typeof activity>[], FoundInSystem[], string[]]>([
    ['agree', [activity()], [system()], []],
    [
      'a system holds health data that no activity there names',
      [activity()],
      [
        system({
          data: new Map([
            ['email', 3],
            ['health-condition', 2],
          ]),
        }),
      ],
      ['unnamed'],
    ],
    [
      'one that another activity names there is named',
      [activity(), activity({ data: ['health-condition'], special: 'health care' }, 'b')],
      [
        system({
          data: new Map([
            ['email', 3],
            ['health-condition', 2],
          ]),
        }),
      ],
      [],
    ],
    [
      'ordinary data need not be named one by one',
      [activity()],
      [
        system({
          data: new Map([
            ['email', 3],
            ['phone', 9],
          ]),
        }),
      ],
      [],
    ],
    [
      'a system with data that no activity uses',
      [activity({ systems: ['2'] })],
      [system(), system({ id: '2' })],
      ['unrecorded'],
    ],
    ['data that was never found', [activity({ data: ['email', 'iban'] })], [system()], ['never found']],
    [
      'nothing is said of a system that was never read',
      [activity({ data: ['email', 'iban'] })],
      [system({ items: 0, data: new Map() })],
      [],
    ],
    [
      'special data without a reason of Art. 9',
      [activity({ data: ['email', 'trade-union'] })],
      [
        system({
          data: new Map([
            ['email', 1],
            ['trade-union', 1],
          ]),
        }),
      ],
      ['basis'],
    ],
    [
      'offences without a law',
      [activity({ data: ['email', 'criminal-offence'] })],
      [
        system({
          data: new Map([
            ['email', 1],
            ['criminal-offence', 1],
          ]),
        }),
      ],
      ['basis'],
    ],
    [
      'a third country without a safeguard',
      [activity({ recipients: [{ name: 'Lookwell', country: 'US', safeguard: 'none' }] })],
      [system()],
      ['transfer'],
    ],
    [
      'one with standard clauses is safe',
      [activity({ recipients: [{ name: 'Lookwell', country: 'US', safeguard: 'standard clauses' }] })],
      [system()],
      [],
    ],
    [
      'a country with adequate protection is safe',
      [activity({ recipients: [{ name: 'Tarn', country: 'GB', safeguard: 'none' }] })],
      [system()],
      [],
    ],
    ['an activity in no system', [activity({ systems: ['9'] })], [], ['no system']],
    ['a system that nobody looks after', [activity()], [system({ hasSteward: false })], ['no steward']],
    ['a review that is past', [activity({ review: '2026-11-28' })], [system()], ['review due']],
    ['a review that is due today is not past', [activity({ review: TODAY })], [system()], []],
  ])('%s', (_, activities, systems, expected) => expect(kinds(activities, systems)).toEqual(expected));

  it('open to the items they are about', () => {
    const [found] = told(
      [activity()],
      [system({ sources: ['7', '8'], data: new Map([['health-condition', 2]]) })],
    );
    expect(found?.lens).toBe('data one of "health-condition" and (place in "7" or place in "8")');
  });

  it('are told once each, with a lens that can be read, and end when they are mended', () => {
    const Data = fc.subarray([
      'email',
      'health-condition',
      'trade-union',
      'criminal-offence',
      'child',
      'iban',
    ]);
    const anyActivity = fc.record({
      data: Data,
      special: fc.constantFrom('none' as const, 'health care' as const),
      systems: fc.subarray(['1', '2']),
    });
    const anySystem = (id: string) =>
      fc
        .record({ data: Data, hasSteward: fc.boolean() })
        .map(({ data, hasSteward }) =>
          system({ id, name: id, hasSteward, data: new Map(data.map((d) => [d, 1])) }),
        );
    fc.assert(
      fc.property(
        fc.array(anyActivity, { maxLength: 4 }),
        anySystem('1'),
        anySystem('2'),
        (all, one, two) => {
          const activities = all.map((a, i) => activity(a, `a${i}`));
          const found = told(activities, [one, two]);
          expect(new Set(found.map((c) => c.key)).size).toBe(found.length);
          for (const c of found) if (c.lens) expect(() => parseLens(c.lens ?? '')).not.toThrow();
          // Named in an activity there, what was unnamed is told no more.
          for (const c of found.filter((x) => x.kind === 'unnamed')) {
            const [, id = '', detector = ''] = c.key.split(' ');
            const mended = told(
              [
                ...activities,
                activity(
                  { data: [detector], systems: [id], special: 'health care', offences: 'a law' },
                  'new',
                ),
              ],
              [one, two],
            );
            expect(mended.some((m) => m.key === c.key)).toBe(false);
          }
        },
      ),
    );
  });
});

it.each([
  ['health-condition', 'a special category, Art. 9(1)'],
  ['gb-nhs', undefined],
  ['criminal-offence', 'data on criminal offences, Art. 10'],
  ['child', 'data of children, recital 38'],
  ['email', undefined],
  ['never-there', undefined],
])('%s is %s', (detector, words) => expect(heightened(detector)).toBe(words));

it.each([
  ['DK', false],
  ['NO', false],
  ['GB', false],
  ['US', true],
  ['IN', true],
  ['', false],
])('to %s a safeguard is needed: %s', (country, is) => expect(needsSafeguard(country)).toBe(is));

it('refuses a record that cannot be one, by its field', () => {
  const faults = (more: object) =>
    ActivityContent.safeParse({ ...NEW_ACTIVITY, name: 'X', ...more }).error?.issues.map((i) =>
      i.path.join('.'),
    );
  expect(faults({})).toBeUndefined();
  expect(faults({ name: '' })).toEqual(['name']);
  expect(faults({ recipients: [{ name: 'A', country: 'Denmark', safeguard: 'none' }] })).toEqual([
    'recipients.0.country',
  ]);
  expect(faults({ review: 'soon' })).toEqual(['review']);
});
