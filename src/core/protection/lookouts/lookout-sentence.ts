import { ADD_ADDRESS, audienceWords } from '../../accounts/staff/audience.ts';
import { lensWords } from '../../lens/lens-words.ts';
import { Lens } from '../../lens/lens.ts';
import { BECAUSE_LINE } from '../../rules/because-line.ts';
import type { Json, Vocabulary } from '../../rules/change.ts';
import {
  sentenceVocabulary,
  slotsOf,
  type Part,
  type Sentence,
  type SentenceLine,
  type SlotOption,
  type SlotPart,
} from '../../rules/sentence.ts';
import { ANSWERS, EVENT_ACTS, EVENT_KIND_WORDS, EVENT_KINDS } from '../activity/event.ts';
import { CHANNELS } from '../handling/channel.ts';
import type { HandlingNames } from '../handling/handling-rule.ts';
import { CATEGORIES, SEVERITIES, type RaiseWhen } from './lookout.ts';
import type { LookoutContent } from './lookout-content.ts';

/** What can be named in lookouts, beside what handling rules name. */
export interface LookoutNames extends Pick<HandlingNames, 'items' | 'people'> {
  /** Changes that the ledger tells of, by its words. */
  readonly changes: readonly SlotOption[];
  readonly hooks: readonly SlotOption[];
  readonly accounts: readonly SlotOption[];
}

export const OUTCOME_WORDS = { go: 'let go', record: 'recorded', ask: 'asked', stop: 'stopped' } as const;
const BY_WORDS = { person: 'by one person', device: 'on one device', everybody: 'by all together' } as const;
const WHEN_WORDS: Readonly<Record<RaiseWhen['is'], string>> = {
  'every time': 'every time',
  'more than': 'when it is more than',
  unusual: 'when it is unusual on a day, by what was usual in',
};

const plain = (values: readonly string[]): readonly SlotOption[] =>
  values.map((value) => ({ value, words: value }));
const worded = (words: Readonly<Record<string, string>>): readonly SlotOption[] =>
  Object.entries(words).map(([value, w]) => ({ value, words: w }));

function several(
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

function one(path: readonly string[], label: string, options: readonly SlotOption[]): SlotPart {
  return {
    ...{ path, label, editor: { kind: 'choice', options } },
    say: (value) => options.find((o) => o.value === value)?.words ?? String(value),
  };
}

function people(
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

export function lookoutSentence(content: LookoutContent, names: LookoutNames): Sentence {
  return [
    {
      label: 'Watch',
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
    { label: 'Raise', parts: whenParts(content.watch.when) },
    {
      label: 'As',
      parts: [
        'an alert of ',
        one(['severity'], 'Severity', plain(SEVERITIES)),
        ' severity, about ',
        one(['category'], 'Category', plain(CATEGORIES)),
      ],
    },
    ...tellLines(content, names),
    {
      label: 'On',
      parts: [
        'from ',
        {
          path: ['from'],
          label: 'From',
          say: (day) => (day === null ? 'now' : String(day)),
          editor: { kind: 'date', none: 'now' },
        },
        ' until ',
        {
          path: ['until'],
          label: 'Until',
          say: (day) => (day === null ? 'it is switched off' : `the end of ${String(day)}`),
          editor: { kind: 'date', none: 'it is switched off' },
        },
      ],
    },
    BECAUSE_LINE,
  ];
}

const AT_FIRST: Readonly<Record<RaiseWhen['is'], RaiseWhen>> = {
  'every time': { is: 'every time' },
  'more than': { is: 'more than', count: 5, minutes: 1440, by: 'person' },
  unusual: { is: 'unusual', days: 30, by: 'person' },
};
const WITHIN: readonly SlotOption[] = (
  [
    [15, '15 minutes'],
    [60, 'an hour'],
    [480, '8 hours'],
    [1440, 'a day'],
    [10_080, 'a week'],
    [43_200, '30 days'],
  ] as const
).map(([value, words]) => ({ value: String(value), words }));

function whenParts(when: RaiseWhen): readonly Part[] {
  const is: SlotPart = {
    ...one(['watch', 'when', 'is'], 'When it raises', worded(WHEN_WORDS)),
    turn: {
      read: (c) => (c as unknown as LookoutContent).watch.when.is,
      write: (c, value) => {
        const content = c as unknown as LookoutContent;
        const to = AT_FIRST[value as RaiseWhen['is']];
        const same = to.is === content.watch.when.is;
        return {
          ...content,
          watch: { ...content.watch, when: same ? content.watch.when : to },
        } as unknown as Json;
      },
    },
  };
  const by = one(['watch', 'when', 'by'], 'Counted', worded(BY_WORDS));
  switch (when.is) {
    case 'every time':
      return [is];
    case 'more than':
      return [
        is,
        ' ',
        {
          path: ['watch', 'when', 'count'],
          label: 'How many',
          say: (n) => `${String(n)} times`,
          editor: { kind: 'number', unit: 'times', least: 1, most: 100_000 },
        },
        ' within ',
        {
          ...one(['watch', 'when', 'minutes'], 'Within', WITHIN),
          say: (m) => WITHIN.find((w) => w.value === String(m))?.words ?? `${String(m)} minutes`,
          turn: {
            read: (c) => {
              const { when: w } = (c as unknown as LookoutContent).watch;
              return w.is === 'more than' ? String(w.minutes) : '';
            },
            write: (c, value) => {
              const content = c as unknown as LookoutContent;
              return {
                ...content,
                watch: { ...content.watch, when: { ...content.watch.when, minutes: Number(value) } },
              } as unknown as Json;
            },
          },
        },
        ', ',
        by,
      ];
    case 'unusual':
      return [
        is,
        ' ',
        {
          path: ['watch', 'when', 'days'],
          label: 'By how many days',
          say: (n) => `${String(n)} days before`,
          editor: { kind: 'number', unit: 'days', least: 7, most: 90 },
        },
        ', ',
        by,
      ];
  }
}

function tellLines({ tell }: LookoutContent, names: LookoutNames): readonly SentenceLine[] {
  const quiet = ['tell', 'quiet'];
  return [
    {
      label: 'Tell',
      parts: [
        'the desk, by letter ',
        {
          ...several(['tell', 'mail'], 'By letter', names.accounts, 'nobody'),
          editor: { kind: 'many', options: names.accounts, add: ADD_ADDRESS },
        },
        ', by webhook ',
        several(['tell', 'hooks'], 'By webhook', names.hooks, 'none'),
        '; at most ',
        {
          path: ['tell', 'mostADay'],
          label: 'Tellings on a day',
          say: (n) => `${String(n)} on a day`,
          editor: { kind: 'number', unit: 'on a day', least: 1, most: 1000 },
        },
      ],
    },
    {
      label: '',
      parts: [
        {
          path: quiet,
          label: 'Quiet hours',
          say: (q) => (q === 'some' ? 'in quiet hours it waits' : 'at any hour'),
          editor: {
            kind: 'choice',
            options: [
              { value: 'none', words: 'at any hour' },
              { value: 'some', words: 'in quiet hours it waits' },
            ],
          },
          turn: {
            read: (c) => ((c as unknown as LookoutContent).tell.quiet ? 'some' : 'none'),
            write: (c, value) => {
              const content = c as unknown as LookoutContent;
              const before = content.tell.quiet;
              const some = before ?? { from: '20:00', to: '07:00', zone: 'Europe/Copenhagen' };
              return {
                ...content,
                tell: { ...content.tell, quiet: value === 'some' ? some : null },
              } as unknown as Json;
            },
          },
        },
        ...(tell.quiet
          ? [
              ', from ',
              clock([...quiet, 'from'], 'Quiet from'),
              ' to ',
              clock([...quiet, 'to'], 'Quiet to'),
              ' in ',
              {
                path: [...quiet, 'zone'],
                label: 'Time zone of quiet hours',
                say: String,
                code: true,
                editor: { kind: 'text' as const, most: 60 },
              },
            ]
          : []),
      ],
    },
  ];
}

function clock(path: readonly string[], label: string): Part {
  return { path, label, say: String, editor: { kind: 'text', most: 5, hint: 'A time of day such as 22:00' } };
}

function lensSaid(value: Json, { items }: LookoutNames): string {
  const lens = Lens.safeParse(value);
  return lens.success ? lensWords(lens.data, items) || 'anything in it, or nothing' : String(value);
}

export function lookoutVocabulary(names: LookoutNames): Vocabulary {
  return sentenceVocabulary(slotsOf(EVERY_KIND.flatMap((c) => lookoutSentence(c, names))), {
    path: ([first]) => (first === 'name' ? 'The name' : undefined),
  });
}

/** Contents that have every slot there is, for the words of changes. */
const EVERY_KIND: readonly LookoutContent[] = Object.values(AT_FIRST).map((when) => ({
  ...{ name: 'x', severity: 'low', category: 'access', from: null, until: null, because: '' },
  watch: {
    ...{ kinds: [], acts: [], channels: [], outcomes: [], answers: [], changes: [], who: [], but: [] },
    ...{ lens: { all: [] }, when },
  },
  tell: { mail: [], hooks: [], mostADay: 1, quiet: { from: '22:00', to: '07:00', zone: 'UTC' } },
}));
