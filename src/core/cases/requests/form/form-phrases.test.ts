import { expect, it, test } from 'vitest';
import { LANGUAGES } from '../../../websites/notice/notice-words.ts';
import { FORM_LANGUAGES, formLanguage, formPhrases } from './form-phrases.ts';

it('has every language of the notice', () => {
  expect(FORM_LANGUAGES.toSorted()).toEqual(Object.keys(LANGUAGES).toSorted());
});

test.each(FORM_LANGUAGES)('%s says all of it, and holds the number', (language) => {
  const words = formPhrases(language);
  expect(Object.entries(words).filter(([, w]) => w.trim() === '')).toEqual([]);
  expect(words['thanks']).toContain('{number}');
  if (language !== 'en') expect(words['title']).not.toBe(formPhrases('en')['title']);
  expect(
    new Set(['access', 'correct', 'delete', 'move', 'restrict', 'object', 'withdraw'].map((k) => words[k]))
      .size,
  ).toBe(7);
});

test.each([
  [['sv-SE', 'en'], 'sv'],
  [['no'], 'nb'],
  [['xx', 'pt-BR'], 'pt'],
  [[null, undefined, ''], 'en'],
] as const)('of %j it speaks %s', (wished, language) => expect(formLanguage(wished)).toBe(language));
