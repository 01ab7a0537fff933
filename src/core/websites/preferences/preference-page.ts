import { z } from 'zod';
import type { Refusal } from '../../refusal.ts';
import { LANGUAGES } from '../notice/notice-words.ts';
import { CHANNELS, preferencePhrases, type Channel } from './preference-phrases.ts';

const Code = z.string().regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'Small letters, digits and hyphens');
const Language = z.enum(Object.keys(LANGUAGES) as [keyof typeof LANGUAGES, ...(keyof typeof LANGUAGES)[]]);
export const MOST_CODE = 40;

/**
 * What people are asked of how and about what they may be written to. `words` holds what stands on the page by
 * `wordKey`; what ships with a language stands there where nothing else is said. Versions are kept for ever, since
 * records point at them.
 */
export const PreferencePage = z.strictObject({
  name: z.string().trim().min(1, 'Say who writes to them').max(80, 'At most 80 characters'),
  languages: z.array(Language).min(1, 'Choose at least one language'),
  channels: z.array(z.enum(CHANNELS)).min(1, 'Choose at least one way to reach people'),
  topics: z.array(Code.max(MOST_CODE)).min(1, 'Name at least one topic').max(20, 'At most 20 topics'),
  reasons: z.array(Code.max(MOST_CODE)).max(12, 'At most 12 reasons'),
  words: z.record(z.string().max(120), z.string().max(600, 'At most 600 characters')),
});
export type PreferencePage = z.infer<typeof PreferencePage>;

/** As it is begun: leaving is possible at once. */
export function firstPreferencePage(name: string): PreferencePage {
  return {
    name,
    languages: ['en', 'da'],
    channels: ['email', 'sms'],
    topics: ['news'],
    reasons: ['too-often', 'not-for-me', 'never-asked'],
    words: {
      'en reason too-often': 'You write too often',
      'en reason not-for-me': 'It is not for me',
      'en reason never-asked': 'I never asked for it',
      'da topic news': 'Nyheder',
      'da reason too-often': 'I skriver for tit',
      'da reason not-for-me': 'Det er ikke noget for mig',
      'da reason never-asked': 'Jeg har aldrig bedt om det',
    },
  };
}

type Word = 'title' | 'body' | 'topic' | 'about' | 'reason';

/** Where a word of the page stands: `about` is the line below a topic. */
export function wordKey(language: string, word: Word, code = ''): string {
  return [language, word, code].filter(Boolean).join(' ');
}

/** A name that somebody types, as a code; `undefined` where nothing of it is left. */
export function codeOf(typed: string): string | undefined {
  const code = typed
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, MOST_CODE)
    .replace(/^-+|-+$/g, '');
  return code === '' ? undefined : code;
}

/** What a code reads like before anybody gave it a name. */
export function plainName(code: string): string {
  const words = code.replaceAll('-', ' ');
  return (words[0]?.toUpperCase() ?? '') + words.slice(1);
}

/** As a topic or a reason is called: its code tells it in the first language, where nothing else is said. */
export function calledIn(
  { languages, words }: Pick<PreferencePage, 'languages' | 'words'>,
  language: string,
  word: 'topic' | 'reason',
  code: string,
): string {
  const said = words[wordKey(language, word, code)]?.trim();
  return said || (language === languages[0] ? plainName(code) : '');
}

/** What the page shows in one language. */
export interface ShownPage {
  readonly language: string;
  readonly title: string;
  readonly body: string;
  readonly channels: readonly { readonly code: Channel; readonly name: string }[];
  readonly topics: readonly { readonly code: string; readonly name: string; readonly about: string }[];
  readonly reasons: readonly { readonly code: string; readonly name: string }[];
}

/** In the language asked for, or the first that the page speaks. */
export function shownPage(page: PreferencePage, asked: string): ShownPage {
  const base = asked.split('-')[0] ?? '';
  const language = page.languages.find((l) => l === asked || l === base) ?? page.languages[0] ?? 'en';
  const phrases = preferencePhrases(language);
  const own = (word: Word) => page.words[wordKey(language, word)]?.trim();
  return {
    language,
    title: own('title') || phrases.title,
    body: own('body') || phrases.body,
    channels: page.channels.map((code) => ({ code, name: phrases[code] })),
    topics: page.topics.map((code) => ({
      code,
      name: calledIn(page, language, 'topic', code),
      about: page.words[wordKey(language, 'about', code)]?.trim() ?? '',
    })),
    reasons: page.reasons.map((code) => ({ code, name: calledIn(page, language, 'reason', code) })),
  };
}

/** What has to be said before it can be in force: in each language each topic and reason has a name. */
export function missingWords(page: PreferencePage): Refusal['fields'] {
  return page.languages.flatMap((language) =>
    (['topic', 'reason'] as const).flatMap((word) =>
      page[word === 'topic' ? 'topics' : 'reasons']
        .filter((code) => calledIn(page, language, word, code) === '')
        .map((code) => ({
          field: 'words',
          message: `Say what the ${word} “${plainName(code)}” is called in ${LANGUAGES[language]}.`,
        })),
    ),
  );
}
