import { z } from 'zod';
import type { LensVocabulary } from '../../lens/fact.ts';
import { lensWords } from '../../lens/lens-words.ts';
import { Lens } from '../../lens/lens.ts';
import type { Json, Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, slotsOf, type Sentence, type SlotOption } from '../../rules/sentence.ts';
import { dayIn } from '../clock/period.ts';

/** Where days are told, and when two people have to agree that items go. */
export const RetentionPolicy = z.strictObject({
  /** IANA. */
  zone: z.string().max(60).refine(isZone, 'A time zone such as Europe/Copenhagen.'),
  /** From so many items on. */
  large: z.int().min(1, 'At least 1.').max(1_000_000, 'At most a million.'),
  /** And where any of these is among them. */
  special: Lens,
  /** The source that is the archive; '' for none. */
  archive: z.string().max(20).default(''),
  /** Within it. */
  archivePlace: z
    .string()
    .trim()
    .max(400)
    .regex(
      /^(?!\/)(?!.*\/\/)(?!(?:.*\/)?\.\.?(?:\/|$)).*(?<!\/)$/u,
      'Steps with / between them, such as Retired/Papers.',
    )
    .default(''),
});
export type RetentionPolicy = z.infer<typeof RetentionPolicy>;

export interface PolicyNames {
  readonly items: LensVocabulary;
  readonly sources: readonly SlotOption[];
}

export function retentionPolicySentence({ items, sources }: PolicyNames, hasArchive = true): Sentence {
  return [
    {
      label: 'Days',
      parts: [
        'are those in ',
        {
          path: ['zone'],
          label: 'Time zone',
          say: String,
          editor: {
            kind: 'text',
            most: 60,
            hint: 'Europe/Copenhagen',
            check: (text) => (isZone(text) ? '' : 'A time zone such as Europe/Copenhagen.'),
          },
        },
      ],
    },
    {
      label: 'Two agree',
      parts: [
        'from ',
        {
          path: ['large'],
          label: 'Many begin with',
          say: (n) => `${String(n)} items`,
          editor: { kind: 'number', unit: 'items', least: 1, most: 1_000_000 },
        },
        ' on, and where one of them has ',
        {
          path: ['special'],
          label: 'Special data',
          say: (value) => {
            const lens = Lens.safeParse(value);
            return lens.success ? lensWords(lens.data, items) || 'anything' : String(value);
          },
          editor: { kind: 'lens' },
        },
      ],
    },
    {
      label: 'Archive',
      parts: [
        'is ',
        {
          path: ['archive'],
          label: 'The archive',
          say: (value) =>
            value === ''
              ? 'none yet'
              : (sources.find((s) => s.value === value)?.words ?? 'a source that is gone'),
          editor: { kind: 'choice', options: [{ value: '', words: 'none yet' }, ...sources] },
        },
        ...(hasArchive
          ? [
              ', there ',
              {
                path: ['archivePlace'],
                label: 'Place within it',
                say: (value: Json) => (value === '' ? 'at its top' : `in ${String(value)}`),
                editor: { kind: 'text' as const, most: 400, hint: 'Retired/Papers' },
              },
            ]
          : []),
      ],
    },
  ];
}

export function retentionPolicyVocabulary(names: PolicyNames): Vocabulary {
  return sentenceVocabulary(slotsOf(retentionPolicySentence(names)));
}

export function isZone(zone: string): boolean {
  try {
    dayIn('2026-01-01T00:00:00Z', zone);
    return true;
  } catch {
    return false;
  }
}
