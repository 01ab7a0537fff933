import { z } from 'zod';
import { comparable, digitsOf } from '../../../text/mask.ts';

const Short = z.string().trim().max(200, 'At most 200 characters');

/** Whom a request is about: all by which what is held can be recognised as theirs. */
export const Subject = z.strictObject({
  /** As they write it, given name first. */
  name: Short.default(''),
  /** Names they had, or are known by besides. */
  otherNames: z.array(Short).max(10).default([]),
  emails: z.array(z.email('An address such as anna@mail.example').max(254)).max(10).default([]),
  phones: z.array(Short).max(10).default([]),
  /** ISO 8601; '' where it is not known. */
  born: z.union([z.literal(''), z.iso.date('A day such as 1984-03-09')]).default(''),
  /** Postal, in one line. */
  address: Short.default(''),
  /** Numbers of customers, members, bookings, tickets, passports. */
  numbers: z.array(Short).max(20).default([]),
});
export type Subject = z.infer<typeof Subject>;

export const NOBODY: Subject = Subject.parse({});

/** A kind of value that people are recognised by. */
export const TRAITS = ['e-mail', 'number', 'phone', 'name', 'birth date', 'address'] as const;
export type Trait = (typeof TRAITS)[number];

/** A value that somebody is recognised by, as it is compared. */
export interface SubjectValue {
  readonly trait: Trait;
  /** As it was given. */
  readonly given: string;
  /** As `comparable` makes it. */
  readonly key: string;
}

/** Digits at the end of a phone number that tell it; before them countries and trunks are written in many ways. */
const PHONE_TAIL = 8;
const SHORTEST_NUMBER = 5;

/** What a value of a trait is compared as; '' for one too short to tell anybody by. */
export function traitKey(trait: Trait, value: string): string {
  switch (trait) {
    case 'phone': {
      const digits = digitsOf(value);
      return digits.length < 7 ? '' : digits.slice(-PHONE_TAIL);
    }
    case 'number': {
      const key = comparable(value);
      return key.length < SHORTEST_NUMBER ? '' : key;
    }
    case 'birth date':
      return dayKey(value);
    case 'name':
      return nameKey(value);
    case 'e-mail':
      return value.trim().toLowerCase();
    case 'address':
      return comparable(value);
  }
}

/** Every value by which they are recognised. */
export function subjectValues(s: Subject): readonly SubjectValue[] {
  const of = (trait: Trait, values: readonly string[]) =>
    values.flatMap((given) => {
      const key = traitKey(trait, given);
      return key === '' ? [] : [{ trait, given, key }];
    });
  return [
    ...of('e-mail', s.emails),
    ...of('number', s.numbers),
    ...of('phone', s.phones),
    ...of('name', [s.name, ...s.otherNames]),
    ...of('birth date', s.born === '' ? [] : [s.born]),
    ...of('address', s.address === '' ? [] : [s.address]),
  ];
}

/** Its words in order of the alphabet: `Alm, Per` and `Per Alm` are one name. Titles and initials’ points do not count. */
export function nameKey(name: string): string {
  return name
    .split(/[\s,.]+/u)
    .map((w) => comparable(w.replace(/[’']s$/u, '')))
    .filter((w) => w !== '' && !TITLES.has(w))
    .toSorted()
    .join(' ');
}

const TITLES = new Set(['mr', 'mrs', 'ms', 'miss', 'dr', 'herr', 'frau', 'hr', 'fru', 'froken', 'prof']);

const MONTHS = 'jan feb mar apr may|maj|mai jun jul aug sep oct|okt nov dec|dez'
  .split(' ')
  .map((m) => new RegExp(`^(?:${m})`));

/** A birth date in the ways it is written, as ISO 8601; '' for what is none. */
export function dayKey(text: string): string {
  const t = text.trim().toLowerCase();
  const iso = /^(\d{4})-?(\d{2})-?(\d{2})(?:t|$)/.exec(t);
  if (iso) return real(iso[1], iso[2], iso[3]);
  const numbers = /^(\d{1,2})[./ -](\d{1,2})[./ -](\d{4})$/.exec(t);
  if (numbers) return real(numbers[3], numbers[2], numbers[1]);
  const words = /^(\d{1,2})\.?\s+(?:de\s+)?(\p{L}{3,10})\.?,?\s+(?:de\s+)?(\d{4})$/u.exec(t);
  const month = words ? MONTHS.findIndex((m) => m.test((words[2] ?? '').normalize('NFKD'))) + 1 : 0;
  return words && month > 0 ? real(words[3], String(month), words[1]) : '';
}

function real(year = '', month = '', day = ''): string {
  const iso = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  const at = new Date(`${iso}T00:00:00Z`);
  return Number.isNaN(at.getTime()) || at.toISOString().slice(0, 10) !== iso ? '' : iso;
}
