import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { itemVocabulary } from '../../holdings/offers.ts';
import { parseLens } from '../../lens/lens-text.ts';
import { newRetentionRule, type RetentionNames, type RetentionRuleDraft } from '../rules/retention-rule.ts';
import { FOR_GOOD, NOT_CHOSEN } from '../rules/term.ts';
import { readSchedule, SCHEDULE_FIELDS, scheduleRow, type ScheduleField } from './schedule-table.ts';

const names: RetentionNames = {
  items: itemVocabulary({
    sources: new Map([['3', 'Port share']]),
    detectors: new Map([['invoice', 'Invoice']]),
    levels: new Map(),
    levelRules: new Map(),
  }),
  sources: [
    { value: '3', words: 'Port share' },
    { value: '4', words: 'Crew; old' },
  ],
  groups: [
    { value: 'unit:Port', words: 'Port' },
    { value: 'group:Deck; night', words: 'Deck; night' },
  ],
  clocks: [{ value: 'clock:7', words: 'the sailing’s arrival' }],
};
const FIELDS = Object.keys(SCHEDULE_FIELDS) as ScheduleField[];
const all = Object.fromEntries(FIELDS.map((f, i) => [f, i]));
const only = (...fields: readonly ScheduleField[]) => Object.fromEntries(fields.map((f, i) => [f, i]));

const text = fc.stringMatching(/^[A-Za-z ;,.=§\\]{0,20}$/).map((t) => t.trim());
const rule: fc.Arbitrary<RetentionRuleDraft> = fc.record({
  name: fc.stringMatching(/^[A-Z][a-z ]{0,9}[a-z]$/),
  lens: fc.constantFrom(
    parseLens('everything'),
    parseLens('document one of "invoice" and people at least 3'),
  ),
  places: fc.uniqueArray(fc.constantFrom('3', '3/a/b', '4', '4/x y', '*/Manifests/20*'), { maxLength: 3 }),
  of: fc.uniqueArray(fc.constantFrom('unit:Port', 'group:Deck; night', 'tove@line.example'), {
    maxLength: 2,
  }),
  notOf: fc.uniqueArray(fc.constantFrom('unit:Port', 'osei@line.example'), { maxLength: 2 }),
  keep: fc.oneof(
    fc.constantFrom<RetentionRuleDraft['keep']>(FOR_GOOD, NOT_CHOSEN),
    fc.record({ count: fc.integer({ min: 1, max: 999 }), unit: fc.constantFrom('days', 'months', 'years') }),
  ),
  after: fc.constantFrom('created', 'changed', 'clock:7'),
  yearEnd: fc.boolean(),
  unknown: fc.constantFrom('created', 'changed', 'never begins'),
  then: fc.constantFrom('nothing', 'tell', 'ask', 'delete', 'archive', 'anonymise'),
  answerDays: fc.integer({ min: 1, max: 365 }),
  silent: fc.constantFrom('officer', 'delete', 'keep'),
  agree: fc.constantFrom('one', 'large', 'two'),
  undoDays: fc.integer({ min: 0, max: 365 }),
  order: fc.constant(null),
  beyond: fc.constant(''),
  because: text,
  duty: text,
});

describe('a schedule as a table', () => {
  it('is read as it was written', () => {
    fc.assert(
      fc.property(fc.uniqueArray(rule, { selector: (r) => r.name.toLowerCase(), maxLength: 5 }), (rules) => {
        const read = readSchedule(
          rules.map((r) => scheduleRow(r, names)),
          all,
          names,
        );
        expect(read).toEqual({ rules, faults: [] });
      }),
    );
  });

  it.each<readonly [ScheduleField, string, Partial<RetentionRuleDraft>]>([
    ['keep', '90 days', { keep: { count: 90, unit: 'days' } }],
    ['keep', '6 Months', { keep: { count: 6, unit: 'months' } }],
    ['keep', '10y', { keep: { count: 10, unit: 'years' } }],
    ['keep', 'permanently', { keep: FOR_GOOD }],
    ['after', "The sailing's arrival", { after: 'clock:7' }],
    ['after', 'created', { after: 'created' }],
    ['then', 'Delete', { then: 'delete' }],
    ['yearEnd', 'X', { yearEnd: true }],
    ['places', 'port share › Manifests; */Old', { places: ['3/Manifests', '*/Old'] }],
    ['of', 'port; TOVE@line.example', { of: ['unit:Port', 'tove@line.example'] }],
  ])('reads %s as people write it: %s', (field, cell, wanted) => {
    const { rules, faults } = readSchedule([['A rule', cell]], only('name', field), names);
    expect(faults).toEqual([]);
    expect(rules).toEqual([{ ...newRetentionRule('A rule'), ...wanted }]);
  });

  it.each<readonly [ScheduleField, string, RegExp]>([
    ['keep', 'a while', /^Such as 90 days/],
    ['keep', '0 days', /At least 1/],
    ['after', 'the full moon', /^One of: the last change, its creation, the sailing/],
    ['then', 'burn', /^One of: nothing; tell the owner/],
    ['places', 'Nowhere/x', /“Nowhere\/x”: Begin with the name of a source/],
    ['of', 'nobody', /no unit, no group/],
    ['lens', 'people at', /./],
    ['lens', 'document one of "gone"', /there is no “gone” any more/],
    ['yearEnd', 'perhaps', /Yes, or nothing/],
    ['answerDays', '400', /At most a year/],
    ['undoDays', 'two', /whole number/],
    ['duty', 'x'.repeat(201), /./],
  ])('tells the cell of %s that cannot be taken: %s', (field, cell, words) => {
    const { faults } = readSchedule([['A rule', cell]], only('name', field), names);
    expect(faults).toMatchObject([{ row: 0, column: 1, words: expect.stringMatching(words) as string }]);
  });

  it('leaves of a rule that is there what the table does not tell, and tells names that are missing or twice', () => {
    const known = { ...newRetentionRule('Invoices'), undoDays: 3, duty: 'Books Act' };
    const { rules, faults } = readSchedule(
      [
        ['INVOICES', '5 years'],
        ['', '1 year'],
        ['Invoices', '6 years'],
      ],
      only('name', 'keep'),
      names,
      new Map([['invoices', known]]),
    );
    expect(rules[0]).toEqual({ ...known, name: 'INVOICES', keep: { count: 5, unit: 'years' } });
    expect(faults).toEqual([
      { row: 1, column: 0, words: 'Give it a name.' },
      { row: 2, column: 0, words: 'It stands in row 2, too.' },
    ]);
  });
});
