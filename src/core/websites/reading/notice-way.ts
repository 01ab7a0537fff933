import { z } from 'zod';

const Words = z.string().max(120);

/** One act on a notice: a press on the control with these words (`nth` of those that say the same), or all switches set. */
export const NoticeAct = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('press'), words: Words, nth: z.int().min(0).max(40) }),
  z.strictObject({ act: z.literal('set'), on: z.array(Words).max(24) }),
]);
export type NoticeAct = z.infer<typeof NoticeAct>;

export const NoticeWay = z.array(NoticeAct).max(6);
export type NoticeWay = z.infer<typeof NoticeWay>;

export function sameWay(a: NoticeWay, b: NoticeWay): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/** The words of the control that a way ends with; '' where it presses none. */
export function lastWords(way: NoticeWay): string {
  const last = way.at(-1);
  return last?.act === 'press' ? last.words : '';
}

/** A way as a person reads it: `“Let me pick”, all switches off, “Save these”`; `switches` stands for however they are set. */
export function wayWords(way: NoticeWay, switches?: string): string {
  return way
    .map((act) => {
      if (act.act === 'press') return act.words === '' ? 'a control without words' : `“${act.words}”`;
      if (switches !== undefined) return switches;
      if (act.on.length === 0) return 'all switches off';
      return `only ${act.on.map((w) => `“${w}”`).join(', ')} on`;
    })
    .join(', ');
}
