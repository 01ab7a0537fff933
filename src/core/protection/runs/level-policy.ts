import { z } from 'zod';
import { sentenceVocabulary, slotsOf, type Sentence } from '../../rules/sentence.ts';

export const BY_ITSELF = {
  never: 'only when somebody sets them',
  'after each survey': 'after each survey, where something has to change',
} as const;

/** When the rules in force are brought to what is held, and how long documents are kept as they were. */
export const LevelPolicy = z.strictObject({
  byItself: z.enum(['never', 'after each survey']),
  /** Days. */
  keepDays: z.int().min(0, 'No fewer than 0 days').max(3650, 'At most ten years'),
});
export type LevelPolicy = z.infer<typeof LevelPolicy>;

export const LEVEL_POLICY_SENTENCE: Sentence = [
  {
    label: 'Set',
    parts: [
      'on what is held ',
      {
        path: ['byItself'],
        label: 'When levels are set',
        say: (value) => BY_ITSELF[value as keyof typeof BY_ITSELF] ?? String(value),
        editor: {
          kind: 'choice',
          options: Object.entries(BY_ITSELF).map(([value, words]) => ({ value, words })),
        },
      },
      '; each document is kept as it was for ',
      {
        path: ['keepDays'],
        label: 'Kept as they were',
        say: (value) => `${String(value)} ${value === 1 ? 'day' : 'days'}`,
        editor: { kind: 'number', unit: 'days', least: 0, most: 3650 },
      },
    ],
  },
];

export const levelPolicyVocabulary = sentenceVocabulary(slotsOf(LEVEL_POLICY_SENTENCE));
