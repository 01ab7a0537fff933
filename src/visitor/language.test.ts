import { expect, test } from 'vitest';
import { chooseLanguage } from './language.ts';

test.each([
  ['page', ['en', 'da'], 'da-DK', ['en'], 'da'],
  ['page', ['en', 'da'], '', ['sv', 'da', 'en'], 'da'],
  ['page', ['en', 'da'], 'fr', ['de'], 'en'],
  ['page', [], '', [], 'en'],
  ['visitor', ['en', 'da'], 'en', ['da'], 'da'],
  ['first', ['en', 'da'], 'da', ['da'], 'en'],
  // The nearest that it speaks, by what comes before the region.
  ['page', ['en', 'nb'], 'no', [], 'nb'],
  ['page', ['en', 'pt-BR', 'pt'], 'pt-br', [], 'pt-BR'],
  ['page', ['en', 'pt-BR', 'pt'], 'pt-PT', [], 'pt'],
  ['page', ['en', 'zh-Hant'], 'zh-TW', [], 'zh-Hant'],
] as const)('by the %s, of %o on a %o page for %o: %s', (languageBy, languages, page, visitor, language) => {
  expect(chooseLanguage({ languages, languageBy }, page, visitor)).toBe(language);
});
