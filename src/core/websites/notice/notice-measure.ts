import { z } from 'zod';
import { LEAST_CONTRAST, type Fairness } from './fairness.ts';

const Box = z.object({
  width: z.number(),
  height: z.number(),
  /** Pixels. */
  fontSize: z.number(),
  fontWeight: z.number(),
  /** Of its text against its ground, as it was rendered. */
  contrast: z.number(),
  /** Whole within the window, and nothing lies over its middle. */
  reachable: z.boolean(),
});

/** The notice as a browser rendered it. */
export const NoticeMeasure = z.object({
  /** Of the window, in [0, 1]. */
  covers: z.number(),
  /** What is under the middle of the window, once the notice is there, is the notice. */
  overMiddle: z.boolean(),
  /** The page can be scrolled and its links pressed. */
  pageUsable: z.boolean(),
  refuse: Box.nullable(),
  accept: Box.nullable(),
  /** Presses until the refusal, and until the permission, is given. */
  acts: z.object({ refuse: z.int(), accept: z.int() }),
  ticked: z.array(z.string()),
  textSize: z.number(),
  textContrast: z.number(),
  /** Controls smaller than 24 by 24 pixels. */
  small: z.array(z.string()),
});
export type NoticeMeasure = z.infer<typeof NoticeMeasure>;

const FREELY = 'GDPR, art. 4(11) and 7(4); EDPB guidelines 05/2020, 13; 03/2022, 3.3';
const WALL = 'EDPB guidelines 05/2020, 39 to 41';

/** What was measured, as findings. Where the law does not ask first, what runs until refused may stand ticked. */
export function measuredFairness(m: NoticeMeasure, asksFirst: boolean): readonly Fairness[] {
  const { refuse, accept } = m;
  const both = refuse && accept ? { refuse, accept } : null;
  const sameWeight = both !== null && weighsSame(both.refuse, both.accept);
  const finding = (met: boolean, good: string, bad: string, law: string, fix: string): Fairness => ({
    ...{ met, blocks: false, law, fix },
    words: met ? good : bad,
  });
  return [
    finding(
      both !== null && m.acts.refuse <= m.acts.accept,
      `Refusing takes ${acts(m.acts.refuse)}, as accepting does`,
      refuse
        ? `Refusing takes ${acts(m.acts.refuse)}, accepting ${acts(m.acts.accept)}`
        : 'There is nothing to refuse with at first sight',
      FREELY,
      'Put the refusal beside the permission, in the first layer.',
    ),
    finding(
      sameWeight,
      'Both answers have the same weight',
      both
        ? `Refusing is the lesser: ${size(both.refuse)} against ${size(both.accept)}`
        : 'The two answers cannot be compared',
      FREELY,
      'Give both the same size, letters and contrast.',
    ),
    finding(
      both !== null && both.refuse.reachable && both.accept.reachable,
      'Both answers can be reached without scrolling',
      'An answer lies outside the window, or under something else',
      FREELY,
      'Shorten the text, or choose a layout with more room.',
    ),
    ...(asksFirst
      ? [
          finding(
            m.ticked.length === 0,
            'Nothing was ticked as it opened',
            `Ticked as it opened: ${m.ticked.join(', ')}`,
            'GDPR, art. 4(11), recital 32; CJEU C-673/17',
            'Nothing may be chosen beforehand where consent is asked.',
          ),
        ]
      : []),
    finding(
      m.pageUsable,
      `The page can be used beside it (it covers ${Math.round(m.covers * 100)} %)`,
      'The page cannot be used until somebody answers',
      WALL,
      'Choose a layout that leaves the page usable.',
    ),
    finding(
      m.textSize >= 14 && m.textContrast >= LEAST_CONTRAST,
      `Text of ${m.textSize} px, contrast ${m.textContrast.toFixed(1)} to 1, as rendered`,
      `Text of ${m.textSize} px, contrast ${m.textContrast.toFixed(1)} to 1, as rendered: too faint or too small`,
      'WCAG 2.2, 1.4.3; GDPR, art. 12(1)',
      'Larger letters, or colours further apart; look at the own style.',
    ),
    finding(
      m.small.length === 0,
      'Every control is at least 24 by 24 pixels',
      `Too small to press: ${m.small.slice(0, 4).join(', ')}`,
      'WCAG 2.2, 2.5.8',
      'Give the controls more room.',
    ),
  ];
}

function weighsSame(refuse: z.infer<typeof Box>, accept: z.infer<typeof Box>): boolean {
  const near = (a: number, b: number) => Math.abs(a - b) <= 0.1 * Math.max(a, b);
  return (
    near(refuse.width * refuse.height, accept.width * accept.height) &&
    near(refuse.fontSize, accept.fontSize) &&
    refuse.fontWeight >= accept.fontWeight &&
    refuse.contrast >= Math.min(accept.contrast, LEAST_CONTRAST)
  );
}

function acts(n: number): string {
  return n === 1 ? 'one press' : `${n} presses`;
}

function size(b: z.infer<typeof Box>): string {
  return `${Math.round(b.width)} × ${Math.round(b.height)} px, ${b.fontSize} px letters, contrast ${b.contrast.toFixed(1)}`;
}
