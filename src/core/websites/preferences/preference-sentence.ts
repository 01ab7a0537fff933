import type { Json, Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, type Sentence, type SlotPart } from '../../rules/sentence.ts';
import { LANGUAGES, languageName } from '../notice/notice-words.ts';
import { CHANNEL_WORDS, CHANNELS, preferencePhrases } from './preference-phrases.ts';
import { calledIn, codeOf, plainName, wordKey, type PreferencePage } from './preference-page.ts';

/** The page as prose; below it what it says in each language. */
export function preferenceSentence(page: PreferencePage): Sentence {
  return [
    { label: 'Speaks', parts: [LANGUAGES_SLOT, ', the first where somebody’s own is not among them'] },
    { label: 'Asks', parts: ['how to reach people: ', CHANNELS_SLOT] },
    { label: 'About', parts: [namesSlot('topics', 'Topics', 'Name a topic', page)] },
    { label: 'Leaving', parts: ['for ', namesSlot('reasons', 'Reasons for leaving', 'Name a reason', page)] },
    ...page.languages.flatMap((language): Sentence => {
      const phrases = preferencePhrases(language);
      const name = languageName(language);
      const line = (key: string, label: string, most: number, stands: string): SlotPart => ({
        path: ['words', key],
        label: `${label}, ${name}`,
        say: (value) => (typeof value === 'string' && value.trim() !== '' ? value : stands || 'not said'),
        editor: { kind: 'text', most, ...(most > 200 ? { long: true } : {}) },
        turn: {
          read: (content) => wordsOf(content)[key] ?? '',
          write: (content, value) => ({
            ...(content as Record<string, Json>),
            words: { ...wordsOf(content), [key]: value },
          }),
        },
      });
      return [
        {
          label: name,
          parts: [
            line(wordKey(language, 'title'), 'Title', 120, phrases.title),
            ' · ',
            line(wordKey(language, 'body'), 'Text', 600, phrases.body),
          ],
        },
        ...page.topics.map((code) => ({
          label: '',
          parts: [
            `${plainName(code)}: `,
            line(
              wordKey(language, 'topic', code),
              `Name of ${plainName(code)}`,
              80,
              calledIn({ ...page, words: {} }, language, 'topic', code),
            ),
            ', ',
            line(wordKey(language, 'about', code), `What ${plainName(code)} is`, 200, 'nothing below it'),
          ],
        })),
        ...page.reasons.map((code) => ({
          label: '',
          parts: [
            `${plainName(code)}: `,
            line(
              wordKey(language, 'reason', code),
              `Words for ${plainName(code)}`,
              120,
              calledIn({ ...page, words: {} }, language, 'reason', code),
            ),
          ],
        })),
      ];
    }),
  ];
}

/** How a change of the page is told. */
export function preferenceVocabulary(): Vocabulary {
  return sentenceVocabulary([LANGUAGES_SLOT, CHANNELS_SLOT], {
    path: ([first, key = '']) => {
      if (first !== 'words') return first === 'name' ? 'Who writes' : undefined;
      const [language = '', word = '', code = ''] = key.split(' ');
      return [WORD_NAMES[word] ?? word, code && `of ${plainName(code)}`, `in ${languageName(language)}`]
        .filter(Boolean)
        .join(' ');
    },
    value: (value, [first]) =>
      (first === 'topics' || first === 'reasons') && typeof value === 'string' ? plainName(value) : undefined,
  });
}

const WORD_NAMES: Readonly<Record<string, string>> = {
  title: 'Title',
  body: 'Text',
  topic: 'Name',
  about: 'Line below the name',
  reason: 'Words',
};

function wordsOf(content: Json): Record<string, Json> {
  return (content as { words?: Record<string, Json> }).words ?? {};
}

function many(words: (code: string) => string): (value: Json) => string {
  return (value) =>
    Array.isArray(value)
      ? value.map((v: Json) => words(String(v))).join(', ') || 'none'
      : typeof value === 'string'
        ? words(value)
        : 'none';
}

const LANGUAGES_SLOT: SlotPart = {
  path: ['languages'],
  label: 'Languages',
  say: many(languageName),
  editor: {
    kind: 'many',
    options: Object.entries(LANGUAGES).map(([value, words]) => ({ value, words })),
  },
};

const CHANNELS_SLOT: SlotPart = {
  path: ['channels'],
  label: 'Ways to reach people',
  say: many((code) => CHANNEL_WORDS[code as keyof typeof CHANNEL_WORDS] ?? code),
  editor: { kind: 'many', options: CHANNELS.map((value) => ({ value, words: CHANNEL_WORDS[value] })) },
};

function namesSlot(path: 'topics' | 'reasons', label: string, hint: string, page: PreferencePage): SlotPart {
  return {
    path: [path],
    label,
    say: many(plainName),
    editor: {
      kind: 'many',
      options: page[path].map((value) => ({ value, words: plainName(value) })),
      add: {
        hint,
        read: (text) => {
          const value = codeOf(text);
          return value === undefined ? { wrong: 'Write it with letters a to z' } : { value };
        },
      },
    },
  };
}
