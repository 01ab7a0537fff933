import type { Json, Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, type Sentence, type SlotPart } from '../../rules/sentence.ts';
import { COLOUR_WORDS, LAYOUT_WORDS, LAYOUTS, type Layout, type NoticeContent } from './notice.ts';
import { LANGUAGES, TEXT_WORDS, type Language } from './notice-words.ts';
import { purposeName, type Purpose } from './purpose.ts';

/** What a notice asks, of whom, and how it looks; `host` is the site it stands on. */
export function noticeSentence(host: string, purposes: readonly Purpose[]): Sentence {
  return [
    {
      label: 'Ask',
      parts: [`visitors of ${host} for `, purposesSlot(purposes), '; Essential is told, never asked'],
    },
    { label: 'In', parts: [LANGUAGES_SLOT, ', by the page’s language, then the visitor’s'] },
    { label: 'Again', parts: ['after ', AGAIN_SLOT, ', or when other purposes are asked for'] },
    {
      label: 'Looks',
      parts: [
        'as ',
        LAYOUT_SLOT,
        ...COLOURS.flatMap((slot) => [
          `, ${COLOUR_WORDS[slot.path[1] as keyof typeof COLOUR_WORDS]} in `,
          slot,
        ]),
      ],
    },
    { label: 'Links to', parts: [POLICY_SLOT] },
  ];
}

function purposesSlot(purposes: readonly Purpose[]): SlotPart {
  return {
    path: ['purposes'],
    label: 'Purposes asked for',
    say: list((code) => purposeName(purposes, code)),
    editor: {
      kind: 'many',
      options: purposes.filter((p) => !p.essential).map((p) => ({ value: p.code, words: p.name })),
    },
  };
}

const LANGUAGES_SLOT: SlotPart = {
  path: ['languages'],
  label: 'Languages',
  say: list((code) => LANGUAGES[code as Language] ?? code),
  editor: { kind: 'many', options: Object.entries(LANGUAGES).map(([value, words]) => ({ value, words })) },
};

const AGAIN_SLOT: SlotPart = {
  path: ['askAgainMonths'],
  label: 'Ask again after',
  say: (value) => `${String(value)} ${value === 1 ? 'month' : 'months'}`,
  editor: { kind: 'number', unit: 'months', least: 1, most: 24 },
};

const LAYOUT_SLOT: SlotPart = {
  path: ['layout'],
  label: 'Layout',
  say: (value) => LAYOUT_WORDS[value as Layout] ?? String(value),
  editor: {
    kind: 'choice',
    options: LAYOUTS.map((value) => ({ value, words: value, detail: LAYOUT_WORDS[value] })),
  },
};

const COLOURS = (Object.keys(COLOUR_WORDS) as (keyof typeof COLOUR_WORDS)[]).map((key): SlotPart => ({
  path: ['colours', key],
  label: `Colour of the ${COLOUR_WORDS[key]}`,
  say: String,
  editor: { kind: 'text', most: 7, colour: true },
}));

const POLICY_SLOT: SlotPart = {
  path: ['policyUrl'],
  label: 'Link to the policy',
  say: (value) => (value === '' ? 'no policy' : String(value)),
  editor: { kind: 'text', most: 500 },
};

const LINES = ['title', 'body', 'accept', 'refuse', 'choose', 'save', 'reopen'] as const;

/** What a notice says in one language: a slot a line, and two for each purpose. */
export function noticeTexts(
  language: Language,
  codes: readonly string[],
  purposes: readonly Purpose[],
): Sentence {
  const slot = (path: readonly string[], label: string, most: number, long = false): SlotPart => ({
    path: ['texts', language, ...path],
    label,
    told: `${label}, ${LANGUAGES[language]}`,
    say: String,
    editor: { kind: 'text', most, ...(long ? { long } : {}) },
  });
  return [
    ...LINES.map((key) => ({
      label: TEXT_WORDS[key],
      parts: [
        slot([key], TEXT_WORDS[key], key === 'body' ? 1200 : key === 'title' ? 120 : 40, key === 'body'),
      ],
    })),
    ...codes.map((code) => {
      const name = purposeName(purposes, code);
      return {
        label: name,
        parts: [
          slot(['purposes', code, 'name'], `Name of ${name}`, 60),
          ': ',
          slot(['purposes', code, 'text'], `Text of ${name}`, 400, true),
        ],
      };
    }),
  ];
}

/** Codes that a notice has texts for: what is told, then what is asked for. */
export function toldPurposes(content: NoticeContent, purposes: readonly Purpose[]): readonly string[] {
  return [...purposes.filter((p) => p.essential).map((p) => p.code), ...content.purposes];
}

/** How a change of a notice is told. */
export function noticeVocabulary(purposes: readonly Purpose[]): Vocabulary {
  const codes = purposes.map((p) => p.code);
  const slots = [
    ...noticeSentence('', purposes),
    ...(Object.keys(LANGUAGES) as Language[]).flatMap((l) => noticeTexts(l, codes, purposes)),
  ].flatMap((line) => line.parts.filter((p) => typeof p !== 'string'));
  return sentenceVocabulary(slots, {
    path: ([first, language = '', third, code]) => {
      if (first !== 'texts') return undefined;
      const words = LANGUAGES[language as Language] ?? language;
      return third === 'purposes' && code !== undefined
        ? `${purposeName(purposes, code)}, ${words}`
        : `${words} text`;
    },
  });
}

function list(word: (code: string) => string): (value: Json) => string {
  return (value) =>
    Array.isArray(value) ? value.map((v: Json) => word(String(v))).join(', ') : word(String(value));
}
