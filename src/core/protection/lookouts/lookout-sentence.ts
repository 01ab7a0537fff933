import { ADD_ADDRESS } from '../../accounts/staff/audience.ts';
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
import { ANY_ACTS, CATEGORIES, SEVERITIES, type RaiseWhen } from './lookout.ts';
import type { LookoutContent } from './lookout-content.ts';
import { one, plain, several, watchLines, worded, type WatchNames } from './watch-lines.ts';

/** What can be named in lookouts. */
export interface LookoutNames extends WatchNames {
  readonly hooks: readonly SlotOption[];
  readonly accounts: readonly SlotOption[];
}

const BY_WORDS = { person: 'by one person', device: 'on one device', everybody: 'by all together' } as const;
const WHEN_WORDS: Readonly<Record<RaiseWhen['is'], string>> = {
  'every time': 'every time',
  'more than': 'when it is more than',
  unusual: 'when it is unusual on a day, by what was usual in',
};

export function lookoutSentence(content: LookoutContent, names: LookoutNames): Sentence {
  return [
    ...watchLines('Watch', names),
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
          say: (n) => (n === 1 ? 'once' : `${String(n)} times`),
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

export function lookoutVocabulary(names: LookoutNames): Vocabulary {
  return sentenceVocabulary(slotsOf(EVERY_KIND.flatMap((c) => lookoutSentence(c, names))), {
    path: ([first]) => (first === 'name' ? 'The name' : undefined),
  });
}

/** Contents that have every slot there is, for the words of changes. */
const EVERY_KIND: readonly LookoutContent[] = Object.values(AT_FIRST).map((when) => ({
  ...{ name: 'x', severity: 'low', category: 'access', from: null, until: null, because: '' },
  watch: { ...ANY_ACTS, when },
  tell: { mail: [], hooks: [], mostADay: 1, quiet: { from: '22:00', to: '07:00', zone: 'UTC' } },
}));
