import { z } from 'zod';
import { PurposeCode } from './purpose-code.ts';

const Text = (name: string, most: number) =>
  z.string().trim().max(most, `${name} can have ${most} characters at most`);

const PurposeText = z.strictObject({
  name: Text('A purpose’s name', 60),
  text: Text('A purpose’s text', 400),
});

export const NoticeText = z.strictObject({
  title: Text('The title', 120),
  body: Text('The text', 1200),
  accept: Text('The allowing button', 40),
  refuse: Text('The refusing button', 40),
  choose: Text('The choosing button', 40),
  save: Text('The saving button', 40),
  reopen: Text('The link that opens it again', 40),
  purposes: z.record(PurposeCode, PurposeText),
});
export type NoticeText = z.infer<typeof NoticeText>;

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

/** What a notice says and asks. Versions of it are kept for ever, since consent records point at them. */
export const NoticeContent = z.strictObject({
  /** Purposes asked for, in the order shown; Essential is told, never asked. */
  purposes: z.array(PurposeCode).min(1, 'Ask for at least one purpose, or you need no notice').max(12),
  languages: z.array(z.enum(['en', 'da'])).min(1, 'Choose at least one language'),
  askAgainMonths: z.int().min(1, 'At least 1 month').max(24, 'At most 24 months'),
  texts: z.partialRecord(z.enum(['en', 'da']), NoticeText),
  layout: z.enum(LAYOUTS),
  colours: z.strictObject({ background: Colour, text: Colour, button: Colour, buttonText: Colour }),
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

/** What a new notice starts from: complete in both languages, so that it can be in force at once. */
export function firstNotice(): NoticeContent {
  return {
    purposes: ['preferences', 'measurement', 'advertising'],
    languages: ['en', 'da'],
    askAgainMonths: 6,
    texts: { en: ENGLISH, da: DANISH },
    layout: 'strip',
    colours: { background: '#fcfcf9', text: '#18262b', button: '#14403d', buttonText: '#ffffff' },
    policyUrl: '',
  };
}

const ENGLISH: NoticeText = {
  title: 'Your choice about this site',
  body: 'We keep what the site needs to work. With your permission we also remember your settings, count visits and show advertising. You can change your mind at any time.',
  accept: 'Allow all',
  refuse: 'Refuse all',
  choose: 'Choose purposes',
  save: 'Save my choice',
  reopen: 'Privacy choice',
  purposes: {
    essential: {
      name: 'Essential',
      text: 'Keeps you signed in, guards forms and remembers this choice. Always on.',
    },
    preferences: { name: 'Preferences', text: 'Remembers settings such as language and currency.' },
    measurement: { name: 'Measurement', text: 'Counts visits, so that we see which pages help.' },
    advertising: {
      name: 'Advertising',
      text: 'Shows and measures advertising that fits what you looked at.',
    },
  },
};

const DANISH: NoticeText = {
  title: 'Dit valg på dette websted',
  body: 'Vi gemmer det, som webstedet skal bruge for at virke. Med din tilladelse husker vi også dine indstillinger, tæller besøg og viser annoncer. Du kan altid ændre dit valg.',
  accept: 'Tillad alle',
  refuse: 'Afvis alle',
  choose: 'Vælg formål',
  save: 'Gem mit valg',
  reopen: 'Privatlivsvalg',
  purposes: {
    essential: {
      name: 'Nødvendige',
      text: 'Holder dig logget ind, beskytter formularer og husker dette valg. Altid til.',
    },
    preferences: { name: 'Indstillinger', text: 'Husker indstillinger som sprog og valuta.' },
    measurement: { name: 'Måling', text: 'Tæller besøg, så vi kan se, hvilke sider der hjælper.' },
    advertising: { name: 'Annoncer', text: 'Viser og måler annoncer, der passer til det, du har set på.' },
  },
};
