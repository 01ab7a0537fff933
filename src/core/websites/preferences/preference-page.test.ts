import { describe, expect, it } from 'vitest';
import { fillSlot, sentenceText, slotsOf } from '../../rules/sentence.ts';
import { change, inWords } from '../../rules/change.ts';
import { LANGUAGES } from '../notice/notice-words.ts';
import { CHANNELS, preferencePhrases } from './preference-phrases.ts';
import {
  calledIn,
  codeOf,
  firstPreferencePage,
  missingWords,
  plainName,
  PreferencePage,
  shownPage,
  wordKey,
} from './preference-page.ts';
import { preferenceSentence, preferenceVocabulary } from './preference-sentence.ts';

const page = firstPreferencePage('Harbour Line');

describe('the page of preferences', () => {
  it('is whole as it is begun, so that it can be in force at once', () => {
    expect(PreferencePage.safeParse(page).success).toBe(true);
    expect(missingWords(page)).toEqual([]);
  });

  it('ships every phrase in every language, none twice by mistake', () => {
    for (const language of Object.keys(LANGUAGES)) {
      const phrases = preferencePhrases(language);
      for (const [name, words] of Object.entries(phrases)) expect(words, `${language} ${name}`).not.toBe('');
      // Ways, texts and endings each say something else.
      expect(new Set(Object.values(phrases)).size, language).toBe(Object.keys(phrases).length);
      if (language !== 'en') expect(phrases.title, language).not.toBe(preferencePhrases('en').title);
    }
  });

  it('asks for a name of each topic and reason in each language but where its code tells it', () => {
    const more = { ...page, languages: ['en', 'de'] as const, topics: ['news', 'tide-tables'] };
    const missing = missingWords({ ...more, languages: [...more.languages] });
    expect(missing.map((m) => m.message)).toContain('Say what the topic “Tide tables” is called in German.');
    expect(missing.some((m) => m.message.includes('English'))).toBe(false);
    expect(missing).toHaveLength(2 + page.reasons.length);
  });

  it('is shown in the language asked for, its base, or the first', () => {
    expect(shownPage(page, 'da').topics[0]?.name).toBe('Nyheder');
    expect(shownPage(page, 'da-DK').language).toBe('da');
    expect(shownPage(page, 'fr').language).toBe('en');
    expect(shownPage(page, 'en').title).toBe(preferencePhrases('en').title);
    const own = { ...page, words: { ...page.words, [wordKey('en', 'title')]: '  What shall we send?  ' } };
    expect(shownPage(own, 'en').title).toBe('What shall we send?');
    expect(shownPage(page, 'en').channels.map((c) => c.code)).toEqual(page.channels);
  });

  it.each([
    ['Timetable changes', 'timetable-changes'],
    ['  Fähre & Fracht!  ', 'fahre-fracht'],
    ['***', undefined],
    ['x'.repeat(80), 'x'.repeat(40)],
  ])('makes of “%s” the code %s', (typed, code) => {
    expect(codeOf(typed)).toBe(code);
    if (code) expect(PreferencePage.shape.topics.safeParse([code]).success).toBe(true);
  });

  it('reads a code back as words', () => {
    expect(plainName('timetable-changes')).toBe('Timetable changes');
    expect(calledIn({ languages: ['en'], words: {} }, 'da', 'topic', 'news')).toBe('');
  });

  it('is a sentence whose every slot can be filled and told', () => {
    const sentence = preferenceSentence(page);
    const words = slotsOf(sentence).find((s) => s.label === 'Name of News, Danish');
    const filled = fillSlot(page, words!, 'Havnenyt');
    expect(calledIn(filled, 'da', 'topic', 'news')).toBe('Havnenyt');
    expect(inWords(change(page, filled), preferenceVocabulary())).toEqual([
      'Name of News in Danish: Nyheder → Havnenyt',
    ]);
    expect(sentenceText(sentence, page)).toContain('e-mail, text message');
    expect(inWords(change(page, { ...page, channels: ['post'] }), preferenceVocabulary())[0]).toContain(
      'post',
    );
    const many = slotsOf(sentence).find((s) => s.label === 'Topics');
    const add = many?.editor.kind === 'many' ? many.editor.add : undefined;
    expect(add?.read('Tide tables')).toEqual({ value: 'tide-tables' });
    expect(add?.read('…')).toHaveProperty('wrong');
    expect(CHANNELS.length).toBeGreaterThan(3);
  });
});
