import { z } from 'zod';
import type { Json, Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, slotsOf, type Sentence } from '../../rules/sentence.ts';
import { EVERYWHERE, scopeParts, ScopeShape } from '../scope/scope.ts';
import type { RetentionNames } from './retention-rule.ts';
import { KeepDraft, NEW_TERM, NOT_CHOSEN, PATHS, TermShape, termParts } from './term.ts';

export const BOUND_KINDS = { minimum: 'at least', maximum: 'at most' } as const;

/** What the law asks for: kept at least, or at most, so long. */
export const LawBoundContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  ...ScopeShape,
  ...TermShape,
  kind: z.enum(['minimum', 'maximum']),
  /** Where it is written: a law and an article. */
  article: z.string().trim().min(1, 'Say where it is written.').max(200),
});
export type LawBoundContent = z.infer<typeof LawBoundContent>;

/** As it may be saved while it is made. */
export const LawBoundDraft = LawBoundContent.extend({
  keep: KeepDraft,
  article: z.string().trim().max(200),
});
export type LawBoundDraft = z.infer<typeof LawBoundDraft>;

export function newLawBound(name: string): LawBoundDraft {
  return { name, ...EVERYWHERE, ...NEW_TERM, keep: NOT_CHOSEN, kind: 'minimum', article: '' };
}

export function lawBoundSentence(names: RetentionNames, content: LawBoundDraft): Sentence {
  return [
    {
      label: 'The law',
      parts: [
        'asks to keep ',
        {
          path: ['kind'],
          label: 'At least or at most',
          say: (value: Json) => BOUND_KINDS[value as keyof typeof BOUND_KINDS] ?? String(value),
          editor: {
            kind: 'choice',
            options: Object.entries(BOUND_KINDS).map(([value, words]) => ({ value, words })),
          },
        },
        ' ',
        ...termParts(names.clocks, content),
      ],
    },
    { label: 'What', parts: scopeParts(names) },
    {
      label: 'Written',
      parts: [
        'in ',
        {
          path: ['article'],
          label: 'Law and article',
          say: (words) => (words === '' ? 'no law yet' : String(words)),
          editor: { kind: 'text', most: 200, hint: 'Bookkeeping Act, § 12' },
        },
      ],
    },
  ];
}

export function lawBoundVocabulary(names: RetentionNames): Vocabulary {
  return sentenceVocabulary(slotsOf(lawBoundSentence(names, { ...newLawBound(''), unknown: 'changed' })), {
    path: ([first]) => PATHS[first ?? ''],
  });
}
