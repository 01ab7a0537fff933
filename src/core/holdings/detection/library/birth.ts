import type { BuiltIn } from '../detector/detector.ts';
import { bounded } from './identity-number.ts';
import { list } from './list.ts';

const BIRTH = list(`
born, born on, was born, birth, date of birth, birth date, birthdate, birthday, dob, d o b, birth day, birthday is
date of birth is, født, født den, født d, fødselsdato, fødselsdag, fødselsdag den, fødselsdag d, fødselsdatoen
fødselsdagen, fdt, fødsdato, født i, född, född den, född i, födelsedatum, födelsedag, födelsedatumet, födelsetid
föddes, fdat, geboren, geboren am, geborene, geburtsdatum, geburtstag, geburtsdat, gebdatum, geb, geb am, geb dat
geb datum, gebdat, wurde geboren, geboortedatum, geboren op, né le, née le, nacido, nacida, data di nascita
fecha de nacimiento, data de nascimento, syntymäaika, syntynyt, data urodzenia, ur, date de naissance, datum narození
född år, bday
`);
const OTHER_DATES = list(`
date, dato, datum, due, expires, expiry, valid, valid until, issued, udstedt, gyldig, gyldig til, utfärdad,
giltig, ausgestellt, gültig, gültig bis, departure, arrival, afgang, ankomst, avgång, abfahrt, ankunft,
sailing, sent, sendt, skickat, gesendet, created, oprettet, skapad, erstellt, updated, modified, opdateret,
uppdaterad, aktualisiert, deadline, frist, from, fra, från, von, to, til, till, bis, since, siden, sedan,
seit, hired, started, ansat, anställd, eingestellt, invoice, faktura, rechnung, order, ordre, bestellung,
signed, underskrevet, meeting, møde, möte, termin, on, den, am, published, version, paid, betalt, delivery,
booked, arrived, arrives, departed, departs, ankom, ankommer, afrejse, avresa, moved, flyttede, flyttade, visited, checked in
`);

const MONTH =
  '(?:[Jj]an(?:uary|uar|uari)?|JAN|[Ff]eb(?:ruary|ruar|ruari)?|FEB|[Mm]ar(?:ch|ts|s)?|MAR|[Mm]ärz|[Aa]pr(?:il)?|APR|[Mm]a[yji]|MAY|[Jj]un[ei]?|JUN|[Jj]ul[yi]?|JUL|[Aa]ug(?:ust|usti)?|AUG|[Ss]ep(?:t|tember)?|SEP|[Oo][kc]t(?:ober)?|OCT|[Nn]ov(?:ember)?|NOV|[Dd]e[czs](?:ember)?|DEC)\\.?';
// Of a number that goes on they are only the beginning.
const SIX_DIGITS =
  '(?:\\d{2}(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\\d|3[01])|(?:0[1-9]|[12]\\d|3[01])(?:0[1-9]|1[0-2])\\d{2})';
const DATE = bounded(
  `(?:0?[1-9]|[12]\\d|3[01])[/.](?:0?[1-9]|1[0-2])[ -](?:19|20)\\d{2}|(?:0?[1-9]|[12]\\d|3[01])/(?:0?[1-9]|1[0-2])-\\d{2}|(?:0?[1-9]|[12]\\d|3[01])\\. (?:0?[1-9]|1[0-2])\\. (?:19|20)\\d{2}|(?:0?[1-9]|[12]\\d|3[01])([./-])(?:0?[1-9]|1[0-2])\\1(?:(?:18|19|20)\\d{2}|\\d{2})|(?:0?[1-9]|1[0-2])/(?:0?[1-9]|[12]\\d|3[01])/(?:19|20)\\d{2}|(?:18|19|20)\\d{2}([-/.])(?:0[1-9]|1[0-2])\\2(?:0[1-9]|[12]\\d|3[01])|(?:19|20)\\d{2}(?:0[1-9]|1[0-2])(?:0[1-9]|[12]\\d|3[01])|${SIX_DIGITS}(?![-+]\\d)|(?:0?[1-9]|[12]\\d|3[01])(?:st|nd|rd|th|\\.|:[ea])?(?: of)?[ -]${MONTH},?[ -](?:18|19|20)\\d{2}|${MONTH} (?:0?[1-9]|[12]\\d|3[01])(?:st|nd|rd|th)?,? (?:18|19|20)\\d{2}`,
);

export const DATE_OF_BIRTH: BuiltIn = {
  kind: 'pattern',
  id: 'date-of-birth',
  name: 'Date of birth',
  category: 'identity',
  source: 'ISO 8601-1 and the written dates of English, Danish, Swedish and German',
  about: 'A date alone is none: it needs a word for birth beside it, or over its column.',
  anchor: { by: 'pattern', pattern: DATE },
  start: -4.5,
  // Six digits are a date only right behind the word.
  checks: [
    { check: 'does not match', pattern: '^\\d{6}$', passes: 0, fails: -3.5 },
    // What was lately is seldom a birth.
    { check: 'does not match', pattern: '^20[2-9]\\d(?!\\d{4}$)|20[2-9]\\d$', passes: 0, fails: -1 },
  ],
  context: [
    { where: 'before', within: 4, words: BIRTH, steps: 11 },
    { where: 'before', within: 40, words: BIRTH, steps: 7.5 },
    // Another date stands between.
    { where: 'before', within: 36, pattern: '(?<!\\d)(?:19|20)\\d\\d(?!\\d)', steps: -3 },
    { where: 'heading', within: 1, words: BIRTH.filter((w) => w.length > 2), steps: 7.5 },
    { where: 'brackets', within: 20, words: BIRTH, steps: 7.5 },
    {
      where: 'after',
      within: 14,
      words: [
        'born',
        'dob',
        'født',
        'född',
        'geboren',
        'birth',
        'fødselsdato',
        'geburtsdatum',
        'födelsedatum',
      ],
      steps: 5,
    },
    {
      where: 'before',
      within: 16,
      words: OTHER_DATES.filter((w) => !['den', 'am', 'on', 'dato', 'datum', 'date'].includes(w)),
      steps: -4,
    },
    { where: 'before', within: 3, pattern: '[*∗]\\s?$', steps: 6.5 },
    { where: 'before', within: 5, pattern: '(?<![\\p{L}\\p{N}])[bf](?:\\. ?|: ?)$', steps: 11 },
    { where: 'heading', within: 1, words: OTHER_DATES, steps: -4 },
    // In brackets behind a name.
    { where: 'before', within: 3, detector: 'person-name', steps: 6.2 },
  ],
  competes: true,
  mask: 'all',
  examples: [
    'Born ⟦12/03/1984⟧',
    'DOB: ⟦1984-03-12⟧',
    'født den ⟦12.03.1984⟧',
    'Geburtsdatum: ⟦12. März 1984⟧',
    'född ⟦1984-03-12⟧ i Halmsund',
    'Date of birth ⟦12 March 1984⟧',
    'geb. ⟦1.4.1990⟧',
    'fødselsdag ⟦3. maj 1977⟧',
    'född ⟦850412⟧ i Lund',
    'Anders Holm, f. ⟦12.03.1984⟧',
    'The claimant Yvette Marchand (⟦2 Feb 1966⟧) was heard.',
    'Fødselsdag d. ⟦15/6 1990⟧',
    'Fødselsdag: ⟦15/6-90⟧',
    'föddes den ⟦3:e maj 1977⟧',
    'geb. ⟦04. 08. 1949⟧',
    '⟦1969-08-30⟧ (d.o.b.)',
    'She was born in Frederikshavn, Denmark, on ⟦12 May 1954⟧.',
  ],
  counterExamples: [
    'Invoice date 12/03/2024',
    'Departure 2024-03-12',
    'on 12 March 2024 we sailed',
    'version 12.03.1984',
    'Signed by Tove Lindqvist (12.03.2026)',
    'Born in Halmsund. Sailing 12/03/2024',
    'gültig bis 12.03.2030',
    'Born in Halmsund, ticket 850412',
    'född 850412-1234',
    'Born 1984, arrived 12/03/2024',
    '[req-8f3a2b] GET /sailings/20241224',
  ],
};
