import type { Json, Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, type Sentence, type SlotPart } from '../../rules/sentence.ts';
import {
  AGAIN_PLACES,
  AGAIN_WORDS,
  COLOUR_WORDS,
  FACE_WORDS,
  FACES,
  LANGUAGE_BY_WORDS,
  LAYOUT_WORDS,
  LAYOUTS,
  type Layout,
  type NoticeContent,
} from './notice.ts';
import { languageName, LANGUAGES, TEXT_WORDS } from './notice-words.ts';
import { plainRich } from '../../text/rich-text.ts';
import { purposeName, type Purpose } from './purpose.ts';
import { tcfPath, tcfValue } from '../tcf/tcf-sentence.ts';

/** What a notice asks, of whom, and how it looks; `host` is the site it stands on. */
export function noticeSentence(
  host: string,
  purposes: readonly Purpose[],
  spoken: readonly string[] = [],
): Sentence {
  return [
    {
      label: 'Ask',
      parts: [`visitors of ${host} for `, purposesSlot(purposes), '; Essential is told, never asked'],
    },
    { label: 'In', parts: [languagesSlot(spoken), ', ', LANGUAGE_BY_SLOT] },
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
        ', letters in ',
        FACE_SLOT,
        ' at ',
        SIZE_SLOT,
        ', corners rounded by ',
        RADIUS_SLOT,
      ],
    },
    { label: 'Comes back', parts: ['with a control ', AGAIN_PLACE_SLOT] },
    { label: 'Links to', parts: [POLICY_SLOT] },
    { label: 'Own style', parts: [CSS_SLOT] },
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

/** `spoken` are languages that came by import. */
function languagesSlot(spoken: readonly string[]): SlotPart {
  const known = [...new Set([...Object.keys(LANGUAGES), ...spoken])];
  return {
    path: ['languages'],
    label: 'Languages',
    say: list(languageName),
    editor: { kind: 'many', options: known.map((value) => ({ value, words: languageName(value) })) },
  };
}

function choice(key: string, label: string, words: Readonly<Record<string, string>>): SlotPart {
  return {
    path: [key],
    label,
    say: (value) => words[String(value)] ?? String(value),
    editor: { kind: 'choice', options: Object.entries(words).map(([value, w]) => ({ value, words: w })) },
  };
}

function pixels(key: string, label: string, least: number, most: number): SlotPart {
  return {
    path: [key],
    label,
    say: (value) => `${String(value)} px`,
    editor: { kind: 'number', unit: 'px', least, most },
  };
}

const LANGUAGE_BY_SLOT = choice('languageBy', 'Who decides the language', LANGUAGE_BY_WORDS);
const FACE_SLOT = choice('face', 'Letters', pick(FACES, FACE_WORDS));
const SIZE_SLOT = pixels('size', 'Size of the text', 14, 22);
const RADIUS_SLOT = pixels('radius', 'Rounding of corners', 0, 24);
const AGAIN_PLACE_SLOT = choice('again', 'Where a visitor comes back', pick(AGAIN_PLACES, AGAIN_WORDS));

function pick(keys: readonly string[], words: Readonly<Record<string, string>>): Record<string, string> {
  return Object.fromEntries(keys.map((k) => [k, words[k] ?? k]));
}

const CSS_SLOT: SlotPart = {
  path: ['css'],
  label: 'Own style',
  say: (value) => (value === '' ? 'none' : `${String(value).split('\n').length} lines of CSS`),
  editor: { kind: 'text', most: 4000, long: true },
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
  language: string,
  codes: readonly string[],
  purposes: readonly Purpose[],
): Sentence {
  const slot = (
    path: readonly string[],
    label: string,
    most: number,
    { long = false, rich = false } = {},
  ): SlotPart => ({
    path: ['texts', language, ...path],
    label,
    told: `${label}, ${languageName(language)}`,
    say: rich ? (value) => plainRich(String(value)) : String,
    editor: { kind: 'text', most, ...(long ? { long } : {}), ...(rich ? { rich } : {}) },
  });
  return [
    ...LINES.map((key) => ({
      label: TEXT_WORDS[key],
      parts: [
        slot([key], TEXT_WORDS[key], key === 'body' ? 1200 : key === 'title' ? 120 : 40, {
          long: key === 'body',
          rich: key === 'body',
        }),
      ],
    })),
    ...codes.map((code) => {
      const name = purposeName(purposes, code);
      return {
        label: name,
        parts: [
          slot(['purposes', code, 'name'], `Name of ${name}`, 60),
          ': ',
          slot(['purposes', code, 'text'], `Text of ${name}`, 400, { long: true }),
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
    ...Object.keys(LANGUAGES).flatMap((l) => noticeTexts(l, codes, purposes)),
  ].flatMap((line) => line.parts.filter((p) => typeof p !== 'string'));
  return sentenceVocabulary(slots, {
    path: (path) => {
      const [first, language = '', third, code] = path;
      if (first !== 'texts') return tcfPath(path);
      const words = languageName(language);
      return third === 'purposes' && code !== undefined
        ? `${purposeName(purposes, code)}, ${words}`
        : `${words} text`;
    },
    value: tcfValue,
  });
}

function list(word: (code: string) => string): (value: Json) => string {
  return (value) =>
    Array.isArray(value) ? value.map((v: Json) => word(String(v))).join(', ') : word(String(value));
}
