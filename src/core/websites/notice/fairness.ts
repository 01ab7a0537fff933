import { languageName, TEXT_WORDS } from './notice-words.ts';
import type { NoticeContent } from './notice.ts';
import { purposeName, type Purpose } from './purpose.ts';

/** One thing that makes a notice fair or not, as the officer reads it. */
export interface Fairness {
  readonly met: boolean;
  readonly words: string;
  /** Blocks putting it in force. */
  readonly blocks: boolean;
}

/** WCAG 2.2, 1.4.3: what text must have against its ground. */
export const LEAST_CONTRAST = 4.5;

/**
 * Whether the notice lets a visitor choose freely (GDPR art. 4(11), 7; EDPB guidelines 05/2020). The layout itself
 * gives both answers the same button in the same layer and ticks nothing; here is what its content can spoil.
 */
export function fairness(content: NoticeContent, purposes: readonly Purpose[]): readonly Fairness[] {
  const { colours } = content;
  const text = contrast(colours.text, colours.background);
  const button = contrast(colours.buttonText, colours.button);
  const seen = contrast(colours.button, colours.background);
  const lopsided = content.languages.filter((l) => {
    const t = content.texts[l];
    return t !== undefined && t.refuse.length > 3 * Math.max(1, t.accept.length);
  });
  return [
    {
      met: lopsided.length === 0,
      blocks: false,
      words:
        lopsided.length === 0
          ? 'Refuse is as easy as accept'
          : `Refusing takes far more reading than accepting in ${languages(lopsided)}`,
    },
    { met: true, blocks: false, words: 'Nothing is ticked beforehand' },
    ...[
      { ratio: text, least: LEAST_CONTRAST, what: 'Text' },
      { ratio: button, least: LEAST_CONTRAST, what: 'Button text' },
      { ratio: seen, least: 3, what: 'Button against the ground' },
    ].map(({ ratio, least, what }) => ({
      met: ratio >= least,
      blocks: ratio < least,
      words: `${what}: contrast ${floor1(ratio)} to 1${ratio < least ? `, needs ${least}` : ''}`,
    })),
    ...content.languages.flatMap((l) => missingTexts(content, l, purposes)),
  ];
}

function missingTexts(content: NoticeContent, language: string, purposes: readonly Purpose[]): Fairness[] {
  const text = content.texts[language];
  const name = languageName(language);
  if (!text) return [{ met: false, blocks: true, words: `${name} text is missing` }];
  const empty = (['title', 'body', 'accept', 'refuse', 'choose', 'save', 'reopen'] as const).filter(
    (k) => text[k] === '',
  );
  const shown = [...purposes.filter((p) => p.essential).map((p) => p.code), ...content.purposes];
  const lacking = shown.filter((code) => !text.purposes[code]?.name || !text.purposes[code]?.text);
  const troubles = [
    empty.length ? `${name} text lacks ${empty.map((k) => TEXT_WORDS[k]).join(', ')}` : '',
    lacking.length ? `${name} text lacks ${lacking.map((c) => purposeName(purposes, c)).join(', ')}` : '',
  ].filter(Boolean);
  if (troubles.length === 0) return [{ met: true, blocks: false, words: `${name} text is complete` }];
  return troubles.map((words) => ({ met: false, blocks: true, words }));
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
