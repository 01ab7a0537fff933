import { describe, expect, it, test } from 'vitest';
import { findLaw } from '../law/laws.ts';
import { REQUEST_KINDS } from '../request.ts';
import { asksWords, complaintWords, keptWords, letterDay, letterLanguage } from './letter-values.ts';
import { composeLetter, LETTERS } from './request-letter.ts';

const VALUES = {
  ...{
    name: 'Maja',
    organisation: 'Harbour Line',
    number: 'R-7',
    asks: 'to see it',
    law: 'GDPR',
    article: 'Art. 12(3)',
  },
  ...{
    day: '4 Dec 2026',
    link: '[link]',
    reason: 'much of it',
    kept: '',
    told: '',
    complaint: 'Complain.',
    phrase: 'ab-cd',
  },
};

describe.each(['en', 'da', 'sv', 'de'])('in %s', (language) => {
  test.each(LETTERS)('%s puts every value in, and leaves out what is empty', (id) => {
    const { subject, paragraphs } = composeLetter(id, language, VALUES);
    expect(`${subject} ${paragraphs.join(' ')}`).not.toMatch(/\{[a-z]+\}/);
    expect(subject).toContain('R-7');
    expect(paragraphs.every((p) => p.trim() !== '')).toBe(true);
  });
  it('says what is asked, of each kind, in words of its own', () => {
    const all = REQUEST_KINDS.map((k) => asksWords(k, language));
    expect(new Set(all).size).toBe(REQUEST_KINDS.length);
  });
});

it('never reads a value as a slot', () => {
  expect(composeLetter('refused', 'en', { ...VALUES, reason: '{name} {kept}' }).paragraphs[1]).toContain(
    '{name} {kept}',
  );
});

it('names what lacks', () => {
  expect(() => composeLetter('package', 'en', {})).toThrow(/lacks a value for/);
});

test('other languages are written to in English, and days as they write them', () => {
  expect(letterLanguage('fr-FR')).toBe('en');
  expect(letterLanguage('sv-FI')).toBe('sv');
  expect(letterDay('2026-12-04', 'sv')).toBe('4 december 2026');
  expect(letterDay('2026-12-04', 'fr')).toBe('4 Dec 2026');
  expect(keptWords('en', [])).toBe('');
  expect(complaintWords(findLaw('ccpa'), 'en')).toMatch(/attorney general/);
  expect(complaintWords(findLaw('gdpr'), 'de')).toMatch(/Datenschutzaufsicht/);
});
