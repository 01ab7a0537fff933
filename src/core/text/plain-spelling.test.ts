import { expect, it } from 'vitest';
import { plainSpellings } from './plain-spelling.ts';

it.each([
  ['fødselsdato', ['foedselsdato', 'fodselsdato']],
  ['kørekort', ['koerekort', 'korekort']],
  ['födelsedatum', ['foedelsedatum', 'fodelsedatum']],
  ['führerschein', ['fuehrerschein', 'fuhrerschein']],
  ['bopæl', ['bopael']],
  ['straße', ['strasse']],
  ['numéro de sécurité sociale', ['numero de securite sociale']],
  ['på', ['paa']],
  ['Ärztin', ['Aerztin', 'Arztin']],
  ['Øre*', ['Oere*']],
  ['för', ['foer']],
])('%s is written %j', (words, spellings) => {
  expect(plainSpellings(words)).toEqual(spellings);
});

it('leaves alone what is plain, and what is of another script', () => {
  expect(plainSpellings('date of birth')).toEqual([]);
  expect(plainSpellings('身分證')).toEqual([]);
  expect(plainSpellings('ημερομηνία')).toEqual([]);
});
