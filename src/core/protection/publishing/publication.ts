import { z } from 'zod';
import { ADD_ADDRESS, audienceWords, EVERYONE } from '../../accounts/staff/audience.ts';
import type { Vocabulary } from '../../rules/change.ts';
import { BECAUSE_LINE } from '../../rules/because-line.ts';
import { sentenceVocabulary, slotsOf, type Sentence, type SlotOption } from '../../rules/sentence.ts';

export const FIRST = { weakest: 'the weakest first', strongest: 'the strongest first' } as const;

const Mark = z.string().trim().min(1).max(300);

/** Who is offered which levels, in what order, and with which one something new begins. */
export const PublicationContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  levels: z.array(z.string().max(64)).min(1, 'Choose at least one level.').max(50),
  to: z.array(Mark).min(1, 'Say to whom.').max(500),
  /** Left out again. */
  not: z.array(Mark).max(500),
  first: z.enum(['weakest', 'strongest']),
  /** The id of a level; '' for none. */
  start: z.string().max(64),
  because: z.string().trim().max(400),
});
export type PublicationContent = z.infer<typeof PublicationContent>;
/** As it may be saved while it is made. */
export const PublicationDraft = PublicationContent.extend({
  levels: z.array(z.string().max(64)).max(50),
  to: z.array(Mark).max(500),
});

export function newPublication(name: string): PublicationContent {
  return { name, levels: [], to: [EVERYONE], not: [], first: 'weakest', start: '', because: '' };
}

/** What can be named in publications. */
export interface PublicationNames {
  /** The weakest first. */
  readonly levels: readonly SlotOption[];
  /** Groups, as marks of an audience. */
  readonly groups: readonly SlotOption[];
}

export function publicationSentence({ levels, groups }: PublicationNames): Sentence {
  const levelName = (id: unknown) =>
    levels.find((l) => l.value === id)?.words ?? `“${String(id)}”, which is gone`;
  const many = (value: unknown, say: (v: unknown) => string, none: string) =>
    Array.isArray(value) ? value.map(say).join(', ') || none : say(value);
  const who = (mark: unknown) => audienceWords(String(mark));
  const everyone = { value: EVERYONE, words: 'everyone', detail: 'who works here' };
  return [
    {
      label: 'Offer',
      parts: [
        {
          path: ['levels'],
          label: 'Levels',
          say: (value) => many(value, levelName, 'no level yet'),
          editor: { kind: 'many', options: levels },
        },
        ' to ',
        {
          path: ['to'],
          label: 'To',
          say: (value) => many(value, who, 'nobody yet'),
          editor: { kind: 'many', options: [everyone, ...groups], add: ADD_ADDRESS },
        },
        ', not to ',
        {
          path: ['not'],
          label: 'Not to',
          say: (value) => many(value, who, 'anybody else'),
          editor: { kind: 'many', options: groups, add: ADD_ADDRESS },
        },
      ],
    },
    {
      label: 'Shown',
      parts: [
        {
          path: ['first'],
          label: 'Order',
          say: (value) => FIRST[value as keyof typeof FIRST] ?? String(value),
          editor: {
            kind: 'choice',
            options: Object.entries(FIRST).map(([value, words]) => ({ value, words })),
          },
        },
        '; something new begins with ',
        {
          path: ['start'],
          label: 'Begins with',
          say: (value) => (value === '' ? 'none' : levelName(value)),
          editor: { kind: 'choice', options: [{ value: '', words: 'none' }, ...levels] },
        },
      ],
    },
    BECAUSE_LINE,
  ];
}

export function publicationVocabulary(names: PublicationNames): Vocabulary {
  return sentenceVocabulary(slotsOf(publicationSentence(names)), {
    path: ([first]) => (first === 'name' ? 'The name' : undefined),
  });
}
