import { z } from 'zod';
import type { Json, Vocabulary } from '../../rules/change.ts';
import { BECAUSE_LINE } from '../../rules/because-line.ts';
import {
  sentenceVocabulary,
  slotsOf,
  type Part,
  type Sentence,
  type SlotOption,
} from '../../rules/sentence.ts';
import { EVERYWHERE, scopeParts, ScopeShape, type ScopeNames } from '../scope/scope.ts';
import { THEN, type Then } from '../verdict/retention-verdict.ts';
import { KeepDraft, NEW_TERM, NOT_CHOSEN, PATHS, TermShape, termParts } from './term.ts';

export const SILENT = {
  officer: 'the officer',
  delete: 'deletion',
  keep: 'waiting, and is asked again',
} as const;

export const AGREE = {
  one: 'one',
  large: 'one, and two for many or for special data',
  two: 'two',
} as const;

/** Keep something for a time, and what follows. */
export const RetentionRuleContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  ...ScopeShape,
  ...TermShape,
  then: z.enum(Object.keys(THEN) as [Then, ...Then[]]),
  /** Days for an answer; and what it is to say nothing. */
  answerDays: z.int().min(1, 'At least 1 day.').max(365, 'At most a year.'),
  silent: z.enum(['officer', 'delete', 'keep']),
  /** How many people have to agree that items go. */
  agree: z.enum(['one', 'large', 'two']),
  /** Days for which what went can be put back. */
  undoDays: z.int().min(0, 'No fewer than 0 days.').max(365, 'At most a year.'),
  /** Of rules that are as specific, the smaller decides. */
  order: z.int().min(0).max(999).nullable(),
  /** Why it asks to leave what the law asks for, where it does. */
  beyond: z.string().trim().max(400),
  because: z.string().trim().max(400),
  /** The duty that it serves, and where that is written. */
  duty: z.string().trim().max(200),
});
export type RetentionRuleContent = z.infer<typeof RetentionRuleContent>;

/** As it may be saved while it is made. */
export const RetentionRuleDraft = RetentionRuleContent.extend({ keep: KeepDraft });
export type RetentionRuleDraft = z.infer<typeof RetentionRuleDraft>;

export function newRetentionRule(name: string): RetentionRuleDraft {
  return {
    ...{ name, ...EVERYWHERE, ...NEW_TERM, keep: NOT_CHOSEN, then: 'ask' },
    ...{ answerDays: 14, silent: 'officer', agree: 'large', undoDays: 14, order: null },
    ...{ beyond: '', because: '', duty: '' },
  };
}

/** What can be named in retention rules. */
export interface RetentionNames extends ScopeNames {
  readonly clocks: readonly SlotOption[];
}

export function retentionSentence(names: RetentionNames, content: RetentionRuleDraft): Sentence {
  return [
    { label: 'Keep', parts: scopeParts(names) },
    { label: 'For', parts: termParts(names.clocks, content) },
    { label: 'Then', parts: thenParts(content) },
    ...(content.order === null ? [] : [ORDER_LINE]),
    ...(content.beyond === '' ? [] : [BEYOND_LINE]),
    BECAUSE_LINE,
    {
      label: 'Serves',
      parts: [
        {
          path: ['duty'],
          label: 'Duty and article',
          say: (words) => (words === '' ? 'no duty that is named' : String(words)),
          editor: { kind: 'text', most: 200, hint: 'Storage limitation, Art. 5(1)(e) GDPR' },
        },
      ],
    },
  ];
}

const choice = (of: Readonly<Record<string, string>>) => ({
  say: (value: Json) => of[String(value)] ?? String(value),
  editor: {
    kind: 'choice',
    options: Object.entries(of).map(([value, words]) => ({ value, words })),
  } as const,
});
const days = (path: string, label: string, least: number): Part => ({
  path: [path],
  label,
  say: (value) => `${String(value)} ${value === 1 ? 'day' : 'days'}`,
  editor: { kind: 'number', unit: 'days', least, most: 365 },
});

/** Whether what follows takes the item, or what is personal in it, away. */
export function takesAway(then: Then): boolean {
  return then === 'ask' || then === 'delete' || then === 'archive' || then === 'anonymise';
}

function thenParts({ then }: RetentionRuleDraft): readonly Part[] {
  const first: Part = { path: ['then'], label: 'What follows', ...choice(THEN) };
  if (!takesAway(then)) return [first];
  return [
    first,
    ...(then === 'ask'
      ? [
          '; no answer in ',
          days('answerDays', 'Days for an answer', 1),
          ' goes to ',
          { path: ['silent'], label: 'No answer goes to', ...choice(SILENT) },
        ]
      : []),
    '; agreed to by ',
    { path: ['agree'], label: 'How many agree', ...choice(AGREE) },
    '; it can be put back for ',
    days('undoDays', 'Days in which it can be put back', 0),
  ];
}

const ORDER_LINE: Sentence[number] = {
  label: 'Among',
  parts: [
    'rules that are as specific it stands at place ',
    {
      path: ['order'],
      label: 'Place among equals',
      say: (value) => (value === null ? 'none' : String(value)),
      editor: { kind: 'number', unit: '', least: 0, most: 999 },
    },
  ],
};

const BEYOND_LINE: Sentence[number] = {
  label: 'Although',
  parts: [
    'the law asks otherwise: ',
    {
      path: ['beyond'],
      label: 'Why it asks for more than the law lets',
      say: (words) => (words === '' ? 'no reason is given' : String(words)),
      editor: { kind: 'text', most: 400, long: true },
    },
  ],
};

export function retentionVocabulary(names: RetentionNames): Vocabulary {
  // Every slot that there is in any of its shapes.
  const whole = { ...newRetentionRule(''), order: 0, beyond: ' ', unknown: 'changed' } as const;
  return sentenceVocabulary(slotsOf(retentionSentence(names, whole)), {
    path: ([first]) => PATHS[first ?? ''],
  });
}
