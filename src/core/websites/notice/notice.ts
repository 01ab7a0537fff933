import { z } from 'zod';
import { cssFaults } from './own-css.ts';
import { EMPTY_TEXT, NoticeText } from './notice-text.ts';
import { PurposeCode } from './purpose-code.ts';
import { shippedText } from './shipped-texts.ts';
import { TcfSettings } from '../tcf/tcf-settings.ts';

const Colour = z
  .string()
  .regex(/^#[0-9a-f]{6}$/i, 'Give a colour as # and six hexadecimal digits, such as #14403d');

/** How a notice lies on the page. None of them keeps a visitor from the page. */
export const LAYOUTS = ['strip', 'corner card', 'side sheet', 'centred dialog'] as const;
export type Layout = (typeof LAYOUTS)[number];

export const LAYOUT_WORDS: Readonly<Record<Layout, string>> = {
  strip: 'a strip along the foot of the window',
  'corner card': 'a card in the corner',
  'side sheet': 'a sheet as high as the window, at its side',
  'centred dialog': 'a dialog in the middle, with the page usable around it',
};

/** BCP 47, as far as a notice can speak it. */
export const LanguageTag = z
  .string()
  .max(20, 'At most 20 characters')
  .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'Give a language as its tag, such as sv or pt-BR');

/** Letters of a notice. */
export const FACES = ['sans', 'serif', 'page'] as const;
export const FACE_WORDS: Readonly<Record<(typeof FACES)[number], string>> = {
  sans: 'the system’s sans-serif',
  serif: 'the system’s serif',
  page: 'the letters of the page',
};

/** Where the control stands with which a visitor comes back. */
export const AGAIN_PLACES = ['left', 'right', 'page'] as const;
export const AGAIN_WORDS: Readonly<Record<(typeof AGAIN_PLACES)[number], string>> = {
  left: 'at the foot of the window, on the left',
  right: 'at the foot of the window, on the right',
  page: 'where the page itself puts it',
};

/** What a notice says and asks. Versions of it are kept for ever, since consent records point at them. */
export const NoticeContent = z.strictObject({
  /** Purposes asked for, in the order shown; Essential is told, never asked. */
  purposes: z.array(PurposeCode).min(1, 'Ask for at least one purpose, or you need no notice').max(12),
  /** The first is spoken where neither the page nor the visitor speaks another of them. */
  languages: z.array(LanguageTag).min(1, 'Choose at least one language').max(40, 'At most 40 languages'),
  languageBy: z.enum(['page', 'visitor', 'first']),
  askAgainMonths: z.int().min(1, 'At least 1 month').max(24, 'At most 24 months'),
  texts: z.record(LanguageTag, NoticeText),
  layout: z.enum(LAYOUTS),
  colours: z.strictObject({ background: Colour, text: Colour, button: Colour, buttonText: Colour }),
  face: z.enum(FACES),
  /** Pixels. */
  size: z.int().min(14, 'At least 14 px').max(22, 'At most 22 px'),
  radius: z.int().min(0, 'At least 0 px').max(24, 'At most 24 px'),
  again: z.enum(AGAIN_PLACES),
  css: z
    .string()
    .max(4000, 'At most 4000 characters')
    .superRefine((css, ctx) => {
      for (const { line, words } of cssFaults(css).slice(0, 5))
        ctx.addIssue({ code: 'custom', message: `Line ${line}: ${words}` });
    }),
  /** Takes part in the Transparency and Consent Framework, where it is not null. */
  tcf: TcfSettings.nullable(),
  policyUrl: z.union([
    z.literal(''),
    z.url({ protocol: /^https?$/, error: 'Give a whole web address, or leave it empty' }),
  ]),
});
export type NoticeContent = z.infer<typeof NoticeContent>;

export const COLOUR_WORDS = {
  background: 'ground',
  text: 'text',
  button: 'buttons',
  buttonText: 'button text',
} as const;

/** How a notice looks that nobody has said more of. */
export const LOOKS_AT_FIRST = { face: 'sans', size: 16, radius: 3, again: 'left', css: '' } as const;

/** What is said of who decides the language. */
export const LANGUAGE_BY_WORDS = {
  page: 'by the page’s language, then the visitor’s',
  visitor: 'by the visitor’s language, then the page’s',
  first: 'always the first',
} as const;

/** What a new notice starts from: complete in both languages, so that it can be in force at once. */
export function firstNotice(): NoticeContent {
  return {
    purposes: ['preferences', 'measurement', 'advertising'],
    languages: ['en', 'da'],
    languageBy: 'page',
    askAgainMonths: 6,
    texts: { en: shippedText('en') ?? EMPTY_TEXT, da: shippedText('da') ?? EMPTY_TEXT },
    layout: 'strip',
    ...LOOKS_AT_FIRST,
    colours: { background: '#fcfcf9', text: '#18262b', button: '#14403d', buttonText: '#ffffff' },
    tcf: null,
    policyUrl: '',
  };
}
