import { EEA } from '../../../eea.ts';
import type { RequestKind } from '../request.ts';
import type { RequestLaw } from './request-law.ts';

const days = (count: number) => ({ count, unit: 'days' as const });
const months = (count: number) => ({ count, unit: 'months' as const });

const EUROPEAN: Readonly<Partial<Record<RequestKind, string>>> = {
  access: 'Art. 15',
  correct: 'Art. 16',
  delete: 'Art. 17',
  move: 'Art. 20',
  restrict: 'Art. 18',
  object: 'Art. 21',
  'no automated decision': 'Art. 22',
  withdraw: 'Art. 7(3)',
};

/** A state of the US whose law leaves 45 days, and 45 more where that is told in time. */
const state = (region: string, name: string, article: string, first = 45): RequestLaw => ({
  ...{ id: region.toLowerCase(), name, where: [region], answer: days(first), answerArticle: article },
  rights: {
    ...{ access: article, correct: article, delete: article, move: article, 'no sale': article },
    'no automated decision': article,
  },
  extend: { limit: days(45), article },
  ...{
    pauses: [],
    movesToWorkingDay: false,
    freeInAYear: region === 'US-VA' ? 2 : 1,
    excessiveArticle: article,
  },
});

/**
 * Laws about what people may ask of who holds their data. Where a law leaves it open whether a day off moves its end, the
 * earlier day stands.
 */
export const REQUEST_LAWS: readonly RequestLaw[] = [
  {
    ...{ id: 'gdpr', name: 'GDPR', where: EEA, rights: EUROPEAN },
    // The end by Regulation (EEC, Euratom) No 1182/71, Art. 3(2)(c) and (4).
    ...{ answer: months(1), answerArticle: 'Art. 12(3)', movesToWorkingDay: true },
    extend: { limit: months(2), article: 'Art. 12(3)' },
    // Art. 12(6); EDPB Guidelines 01/2022, 5.3.
    pauses: ['proof'],
    ...{ freeInAYear: null, excessiveArticle: 'Art. 12(5)' },
  },
  {
    ...{ id: 'uk-gdpr', name: 'UK GDPR', where: ['GB', 'GG', 'JE', 'IM'], rights: EUROPEAN },
    ...{ answer: months(1), answerArticle: 'Art. 12(3) and 12A', movesToWorkingDay: true },
    extend: { limit: months(2), article: 'Art. 12A' },
    pauses: ['proof', 'clarification'],
    ...{ freeInAYear: null, excessiveArticle: 'Art. 12(5)' },
  },
  {
    ...{ id: 'fadp', name: 'Swiss FADP', where: ['CH'] },
    rights: {
      ...{ access: 'Art. 25', correct: 'Art. 32(1)', delete: 'Art. 32(2)(c)', move: 'Art. 28' },
      ...{ restrict: 'Art. 32(2)(a)', object: 'Art. 30(2)(b)', 'no automated decision': 'Art. 21' },
      withdraw: 'Art. 30(2)(b)',
    },
    ...{ answer: days(30), answerArticle: 'Art. 25(7); DPO Art. 18(1)', movesToWorkingDay: false },
    extend: { limit: days(30), article: 'DPO Art. 18(2)' },
    pauses: ['proof'],
    ...{ freeInAYear: null, excessiveArticle: 'Art. 26(1)(c)' },
  },
  {
    ...{ id: 'ccpa', name: 'CCPA', where: ['US-CA'] },
    rights: {
      ...{ access: '§ 1798.110', correct: '§ 1798.106', delete: '§ 1798.105', move: '§ 1798.130(a)(3)(B)' },
      ...{ 'no sale': '§ 1798.120', restrict: '§ 1798.121', 'no automated decision': '11 CCR § 7221' },
    },
    ...{ answer: days(45), answerArticle: '§ 1798.130(a)(2)', movesToWorkingDay: false },
    otherwise: {
      // 11 CCR § 7026(f) and § 7027(g).
      'no sale': { count: 15, unit: 'working days' },
      restrict: { count: 15, unit: 'working days' },
    },
    confirm: { limit: { count: 10, unit: 'working days' }, article: '11 CCR § 7021(a)' },
    extend: { limit: days(45), article: '§ 1798.130(a)(2); 11 CCR § 7021(b)' },
    // The time runs while it is verified who asks (11 CCR § 7021(b)).
    pauses: [],
    ...{ freeInAYear: 2, excessiveArticle: '§ 1798.130(b) and § 1798.145(h)(3)' },
  },
  {
    ...{ id: 'lgpd', name: 'LGPD', where: ['BR'] },
    rights: {
      ...{ access: 'Art. 18(II)', correct: 'Art. 18(III)', delete: 'Art. 18(VI)', move: 'Art. 18(V)' },
      ...{ restrict: 'Art. 18(IV)', object: 'Art. 18 § 2', 'no automated decision': 'Art. 20' },
      withdraw: 'Art. 18(IX)',
    },
    ...{ answer: days(15), answerArticle: 'Art. 19(II)', movesToWorkingDay: false },
    ...{ pauses: [], freeInAYear: null, excessiveArticle: 'Art. 18 § 5' },
  },
  {
    ...{ id: 'quebec', name: 'Quebec private sector Act', where: ['CA-QC'] },
    rights: {
      ...{ access: 's. 27', correct: 's. 28', delete: 's. 28.1', move: 's. 27', withdraw: 's. 9' },
      'no automated decision': 's. 12.1',
    },
    ...{ answer: days(30), answerArticle: 's. 32', movesToWorkingDay: false },
    ...{ pauses: [], freeInAYear: null, excessiveArticle: 's. 33' },
  },
  {
    ...{ id: 'pipeda', name: 'PIPEDA', where: ['CA'] },
    rights: { access: 'Sch. 1, 4.9', correct: 'Sch. 1, 4.9.5', withdraw: 'Sch. 1, 4.3.8' },
    ...{ answer: days(30), answerArticle: 's. 8(3)', movesToWorkingDay: false },
    extend: { limit: days(30), article: 's. 8(4)' },
    ...{ pauses: [], freeInAYear: null, excessiveArticle: 's. 8(6)' },
  },
  {
    ...{ id: 'nz', name: 'New Zealand Privacy Act', where: ['NZ'] },
    rights: { access: 'IPP 6', correct: 'IPP 7' },
    answer: { count: 20, unit: 'working days' },
    ...{ answerArticle: 's. 44 and 63', movesToWorkingDay: true },
    ...{ pauses: [], freeInAYear: null, excessiveArticle: 's. 53(h)' },
  },
  {
    ...{ id: 'au', name: 'Australian Privacy Act', where: ['AU'] },
    rights: { access: 'APP 12', correct: 'APP 13' },
    ...{ answer: days(30), answerArticle: 'APP 12.4', movesToWorkingDay: false },
    ...{ pauses: ['proof'], freeInAYear: null, excessiveArticle: 'APP 12.3(c)' },
  },
  {
    ...{ id: 'za', name: 'POPIA', where: ['ZA'] },
    rights: { access: 's. 23', correct: 's. 24', delete: 's. 24', object: 's. 11(3)' },
    ...{ answer: days(30), answerArticle: 'PAIA s. 56', movesToWorkingDay: false },
    extend: { limit: days(30), article: 'PAIA s. 57' },
    ...{ pauses: [], freeInAYear: null, excessiveArticle: 'PAIA s. 69' },
  },
  {
    ...{ id: 'sg', name: 'Singapore PDPA', where: ['SG'] },
    rights: { access: 's. 21', correct: 's. 22', withdraw: 's. 16' },
    ...{ answer: days(30), answerArticle: 'PDP Regulations 2021, reg. 5', movesToWorkingDay: false },
    ...{ pauses: [], freeInAYear: null, excessiveArticle: 'Fifth Schedule, 1(j)' },
  },
  state('US-VA', 'Virginia CDPA', 'Va. Code § 59.1-577'),
  state('US-CO', 'Colorado Privacy Act', 'C.R.S. § 6-1-1306'),
  state('US-CT', 'Connecticut DPA', '§ 42-518'),
  state('US-TX', 'Texas TDPSA', 'Bus. & Com. Code § 541.052'),
  state('US-OR', 'Oregon CPA', 'ORS 646A.576'),
  state('US-MT', 'Montana CDPA', '§ 30-14-2808'),
  state('US-UT', 'Utah CPA', 'Utah Code § 13-61-203'),
  state('US-DE', 'Delaware PDPA', '6 Del. C. § 12D-104'),
  state('US-NJ', 'New Jersey DPA', 'N.J.S.A. 56:8-166.10'),
  state('US-NH', 'New Hampshire', 'RSA 507-H:4'),
  state('US-IA', 'Iowa', 'Iowa Code § 715D.3', 90),
  state('US-MN', 'Minnesota CDPA', 'Minn. Stat. § 325M.14'),
  state('US-MD', 'Maryland ODPA', 'Com. Law § 14-4705'),
  {
    ...{ id: 'elsewhere', name: 'The organisation’s own promise', where: ['ZZ'] },
    rights: Object.fromEntries(Object.keys(EUROPEAN).map((k) => [k, 'as promised'])),
    ...{ answer: months(1), answerArticle: 'as promised', movesToWorkingDay: false },
    ...{ pauses: ['proof'], freeInAYear: null, excessiveArticle: '' },
  },
];

const ELSEWHERE = REQUEST_LAWS.at(-1) as RequestLaw;

/** The law of where somebody is: that of the region, else of its country, else what the organisation promises. */
export function lawOf(region: string): RequestLaw {
  const [country = ''] = region.split('-');
  const of = (code: string) => REQUEST_LAWS.find((l) => l.where.includes(code));
  return of(region) ?? of(country) ?? ELSEWHERE;
}

/** Throws an Error for an id that there is none of. */
export function findLaw(id: string): RequestLaw {
  const law = REQUEST_LAWS.find((l) => l.id === id);
  if (!law) throw new Error(`There is no law ${id}.`);
  return law;
}
