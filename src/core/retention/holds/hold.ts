import { z } from 'zod';
import { ADD_ADDRESS } from '../../accounts/staff/audience.ts';
import { dayText } from '../../text/day.ts';
import type { Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, slotsOf, type Sentence } from '../../rules/sentence.ts';
import type { Day } from '../clock/period.ts';
import { PATHS } from '../rules/term.ts';
import { EVERYWHERE, scopeParts, ScopeShape, type ScopeNames } from '../scope/scope.ts';

const DayOrNone = z.union([z.iso.date(), z.literal('')]);

/** What stays, whatever else is said, as long as a matter goes on. */
export const HoldContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  ...ScopeShape,
  /** Days on which an item was changed last, both included; '' for none. */
  from: DayOrNone,
  until: DayOrNone,
  /** The case, the authority, its number. */
  matter: z.string().trim().min(1, 'Say what it is for.').max(400),
  /** Addresses of those who are told, and have to say that they were. */
  custodians: z.array(z.email().max(254)).max(200),
  /** Days after which whoever said nothing is told again. */
  remindDays: z.int().min(1, 'At least 1 day.').max(90, 'At most 90 days.'),
});
export type HoldContent = z.infer<typeof HoldContent>;

/** As it may be saved while it is made. */
export const HoldDraft = HoldContent.extend({ matter: z.string().trim().max(400) });

export function newHold(name: string): HoldContent {
  return { name, ...EVERYWHERE, from: '', until: '', matter: '', custodians: [], remindDays: 7 };
}

/** Whether a day lies within those of a hold. One that is not known does: nobody can say that it lies outside. */
export function isWithinDays(
  changed: Day | null,
  { from, until }: { readonly from: Day | '' | null; readonly until: Day | '' | null },
): boolean {
  return changed === null || ((!from || changed >= from) && (!until || changed <= until));
}

export function holdSentence(
  names: ScopeNames,
  people: readonly { value: string; words: string }[],
): Sentence {
  const day = (none: string) => (value: unknown) => (value === '' ? none : dayText(String(value)));
  return [
    { label: 'Hold', parts: scopeParts(names) },
    {
      label: 'Changed',
      parts: [
        'last from ',
        {
          path: ['from'],
          label: 'From',
          say: day('the first day'),
          editor: { kind: 'date', none: 'the first day' },
        },
        ' up to ',
        {
          path: ['until'],
          label: 'Up to',
          say: day('today, and on'),
          editor: { kind: 'date', none: 'today, and on' },
        },
      ],
    },
    {
      label: 'For',
      parts: [
        {
          path: ['matter'],
          label: 'Matter',
          say: (words) => (words === '' ? 'no matter yet' : String(words)),
          editor: { kind: 'text', most: 400, long: true },
        },
      ],
    },
    {
      label: 'Tell',
      parts: [
        {
          path: ['custodians'],
          label: 'Custodians',
          say: (value) => (Array.isArray(value) ? value.join(', ') || 'nobody' : String(value)),
          editor: { kind: 'many', options: people, add: ADD_ADDRESS },
        },
        '; whoever does not answer is told again after ',
        {
          path: ['remindDays'],
          label: 'Told again after',
          say: (value) => `${String(value)} ${value === 1 ? 'day' : 'days'}`,
          editor: { kind: 'number', unit: 'days', least: 1, most: 90 },
        },
      ],
    },
  ];
}

export function holdVocabulary(names: ScopeNames): Vocabulary {
  return sentenceVocabulary(slotsOf(holdSentence(names, [])), {
    path: ([first]) => PATHS[first ?? ''],
  });
}
