import { plainRich } from '../../text/rich-text.ts';
import { languageName, TEXT_WORDS } from './notice-words.ts';
import type { NoticeContent } from './notice.ts';
import { purposeName, type Purpose } from './purpose.ts';

/** One thing that makes a notice fair or not, as the officer reads it. */
export interface Fairness {
  readonly met: boolean;
  readonly words: string;
  /** Blocks putting it in force. */
  readonly blocks: boolean;
  /** The article or guideline behind it. */
  readonly law: string;
  /** What to do where it is not met. */
  readonly fix: string;
}

const FREELY = 'GDPR, art. 4(11) and 7(4); EDPB guidelines 05/2020, 13';
const WITHDRAW = 'GDPR, art. 7(3)';
const PLAIN = 'GDPR, art. 7(2) and 12(1)';
const INFORMED = 'GDPR, art. 13(1)(c); EDPB guidelines 05/2020, 64';
const CONTRAST = 'WCAG 2.2, 1.4.3 and 1.4.11';
/** LIX: above it a text is hard for most readers (C. H. Björnsson, 1968). */
const HARDEST = 50;

/** WCAG 2.2, 1.4.3: what text must have against its ground. */
export const LEAST_CONTRAST = 4.5;

/**
 * Whether the notice lets a visitor choose freely (GDPR art. 4(11), 7; EDPB guidelines 05/2020). The layout itself
 * gives both answers the same button in the same layer and ticks nothing; here is what its content can spoil.
 */
export function fairness(
  content: NoticeContent,
  purposes: readonly Purpose[],
  /** Purposes that the last sweep found something for; `undefined` where nobody has swept. */
  swept?: readonly string[],
): readonly Fairness[] {
  const { colours } = content;
  const text = contrast(colours.text, colours.background);
  const button = contrast(colours.buttonText, colours.button);
  const seen = contrast(colours.button, colours.background);
  const texts = content.languages.flatMap((l) => (content.texts[l] ? [[l, content.texts[l]] as const] : []));
  const lopsided = texts
    .filter(([, t]) => t.refuse.length > 3 * Math.max(1, t.accept.length))
    .map(([l]) => l);
  const hard = texts.filter(([, t]) => readingLix(plainRich(t.body)) > HARDEST).map(([l]) => l);
  return [
    {
      met: lopsided.length === 0,
      blocks: false,
      words:
        lopsided.length === 0
          ? 'Refuse is as easy as accept'
          : `Refusing takes far more reading than accepting in ${languages(lopsided)}`,
      law: FREELY,
      fix: 'Say the refusal in as few words as the permission.',
    },
    { met: true, blocks: false, words: 'Nothing is ticked beforehand', law: FREELY, fix: '' },
    {
      met: content.again !== 'page',
      blocks: false,
      words:
        content.again === 'page'
          ? 'The way back is left to the page: see that every page has it'
          : 'The way back is on every page',
      law: WITHDRAW,
      fix: 'Put data-yare-open on a link of every page, or let the notice place its own control.',
    },
    {
      met: hard.length === 0,
      blocks: false,
      words:
        hard.length === 0
          ? 'The text is plain to read'
          : `The text is hard to read in ${languages(hard)} (LIX ${hard.map((l) => readingLix(plainRich(content.texts[l]?.body ?? ''))).join(', ')})`,
      law: PLAIN,
      fix: `Shorter sentences and words bring it below LIX ${HARDEST}.`,
    },
    ...[
      { ratio: text, least: LEAST_CONTRAST, what: 'Text' },
      { ratio: button, least: LEAST_CONTRAST, what: 'Button text' },
      { ratio: seen, least: 3, what: 'Button against the ground' },
    ].map(({ ratio, least, what }) => ({
      met: ratio >= least,
      blocks: ratio < least,
      words: `${what}: contrast ${floor1(ratio)} to 1${ratio < least ? `, needs ${least}` : ''}`,
      law: CONTRAST,
      fix: 'Choose colours further apart.',
    })),
    ...(swept ? sweptPurposes(content, purposes, swept) : []),
    ...content.languages.flatMap((l) => missingTexts(content, l, purposes)),
  ];
}

/** Whether the notice asks for what the site does, and for nothing else. */
function sweptPurposes(
  content: NoticeContent,
  purposes: readonly Purpose[],
  swept: readonly string[],
): Fairness[] {
  const asked = purposes.filter((p) => !p.essential);
  const unasked = asked.filter((p) => swept.includes(p.code) && !content.purposes.includes(p.code));
  const idle = asked.filter((p) => content.purposes.includes(p.code) && !swept.includes(p.code));
  const names = (list: readonly Purpose[]) => list.map((p) => p.name).join(', ');
  return [
    {
      met: unasked.length === 0,
      blocks: false,
      words:
        unasked.length === 0
          ? 'It asks for all that the last sweep found'
          : `It does not ask for ${names(unasked)}, which the last sweep found`,
      law: INFORMED,
      fix: 'Ask for it, or take what needs it off the site.',
    },
    ...(idle.length > 0
      ? [
          {
            ...{ met: false, blocks: false, law: INFORMED },
            words: `It asks for ${names(idle)}, for which the last sweep found nothing`,
            fix: 'Do not ask for what nothing needs.',
          },
        ]
      : []),
  ];
}

/** LIX of a text: words a sentence, and the share of words with more than six letters, in percent. */
export function readingLix(text: string): number {
  const words = text.match(/[\p{L}\p{N}’'-]+/gu) ?? [];
  if (words.length === 0) return 0;
  const sentences = Math.max(1, text.match(/[.!?:…]+(\s|$)/gu)?.length ?? 0);
  const long = words.filter((w) => w.length > 6).length;
  return Math.round(words.length / sentences + (100 * long) / words.length);
}

function missingTexts(content: NoticeContent, language: string, purposes: readonly Purpose[]): Fairness[] {
  const text = content.texts[language];
  const name = languageName(language);
  const common = { law: INFORMED, fix: 'Write it, or take the language out.' };
  if (!text) return [{ met: false, blocks: true, words: `${name} text is missing`, ...common }];
  const empty = (['title', 'body', 'accept', 'refuse', 'choose', 'save', 'reopen'] as const).filter(
    (k) => text[k] === '',
  );
  const shown = [...purposes.filter((p) => p.essential).map((p) => p.code), ...content.purposes];
  const lacking = shown.filter((code) => !text.purposes[code]?.name || !text.purposes[code]?.text);
  const troubles = [
    empty.length ? `${name} text lacks ${empty.map((k) => TEXT_WORDS[k]).join(', ')}` : '',
    lacking.length ? `${name} text lacks ${lacking.map((c) => purposeName(purposes, c)).join(', ')}` : '',
  ].filter(Boolean);
  if (troubles.length === 0)
    return [{ met: true, blocks: false, words: `${name} text is complete`, ...common }];
  return troubles.map((words) => ({ met: false, blocks: true, words, ...common }));
}

/** WCAG 2.2 contrast ratio of two sRGB colours, from 1 to 21. */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const c = parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Rounded down, so that 4.46 is never shown as the 4.5 it fails. */
function floor1(ratio: number): string {
  return (Math.floor(ratio * 10) / 10).toFixed(1);
}

function languages(list: readonly string[]): string {
  return list.map(languageName).join(', ');
}
