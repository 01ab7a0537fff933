import { z } from 'zod';
import { KEEP_FROM } from './confidence.ts';
import { DetectorId, PatternDetector } from './detector.ts';
import { LIKENESS_FROM } from '../likeness/likeness.ts';

const Headings = z.array(z.string().trim().min(1).max(200)).max(10);
const Templates = z
  .array(
    z.object({
      name: z.string().max(260),
      /** SHA-256 of its text, in hex. */
      digest: z.string().regex(/^[0-9a-f]{64}$/),
    }),
  )
  .max(50, 'At most 50 documents to one detector');
const Named = {
  id: DetectorId,
  name: z.string().trim().min(1, 'Give it a name').max(120, 'A name of at most 120 characters'),
  about: z.string().max(2000).default(''),
};

/** Finds the records of a table that is known. */
export const RosterDetector = z.object({
  kind: z.literal('roster'),
  ...Named,
  /** Headings of columns each of which alone names a record. */
  keys: Headings.min(1, 'Choose at least one column that names a record'),
  /** Headings of columns that confirm it. */
  beside: Headings.default([]),
  /** Confirming values that must stand near a key. */
  corroboration: z.int().min(0).max(10).default(0),
  /** Characters. */
  within: z.int().min(10).max(400).default(120),
  keepFrom: z.number().min(0.01).max(0.999).default(KEEP_FROM),
});
export type RosterDetector = z.infer<typeof RosterDetector>;

/** Recognises copies and excerpts of known documents. */
export const LikenessDetector = z.object({
  kind: z.literal('likeness'),
  ...Named,
  templates: Templates.min(1, 'Add at least one blank document'),
  /** The least measure that counts. */
  from: z.number().min(0.05).max(1).default(LIKENESS_FROM),
});
export type LikenessDetector = z.infer<typeof LikenessDetector>;

/** Tells documents of a kind from others, as learned from examples. */
export const LearnedDetector = z.object({
  kind: z.literal('learned'),
  ...Named,
  /** How bad each error is against the other; they choose the threshold. */
  costs: z.object({ falseAlarm: z.number().min(0.01).max(1000), miss: z.number().min(0.01).max(1000) }),
  /** Set by hand; `null` leaves it to the costs. */
  threshold: z.number().min(0).max(1).nullable(),
  /** Number of the training whose model it uses. */
  training: z.int('Train it first').min(1, 'Train it first'),
});
export type LearnedDetector = z.infer<typeof LearnedDetector>;

/** A draft: of the right shape, but what it is made from may still be missing. */
export const DetectorDraft = z.discriminatedUnion('kind', [
  PatternDetector,
  RosterDetector.extend({ keys: Headings }),
  LikenessDetector.extend({ templates: Templates }),
  LearnedDetector.extend({ training: z.int().min(0) }),
]);

/** A detector of the organisation's own, whole enough to be rehearsed. */
export const OwnDetector = z.discriminatedUnion('kind', [
  PatternDetector,
  RosterDetector,
  LikenessDetector,
  LearnedDetector,
]);
export type OwnDetector = z.infer<typeof OwnDetector>;
export type DetectorKind = OwnDetector['kind'];
export const DETECTOR_KINDS = ['pattern', 'roster', 'likeness', 'learned'] as const;

export const KIND_WORDS: Readonly<Record<DetectorKind, string>> = {
  pattern: 'pattern',
  roster: 'known records',
  likeness: 'known document',
  learned: 'learned from examples',
};

/** What a new detector of a kind begins as; it may not be whole yet. */
export function newDetector(kind: DetectorKind, id: string, name: string): OwnDetector {
  switch (kind) {
    case 'pattern':
      return PatternDetector.parse({ kind, id, name, anchor: { by: 'words', words: ['?'] } });
    case 'roster':
      return {
        kind,
        id,
        name,
        about: '',
        keys: [],
        beside: [],
        corroboration: 0,
        within: 120,
        keepFrom: KEEP_FROM,
      };
    case 'likeness':
      return { kind, id, name, about: '', templates: [], from: LIKENESS_FROM };
    case 'learned':
      return { kind, id, name, about: '', costs: { falseAlarm: 1, miss: 1 }, threshold: null, training: 0 };
  }
}

/** An id made of a name: `Crew number` becomes `crew-number`, and `crew-number-2` where that is taken. */
export function idOf(name: string, taken: ReadonlySet<string>): string {
  const plain = name
    .normalize('NFKD')
    .replace(/[øØ]/g, 'o')
    .replace(/[æÆ]/g, 'ae')
    .replace(/ß/g, 'ss')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '')
    .slice(0, 50);
  const base = plain.length < 2 ? 'detector' : plain;
  for (let n = 1; ; n++) {
    const id = n === 1 ? base : `${base}-${n}`;
    if (!taken.has(id)) return id;
  }
}
