import { z } from 'zod';

/** Ids that stay as they are from version to version, so that a control is known again when its words change. */
export const Id = z
  .string()
  .regex(/^[a-z0-9]+(?:[.-][a-z0-9]+)*$/, 'Small letters and digits, parted by - or a dot.')
  .max(80);
/** Text in lines; what no file format could carry is refused. */
const Words = (most: number) =>
  z
    .string()
    .overwrite((text) => text.replace(/\r\n?/g, '\n').trim())
    .min(1, 'Say it.')
    .max(most)
    .regex(/^(?:[\t\n]|[^\p{Cc}\p{Cs}\ufffe\uffff])*$/u, 'It has signs that are no text.');

export const DUTIES = ['required', 'by choice'] as const;
export type Duty = (typeof DUTIES)[number];
/** What a control does about what could go wrong. */
export const CONTROL_KINDS = ['prevents', 'detects', 'corrects'] as const;
export type ControlKind = (typeof CONTROL_KINDS)[number];

/** More measures than this answer no control: their shares would not add up exactly. */
export const MOST_MEASURES = 20;

export const MOST_CONTROLS = 5000;
export const MOST_FAMILIES = 60;

export const Control = z.strictObject({
  id: Id,
  /** The id of its family. */
  family: Id,
  /** Where the text has it: “Art. 5(1)(a)”. */
  ref: Words(120),
  name: Words(160),
  duty: z.enum(DUTIES),
  kind: z.enum(CONTROL_KINDS),
  /** From 1, little harm if it is missing, to 5. */
  risk: z.int().min(1).max(5),
  guidance: Words(1200),
  /** Ids of measures that answer it. */
  measures: z.array(Id).max(MOST_MEASURES, `${MOST_MEASURES} measures at most.`),
});
export type Control = z.infer<typeof Control>;

export const Family = z.strictObject({ id: Id, name: Words(120) });
export type Family = z.infer<typeof Family>;

/** What a law or a standard asks, control by control. */
export const Framework = z.strictObject({
  format: z.literal('yare-framework-1'),
  id: Id,
  /** Of this file: the day on which the text stood so. */
  version: z.iso.date(),
  name: Words(80),
  title: Words(300),
  issuer: Words(200),
  /** ISO 3166 codes of where it holds; empty where it holds by choice. */
  regions: z.array(z.string().regex(/^[A-Z]{2}(?:-[A-Z0-9]{1,3})?$/)).max(60),
  /** What of its text is in here, and what is not. */
  covers: Words(600),
  /** Whether that is all of it. */
  whole: z.boolean(),
  families: z.array(Family).min(1).max(MOST_FAMILIES),
  controls: z.array(Control).min(1).max(MOST_CONTROLS),
});
export type Framework = z.infer<typeof Framework>;

export const OWNERS = ['ours', 'provider'] as const;

/** One piece of work, which may answer controls of many frameworks. */
export const Measure = z.strictObject({
  id: Id,
  name: Words(160),
  steps: z.array(Words(400)).min(1).max(12),
  /** What shows that it is done. */
  evidence: z.array(Words(300)).min(1).max(12),
  /** Working hours that it takes as a rule, once. */
  hours: z.number().positive().max(2000),
  /** Who has to do it: the organisation itself, or whoever it hired. */
  whose: z.enum(OWNERS),
  /** Where in the program it is done; absent where it is done outside. */
  where: z
    .string()
    .regex(/^\/[\w/?=&-]*$/)
    .max(200)
    .optional(),
  /** What the program can see of it: a figure, and up to where it is right. */
  test: z
    .strictObject({
      figure: z.string().max(80),
      atMost: z.number().optional(),
      atLeast: z.number().optional(),
      /** Held against its share of what it is out of, from 0 to 1. */
      share: z.literal(true).optional(),
    })
    .refine((t) => (t.atMost === undefined) !== (t.atLeast === undefined), 'Either at most, or at least.')
    .optional(),
});
export type Measure = z.infer<typeof Measure>;

export const MeasureFile = z.strictObject({
  format: z.literal('yare-measures-1'),
  measures: z.array(Measure).max(5000),
});
