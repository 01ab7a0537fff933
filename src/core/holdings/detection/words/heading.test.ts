import { describe, expect, it } from 'vitest';
import { Engine } from '../engine/engine.ts';
import { builtInDetectors } from '../library/library.ts';
import { headingTokens } from './heading.ts';

const engine = new Engine(builtInDetectors());

/** What is found in one cell under a heading. */
function foundUnder(heading: string, value: string): readonly string[] {
  const text = `1\t${value}\n`;
  const segments = [{ start: 2, end: 2 + value.length, place: { cell: 'B2' }, heading, record: 0 }];
  return engine.detect({ text, segments }).findings.map((f) => f.detector);
}

describe('a heading', () => {
  it.each([
    ['dateOfBirth', [['date', 'of', 'birth']]],
    ['CPRNumber', [['cpr', 'number']]],
    ['Reg. og kontonr.', [['reg'], ['kontonr']]],
    ['Phone (work)', [['phone'], ['work']]],
    ['E-mail / mobil', [['e', 'mail'], ['mobil']]],
    ['', []],
  ])('%s is read as %j', (heading, words) => {
    expect(headingTokens(heading).map((name) => name.map((t) => t.word))).toEqual(words);
  });

  it.each([
    ['Department manager', 'Bo Hansen', ['person-name']],
    ['Employee status', 'Active', []],
    ['Passenger class', 'Economy', []],
    ['First name(s)', 'Zbigniew', ['person-name']],
    ['passenger 2', 'Wrzosek', ['person-name']],
    ['name', 'Marine Paint', []],
    ['name', 'Tove Lindqvist', ['person-name']],
    ['product name', 'Tove Lindqvist', []],
    ['name of the ship', 'Lady Hamilton', []],
    ['passport number', 'A09123456', ['passport']],
    ['order number', '4556737586899855', []],
    ['card number / order', '4556737586899855', ['payment-card']],
    ['Order CPR', '070761-4285', ['dk-cpr']],
    ['tax reference', '1955839661', ['gb-utr']],
    ['reference', '1955839661', []],
  ])('%s has %s as %j', (heading, value, found) => {
    expect(foundUnder(heading, value)).toEqual(found);
  });
});

describe('a field that is read whole', () => {
  it.each([
    ['password', 'hav3nFlod22', ['password']],
    ['apiKey', 'kJ8s-20xPq77Zr', ['password']],
    ['password', 'required', []],
    ['password hint', 'mother’s dog', []],
    ['fagforening', '3F', ['trade-union']],
    ['Fagforening', 'nej', []],
    ['union', 'none', []],
    ['credit union', 'Halmsund Savings', []],
    ['Fault diagnosis', 'Worn bearing', []],
    ['Patient diagnosis', 'Bechterew', ['health-condition']],
    ['smtp_password', 'hav3nFlod22', ['password']],
    ['trossamfund', 'Kvækerne', ['religious-belief']],
    ['religion', 'n/a', []],
    ['diagnosis', 'E11.9', ['icd-10']],
    ['Diagnosis', 'Bechterew', ['health-condition']],
    ['diagnosis date', 'March', []],
    ['child age', '7', ['child-age']],
    ['child age', '41', []],
  ])('%s holds %s: %j', (heading, value, found) => {
    expect(foundUnder(heading, value)).toEqual(found);
  });

  it('is no part of another detector’s text', () => {
    const own = new Engine([
      {
        ...(builtInDetectors()[0] as ReturnType<typeof builtInDetectors>[number]),
        id: 'crew-code',
        anchor: {
          by: 'pattern',
          pattern: 'CR-\\d{4}',
          ignoreCase: true,
          field: { headings: ['crew code'], pattern: '[a-z]{2}\\d{2}' },
        },
        start: 3,
        checks: [],
        context: [],
      },
    ]);
    const under = (heading: string, value: string) =>
      own
        .detect(
          { text: value, segments: [{ start: 0, end: value.length, place: {}, heading }] },
          { reveal: true },
        )
        .findings.map((f) => f.value);
    expect(under('Crew code', 'AB12')).toEqual(['AB12']);
    expect(under('Crew code', ' ab12 ')).toEqual(['ab12']);
    expect(under('Crew code', 'ab12 x')).toEqual([]);
    expect(under('Cabin', 'ab12')).toEqual([]);
    expect(under('Cabin', 'cr-1234')).toEqual(['cr-1234']);
  });
});

describe('labels in a text', () => {
  const found = (text: string) => engine.detect({ text, segments: [] }).findings.map((f) => f.detector);

  it.each([
    ['phoneNumber: 22 45 18 90', ['phone']],
    ['dateOfBirth=1978-03-30', ['date-of-birth']],
    ['Foedselsdato: 1978-03-30', ['date-of-birth']],
    ['Koerekort nr. 12345678', ['driving-licence']],
    ['personal_code: 36805280109', ['ee-isikukood']],
    ['code: 36805280109', []],
    ['Hun lider af brystkraeft.', ['health-condition']],
    ['Der Bewerber ist schwerbehoert.', []],
  ])('%s', (text, detectors) => {
    expect(found(text)).toEqual(detectors);
  });
});
