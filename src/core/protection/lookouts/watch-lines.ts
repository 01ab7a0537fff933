import { ADD_ADDRESS, audienceWords } from '../../accounts/staff/audience.ts';
import { lensWords } from '../../lens/lens-words.ts';
import { Lens } from '../../lens/lens.ts';
import type { Json } from '../../rules/change.ts';
import type { SentenceLine, SlotOption, SlotPart } from '../../rules/sentence.ts';
import { ANSWERS, EVENT_ACTS, EVENT_KIND_WORDS, EVENT_KINDS } from '../activity/event.ts';
import { CHANNELS } from '../handling/channel.ts';
import type { HandlingNames } from '../handling/handling-rule.ts';

/** What can be named of watched acts, beside what handling rules name. */
export interface WatchNames extends Pick<HandlingNames, 'items' | 'people'> {
  /** Changes that the ledger tells of, by its words. */
  readonly changes: readonly SlotOption[];
}

export const OUTCOME_WORDS = { go: 'let go', record: 'recorded', ask: 'asked', stop: 'stopped' } as const;
export const plain = (values: readonly string[]): readonly SlotOption[] =>
  values.map((value) => ({ value, words: value }));
export const worded = (words: Readonly<Record<string, string>>): readonly SlotOption[] =>
  Object.entries(words).map(([value, w]) => ({ value, words: w }));

export function several(
  path: readonly string[],
  label: string,
  options: readonly SlotOption[],
  none: string,
): SlotPart {
  return {
    ...{ path, label, editor: { kind: 'many', options } },
    say: (value) =>
      Array.isArray(value) && value.length > 0
        ? value.map((v) => options.find((o) => o.value === v)?.words ?? String(v)).join(' or ')
        : none,
  };
}

export function one(path: readonly string[], label: string, options: readonly SlotOption[]): SlotPart {
  return {
    ...{ path, label, editor: { kind: 'choice', options } },
    say: (value) => options.find((o) => o.value === value)?.words ?? String(value),
  };
}

export function people(
  path: readonly string[],
  label: string,
  options: readonly SlotOption[],
  none: string,
): SlotPart {
  return {
    ...{ path, label, editor: { kind: 'many', options, add: ADD_ADDRESS } },
    say: (marks) =>
      Array.isArray(marks) && marks.length > 0 ? marks.map((m) => audienceWords(String(m))).join(', ') : none,
  };
}

/** Which acts, as a sentence says it of a content that has them under `watch`; `label` begins its first line. */
export function watchLines(label: string, names: WatchNames): readonly SentenceLine[] {
  return [
    {
      label,
      parts: [
        'what ',
        several(
          ['watch', 'kinds'],
          'Told by',
          EVENT_KINDS.map((value) => ({ value, words: EVENT_KIND_WORDS[value] })),
          'anything',
        ),
        ' tells of ',
        people(['watch', 'who'], 'Who', names.people, 'anyone'),
        ' but ',
        people(['watch', 'but'], 'Left alone', names.people, 'nobody'),
      ],
    },
    {
      label: 'Doing',
      parts: [
        several(['watch', 'acts'], 'Acts', plain(EVENT_ACTS), 'any act'),
        ' on ',
        several(['watch', 'channels'], 'Ways', plain(CHANNELS), 'any way'),
        ', ',
        several(['watch', 'outcomes'], 'Decided', worded(OUTCOME_WORDS), 'whatever was decided'),
        ' and ',
        several(['watch', 'answers'], 'Answered', plain(ANSWERS), 'whatever they answered'),
      ],
    },
    {
      label: 'What has',
      parts: [
        {
          path: ['watch', 'lens'],
          label: 'What it has',
          say: (lens) => lensSaid(lens, names),
          editor: { kind: 'lens' },
        },
        '; of changes at the desk, ',
        several(['watch', 'changes'], 'Changes', names.changes, 'any'),
      ],
    },
  ];
}

function lensSaid(value: Json, { items }: WatchNames): string {
  const lens = Lens.safeParse(value);
  return lens.success ? lensWords(lens.data, items) || 'anything in it, or nothing' : String(value);
}
