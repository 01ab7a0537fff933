import { z } from 'zod';

/**
 * Severity of a breach of personal data by the recommendations of ENISA (Recommendations for a methodology of the assessment
 * of severity of personal data breaches, 2013): SE = DPC × EI + CB.
 */

/** Kinds of data, with the score that each begins with (annex 1). */
export const DATA_KINDS = { simple: 1, behavioural: 2, financial: 3, sensitive: 4 } as const;
export type DataKind = keyof typeof DATA_KINDS;

/** How easily people can be told by it (annex 2). */
export const EASE = { negligible: 0.25, limited: 0.5, significant: 0.75, maximum: 1 } as const;
export type Ease = keyof typeof EASE;

/** What was lost, and how widely (annex 3). */
export const CIRCUMSTANCES = {
  confidentiality: { none: 0, 'known recipients': 0.25, 'unknown recipients': 0.5 },
  integrity: { none: 0, 'can be put right': 0.25, 'cannot be put right': 0.5 },
  availability: { none: 0, 'for a while': 0.25, 'for good': 0.5 },
} as const;

export const SeverityInput = z.strictObject({
  data: z.enum(['simple', 'behavioural', 'financial', 'sensitive']),
  /** What in this case makes it more or less than its kind begins with; within 1 and 4 in all. */
  adjust: z.int().min(-3).max(3),
  why: z.string().trim().max(500).default(''),
  ease: z.enum(['negligible', 'limited', 'significant', 'maximum']),
  confidentiality: z.enum(['none', 'known recipients', 'unknown recipients']),
  integrity: z.enum(['none', 'can be put right', 'cannot be put right']),
  availability: z.enum(['none', 'for a while', 'for good']),
  malicious: z.boolean(),
  /** Encrypted, with a key that nobody else has. */
  unreadable: z.boolean(),
});
export type SeverityInput = z.infer<typeof SeverityInput>;

export const SEVERITY_LEVELS = ['low', 'medium', 'high', 'very high'] as const;
export type SeverityLevel = (typeof SEVERITY_LEVELS)[number];

export interface Severity {
  readonly score: number;
  readonly level: SeverityLevel;
  /** Each step of the sum, as it is shown. */
  readonly steps: readonly { readonly words: string; readonly value: number }[];
  /** What the method has beside the sum. */
  readonly flags: readonly string[];
}

const MANY = 100;

/** The score with its arithmetic; `people` as far as it is known. */
export function severityOf(s: SeverityInput, people: number | null): Severity {
  const context = Math.min(4, Math.max(1, DATA_KINDS[s.data] + s.adjust));
  const ease = EASE[s.ease];
  const confidentiality = CIRCUMSTANCES.confidentiality[s.confidentiality];
  const integrity = CIRCUMSTANCES.integrity[s.integrity];
  const availability = CIRCUMSTANCES.availability[s.availability];
  const malice = s.malicious ? 0.5 : 0;
  const score = context * ease + confidentiality + integrity + availability + malice;
  const steps = [
    {
      words: `${s.data} data${s.adjust === 0 ? '' : `, ${s.adjust > 0 ? '+' : '−'}${Math.abs(s.adjust)}${s.why ? `: ${s.why}` : ''}`}`,
      value: context,
    },
    { words: `× how easily people are told by it: ${s.ease}`, value: ease },
    { words: `+ confidentiality: ${s.confidentiality}`, value: confidentiality },
    { words: `+ integrity: ${s.integrity}`, value: integrity },
    { words: `+ availability: ${s.availability}`, value: availability },
    { words: `+ ${s.malicious ? 'with intent' : 'without intent'}`, value: malice },
  ];
  return {
    score,
    level: score < 2 ? 'low' : score < 3 ? 'medium' : score < 4 ? 'high' : 'very high',
    steps,
    flags: [
      ...(people !== null && people > MANY ? [`more than ${MANY} people`] : []),
      ...(s.unreadable ? ['nobody else can read it'] : []),
    ],
  };
}

/** What detectors found, by category and id, as the method’s kind of data: the gravest that is there. */
export function dataKindOf(
  found: readonly { readonly detector: string; readonly category: string }[],
): DataKind {
  const has = (...categories: readonly string[]) => found.some((f) => categories.includes(f.category));
  if (has('health', 'special category', 'offence', 'child')) return 'sensitive';
  if (has('finance')) return 'financial';
  if (has('network', 'travel') || found.some((f) => f.detector === 'coordinates')) return 'behavioural';
  return 'simple';
}

/** How easily people are told by what was found: by a national number or name with birth date at once, by an address or phone easily, by a name alone less. */
export function easeOf(found: readonly { readonly detector: string; readonly category: string }[]): Ease {
  const has = (id: string) => found.some((f) => f.detector === id);
  const numbered = found.some(
    (f) =>
      (f.category === 'identity' || f.category === 'health' || f.category === 'travel') &&
      f.detector !== 'person-name' &&
      f.detector !== 'date-of-birth',
  );
  if (
    numbered ||
    (has('person-name') && (has('date-of-birth') || has('email') || has('phone') || has('postal-address')))
  )
    return 'maximum';
  if (has('email') || has('phone')) return 'significant';
  return has('person-name') ? 'limited' : 'negligible';
}

/** What the method has as beginning, of what was found and what happened. */
export function proposedSeverity(
  kind: string,
  found: readonly { readonly detector: string; readonly category: string }[],
  /** Whoever had a link could reach it. */
  anyone = false,
): SeverityInput {
  const outside = kind === 'stolen device' || kind === 'taken from outside';
  return {
    ...{
      data: dataKindOf(found),
      adjust: 0,
      why: '',
      ease: easeOf(found),
      malicious: outside,
      unreadable: false,
    },
    confidentiality:
      kind === 'changed' || kind === 'not to be had'
        ? 'none'
        : kind === 'sent wrongly' || (kind === 'open to many' && !anyone)
          ? 'known recipients'
          : 'unknown recipients',
    integrity: kind === 'changed' ? 'can be put right' : 'none',
    availability: kind === 'not to be had' ? 'for a while' : 'none',
  };
}
