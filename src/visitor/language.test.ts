import { expect, test } from 'vitest';
import { chooseLanguage } from './language.ts';

test.each([
  [['en', 'da'], 'da-DK', ['en'], 'da'],
  [['en', 'da'], '', ['sv', 'da', 'en'], 'da'],
  [['en', 'da'], 'fr', ['de'], 'en'],
  [[], '', [], 'en'],
])('of %o on a %o page for %o: %s', (spoken, page, visitor, language) => {
  expect(chooseLanguage(spoken, page, visitor)).toBe(language);
});
