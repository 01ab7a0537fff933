import { expect, it, test } from 'vitest';
import { change, inWords } from '../../rules/change.ts';
import { contrast, fairness, readingLix } from './fairness.ts';
import { firstNotice, NoticeContent } from './notice.ts';
import { noticeVocabulary } from './notice-sentence.ts';
import { FIRST_PURPOSES } from './purpose.ts';

const first = firstNotice();
const troubles = (content: NoticeContent) => fairness(content, FIRST_PURPOSES).filter((f) => !f.met);

test.each([
  ['#000000', '#ffffff', 21],
  ['#ffffff', '#ffffff', 1],
  ['#767676', '#ffffff', 4.54],
  ['#ff0000', '#ffffff', 4.0],
])('%s on %s contrasts %f', (a, b, ratio) => {
  expect(contrast(a, b)).toBeCloseTo(ratio, 2);
  expect(contrast(b, a)).toBe(contrast(a, b));
});

it('begins fair and valid in both languages', () => {
  expect(NoticeContent.parse(first)).toEqual(first);
  expect(troubles(first)).toEqual([]);
});

it('is blocked by faint text, telling the ratio rounded down', () => {
  const faint = { ...first, colours: { ...first.colours, text: '#777777', background: '#fefefe' } };
  expect(troubles(faint)).toMatchObject([
    {
      met: false,
      blocks: true,
      words: 'Text: contrast 4.4 to 1, needs 4.5',
      law: expect.stringContaining('WCAG'),
    },
  ]);
});

it('names the purposes a language lacks', () => {
  const da = { ...first.texts['da']!, purposes: { essential: first.texts['da']!.purposes['essential']! } };
  expect(troubles({ ...first, texts: { ...first.texts, da } }).map((f) => f.words)).toEqual([
    'Danish text lacks Preferences, Measurement, Advertising',
  ]);
  expect(troubles({ ...first, texts: { en: first.texts['en']! } })[0]?.words).toBe('Danish text is missing');
});

it('notices a refusal that is made hard to read', () => {
  const en = { ...first.texts['en']!, refuse: 'Continue without the better experience' };
  expect(troubles({ ...first, texts: { ...first.texts, en } })[0]?.words).toMatch(
    /Refusing takes far more reading/,
  );
});

it('asks for what the last sweep found and for nothing else, in words that are plain', () => {
  const found = (swept: string[]) =>
    fairness(first, FIRST_PURPOSES, swept)
      .filter((f) => !f.met)
      .map((f) => f.words);
  expect(found(['essential', 'preferences', 'measurement', 'advertising'])).toEqual([]);
  expect(found(['measurement'])).toEqual([
    'It asks for Preferences, Advertising, for which the last sweep found nothing',
  ]);
  const less = { ...first, purposes: ['measurement'] };
  expect(fairness(less, FIRST_PURPOSES, ['measurement', 'advertising']).find((f) => !f.met)?.words).toBe(
    'It does not ask for Advertising, which the last sweep found',
  );
  expect(readingLix('We keep what you chose. You can change it.')).toBeLessThan(20);
  const body =
    'Notwithstanding aforementioned circumstances, processing operations undertaken pursuant to legitimate organisational requirements necessitate continuous availability of identifying characteristics';
  expect(
    troubles({ ...first, texts: { ...first.texts, en: { ...first.texts['en']!, body } } })[0],
  ).toMatchObject({
    words: expect.stringContaining('hard to read in English') as string,
    fix: expect.stringContaining('LIX 50') as string,
  });
});

it('tells its changes in words', () => {
  const after = {
    ...first,
    askAgainMonths: 12,
    purposes: ['measurement', 'advertising'],
    colours: { ...first.colours, button: '#000000' },
  };
  expect(inWords(change(first, after), noticeVocabulary(FIRST_PURPOSES))).toEqual([
    'Purposes asked for: Preferences removed',
    'Ask again after: 6 months → 12 months',
    'Colour of the buttons: #14403d → #000000',
  ]);
});

test.each([
  [{ purposes: [] }, 'at least one purpose'],
  [{ askAgainMonths: 25 }, 'At most 24'],
  [{ colours: { ...first.colours, text: 'red' } }, '#14403d'],
  [{ policyUrl: 'javascript:alert(1)' }, 'web address'],
])('%o is refused', (wrong, says) => {
  const result = NoticeContent.safeParse({ ...first, ...wrong });
  expect(JSON.stringify(result.error?.issues)).toContain(says);
});

it('has one of the layouts, and tells a change of it in words', () => {
  expect(NoticeContent.safeParse({ ...first, layout: 'wall' }).success).toBe(false);
  const words = inWords(change(first, { ...first, layout: 'corner card' }), noticeVocabulary(FIRST_PURPOSES));
  expect(words.join(' ')).toContain('a card in the corner');
});
