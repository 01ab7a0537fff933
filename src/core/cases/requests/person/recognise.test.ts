import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { table } from '../../../../../tests/request-tables.ts';
import { recognise, type ReadDocument, type TraitSpan } from './recognise.ts';
import { dayKey, nameKey, Subject, traitKey, type Trait } from './subject.ts';

const MAJA = Subject.parse({
  ...{ name: 'Maja Holmqvist', emails: ['maja@post.example'], phones: ['+46 70 174 06 08'] },
  ...{ born: '1984-03-09', address: 'Hamngatan 14, 302 44 Halmsund', numbers: ['BS482910'] },
});

/** A document in which ⟦trait:value⟧ marks what a detector found. */
function marked(text: string): ReadDocument {
  const found: TraitSpan[] = [];
  let plain = '';
  let at = 0;
  for (const m of text.matchAll(/⟦([^:⟧]+):([^⟧]*)⟧/g)) {
    plain += text.slice(at, m.index);
    found.push({ trait: m[1] as Trait, start: plain.length, end: plain.length + (m[2] ?? '').length });
    plain += m[2] ?? '';
    at = m.index + m[0].length;
  }
  return { text: plain + text.slice(at), segments: [], found };
}

describe('in running text', () => {
  test.each<[string, string | undefined]>([
    ['Write to maja@post.example please', 'certain'],
    ['Write to MAJA@post.example, today', 'certain'],
    ['Write to anna.maja@post.example', undefined],
    ['Write to maja@post.example.org', undefined],
    ['Booking BS 482 910', 'certain'],
    ['Booking BS4829105', undefined],
    ['⟦name:Maja Holmqvist⟧ sailed', 'ask'],
    ['Holmqvist, Maja sailed', 'ask'],
    ['MAJA HOLMQVIST, ⟦birth date:9 March 1984⟧', 'certain'],
    ['⟦name:Maja Holmqvist⟧, ⟦birth date:21 July 1962⟧', 'namesake'],
    ['⟦name:Maja Holmqvist⟧ at ⟦phone:070-174 06 08⟧', 'certain'],
    ['call 0046 70 1740608', 'ask'],
    ['⟦name:Maja Holmqvist⟧, ⟦address:Hamngatan 14⟧', 'certain'],
    ['⟦name:Majken Holmqvist⟧', undefined],
    ['Holmqvist alone', undefined],
    ['', undefined],
  ])('%j: %s', (text, sure) => expect(recognise(MAJA, marked(text)).sure).toBe(sure));
});

describe('in a table', () => {
  const HEAD = ['Name', 'E-mail', 'Born', 'Remark'];
  it('knows her row, keeps a namesake apart, and asks where only the name is hers', () => {
    const found = recognise(
      MAJA,
      table(HEAD, [
        ['Per Alm', 'per@post.example', '1980-01-01', ''],
        ['Maja Holmqvist', 'maja@post.example', '1984-03-09', 'late'],
        ['Maja Holmqvist', 'other@post.example', '1962-07-21', ''],
        ['Maja Holmqvist', '', '', ''],
        ['Maja Holmqvist', 'third@post.example', '', ''],
      ]),
    );
    expect(found.parts.map((p) => [p.record, p.sure])).toEqual([
      [2, 'certain'],
      [3, 'namesake'],
      [4, 'ask'],
      [5, 'ask'],
    ]);
    expect(found.records).toBe(5);
    expect(found.parts[3]?.bearer).toBe('third@post.example');
  });

  it('asks where her address stands beside another’s name', () => {
    const found = recognise(MAJA, table(HEAD, [['Olle Holmqvist', 'maja@post.example', '2015-05-05', '']]));
    expect(found.parts).toMatchObject([{ sure: 'ask', bearer: 'Olle Holmqvist' }]);
  });

  it('takes given and family name in cells of their own for one name', () => {
    const found = recognise(MAJA, table(['Given', 'Family', 'Born'], [['Maja', 'Holmqvist', '1984-03-09']]));
    expect(found.parts).toMatchObject([{ record: 1, sure: 'certain', by: ['name', 'birth date'] }]);
  });

  it('finds each row that has one of her strong values, and no other', () => {
    const cell = fc.constantFrom(
      'Per Alm',
      'maja@post.example',
      'BS482910',
      'x@y.example',
      '1984-03-09',
      'Halmsund',
      '',
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constant(''), cell, cell, cell), { maxLength: 12 }), (rows) => {
        const certain = recognise(MAJA, table(['Who', 'A', 'B', 'C'], rows)).parts.filter(
          (p) => p.sure === 'certain',
        );
        const strong = rows.flatMap((r, i) =>
          r.includes('maja@post.example') || r.includes('BS482910') ? [i + 1] : [],
        );
        expect(certain.map((p) => p.record)).toEqual(strong);
      }),
    );
  });
});

test.each<[string, string]>([
  ['1984-03-09', '1984-03-09'],
  ['9.3.1984', '1984-03-09'],
  ['09/03/1984', '1984-03-09'],
  ['9 March 1984', '1984-03-09'],
  ['9. marts 1984', '1984-03-09'],
  ['9 mai 1984', '1984-05-09'],
  ['9 Dezember 1984', '1984-12-09'],
  ['19840309', '1984-03-09'],
  ['31.2.1984', ''],
  ['soon', ''],
])('the day %s is %s', (text, key) => expect(dayKey(text)).toBe(key));

test.each([
  ['Per Alm', 'Alm, Per'],
  ['Dr. Per Alm', 'per ALM'],
  ['Søren Åkesson', 'Soren Akesson'],
  ['Mr Alm’s', 'Alm'],
])('%s and %s are one name', (a, b) => expect(nameKey(a)).toBe(nameKey(b)));

test('what is too short tells nobody', () => {
  expect(traitKey('phone', '12 34')).toBe('');
  expect(traitKey('number', 'A-12')).toBe('');
  expect(traitKey('number', 'A-1234')).toBe('a1234');
});
