import { z } from 'zod';
import { KEEP_FROM } from './confidence.ts';

/** Doublings of the odds; see `confidence.ts`. */
const Steps = z.number().min(-12).max(12);
const Words = z.array(z.string().trim().min(1).max(120)).min(1).max(20_000);
const PatternText = z.string().min(1).max(12_000);
export const DetectorId = z
  .string()
  .regex(/^[a-z][a-z0-9-]{1,63}$/, 'Lower-case letters, digits and hyphens, such as crew-number');

const Headings = z.array(z.string().max(120)).max(2000);
/**
 * What fills a field or a cell under such a heading counts too, where all of it is written like the pattern. The heading
 * is the whole name, but for whose it is: “patient diagnosis”, and not “fault diagnosis”.
 */
const Field = z.object({ headings: Headings.min(1), pattern: PatternText });

/** What a pattern detector looks for first. */
export const Anchor = z.discriminatedUnion('by', [
  z.object({
    by: z.literal('pattern'),
    /** A regular expression (ECMAScript, flag `u`); the whole match is the value, so what only leads to it stands in a lookbehind. */
    pattern: PatternText,
    ignoreCase: z.boolean().default(false),
    field: Field.optional(),
  }),
  /**
   * Whole words; one that ends in `*` matches every word that begins so, one with a capital only words with one. Or
   * what the pattern matches, in capitals or not.
   */
  z.object({
    by: z.literal('words'),
    words: Words,
    pattern: PatternText.optional(),
    field: Field.optional(),
  }),
  /** One of the engine's own. */
  z.object({
    by: z.literal('function'),
    name: z.enum(['person name', 'field']),
    /** Headings whose cells are looked at whole. */
    headings: Headings.default([]),
  }),
]);
export type Anchor = z.infer<typeof Anchor>;

const passes = { passes: Steps.default(0), fails: z.union([z.literal('drop'), Steps]).default('drop') };

export const Check = z.discriminatedUnion('check', [
  /** A named algorithm of `check-digit.ts`. */
  z.object({ check: z.literal('check digit'), by: z.string().min(1).max(60), ...passes }),
  /** The digits of the value hold a date in this order; letters stand for one digit each: `ddmmyy……`. */
  z.object({ check: z.literal('date'), digits: z.string().regex(/^[dmyx]{6,20}$/), ...passes }),
  z.object({ check: z.literal('range'), from: z.number(), to: z.number(), ...passes }),
  z.object({
    check: z.literal('length'),
    of: z.enum(['digits', 'characters']),
    from: z.int().min(0),
    to: z.int().min(0),
    ...passes,
  }),
  z.object({ check: z.literal('begins with'), any: Words, ...passes }),
  z.object({ check: z.literal('is none of'), values: Words, ...passes }),
  z.object({ check: z.literal('is one of'), values: Words, ...passes }),
  z.object({ check: z.literal('does not match'), pattern: PatternText, ...passes }),
  /** Letters and digits as mixed as chance would have them, in bits a character. */
  z.object({ check: z.literal('entropy'), from: z.number().min(0).max(8), ...passes }),
]);
export type Check = z.infer<typeof Check>;

export const PLACES = [
  'before',
  'after',
  'brackets',
  'around',
  'line',
  'sentence',
  'cell',
  'heading',
] as const;
export const Context = z.object({
  /**
   * `heading` is a column's heading or a field's name, `brackets` are those that open right behind the match. Of what
   * stands before it, in its brackets or in the heading, only the nearest counts.
   */
  where: z.enum(PLACES),
  /** Characters, for before, after and around. */
  within: z.int().min(1).max(400).default(60),
  words: Words.optional(),
  pattern: PatternText.optional(),
  detector: DetectorId.optional(),
  steps: Steps,
});
export type Context = z.infer<typeof Context>;

export const CATEGORIES = [
  'identity',
  'contact',
  'finance',
  'health',
  'travel',
  'network',
  'credential',
  'special category',
  'offence',
  'child',
  'own',
] as const;
export type Category = (typeof CATEGORIES)[number];

export const PatternDetector = z.object({
  kind: z.literal('pattern'),
  id: DetectorId,
  name: z.string().trim().min(1).max(120),
  about: z.string().max(2000).default(''),
  category: z.enum(CATEGORIES).default('own'),
  /** ISO 3166-1; empty where it belongs to no country. */
  country: z.string().max(2).default(''),
  /** The standard or law the shape is taken from. */
  source: z.string().max(500).default(''),
  version: z.int().min(1).default(1),
  anchor: Anchor,
  /** What the anchor alone is worth. */
  start: Steps.default(0),
  checks: z.array(Check).max(20).default([]),
  context: z.array(Context).max(40).default([]),
  /** Values that never count, compared as written and without spaces and signs; or patterns that a value must not match. */
  exclude: z
    .object({
      values: z.array(z.string().max(400)).max(20_000).default([]),
      patterns: z.array(PatternText).max(50).default([]),
    })
    .default({ values: [], patterns: [] }),
  /** Distinct values a document needs before the detector counts it. */
  atLeast: z.int().min(1).max(10_000).default(1),
  keepFrom: z.number().min(0.01).max(0.999).default(KEEP_FROM),
  /** Takes part when several read the same characters: the surest keeps them. */
  competes: z.boolean().default(false),
  mask: z.enum(['ends', 'all', 'none']).default('ends'),
});
export type PatternDetector = z.infer<typeof PatternDetector>;
export type PatternDetectorInput = z.input<typeof PatternDetector>;

/** A detector that ships with the application, and its own test. */
export interface BuiltIn extends PatternDetectorInput {
  /** Texts with the value between ⟦ and ⟧. */
  readonly examples: readonly string[];
  /** Texts in which it must stay silent. */
  readonly counterExamples: readonly string[];
}
