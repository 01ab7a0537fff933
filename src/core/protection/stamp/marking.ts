import { z } from 'zod';

const Colour = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'A colour such as #a5106b.');
const Text = z.string().trim().min(1, 'Type what it says.').max(300);

const Line = z.strictObject({
  text: Text,
  /** Points. */
  size: z.number().min(4).max(72).default(10),
  colour: Colour.default('#000000'),
  align: z.enum(['left', 'centre', 'right']).default('centre'),
});

/** What is stamped on a document: any of three lines. In texts `{level}`, `{owner}`, `{date}` and `{file}` stand for values. */
export const Marking = z.strictObject({
  header: Line.nullable().default(null),
  footer: Line.nullable().default(null),
  watermark: z
    .strictObject({
      text: Text,
      size: z.number().min(8).max(200).default(60),
      colour: Colour.default('#c0c0c0'),
      /** Degrees against the clock. */
      angle: z.number().min(-90).max(90).default(45),
    })
    .nullable()
    .default(null),
});
export type Marking = z.infer<typeof Marking>;
export type MarkingInput = z.input<typeof Marking>;

/** What texts of a marking can name. */
export interface MarkingValues {
  readonly level: string;
  readonly owner: string;
  /** As it is shown. */
  readonly date: string;
  readonly file: string;
}

/** The marking with its values put in; a name that is none of them stays as it is typed. */
export function filled(marking: Marking, values: MarkingValues): Marking {
  const fill = (text: string) =>
    text.replace(/\{(level|owner|date|file)\}/g, (_, name: keyof MarkingValues) => oneLine(values[name]));
  return {
    header: marking.header && { ...marking.header, text: fill(marking.header.text) },
    footer: marking.footer && { ...marking.footer, text: fill(marking.footer.text) },
    watermark: marking.watermark && { ...marking.watermark, text: fill(marking.watermark.text) },
  };
}

/** What no document can hold in one line of text (XML 1.0, Char), and what would break it. */
function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\p{Cs}\ufffe\uffff\u2028\u2029]+/gu, ' ').slice(0, 500);
}

/** The level a document carries, as it stands in its metadata. */
export interface CarriedLevel {
  readonly id: string;
  readonly name: string;
}

/** A document that cannot be stamped, with the reason; it stays as it is. */
export class UnstampableError extends Error {
  constructor(
    readonly why: 'signed' | 'encrypted' | 'damaged' | 'changed' | 'another kind' | 'no room',
    message: string,
  ) {
    super(message);
  }
}
