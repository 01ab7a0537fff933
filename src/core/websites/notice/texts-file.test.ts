import { expect, it, test } from 'vitest';
import { firstNotice } from './notice.ts';
import { readTexts, writeTexts } from './texts-file.ts';

const texts = firstNotice().texts['en']!;

it('comes back as it left, also with a mark of its byte order', () => {
  const file = { schema: 'yare-warden/notice-texts/1', language: 'ar', texts };
  expect(readTexts(writeTexts('ar', texts))).toEqual({ file });
  expect(readTexts(`\ufeff${writeTexts('ar', texts)}`)).toEqual({ file });
});

test.each([
  ['{', 'no JSON'],
  ['[]', 'The file'],
  [writeTexts('Arabic!', texts), 'language: Give a language as its tag'],
  [
    JSON.stringify({ schema: 'yare-warden/notice-texts/1', language: 'ar', texts: { ...texts, title: 4 } }),
    'texts.title',
  ],
  [writeTexts('ar', { ...texts, accept: 'x'.repeat(60) }), 'texts.accept: The allowing button can have 40'],
])('tells what is wrong with %.30s', (file, why) => {
  expect((readTexts(file) as { why: string }).why).toContain(why);
});
