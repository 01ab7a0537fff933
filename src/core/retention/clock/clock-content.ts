import { z } from 'zod';
import { EVERYTHING, Lens } from '../../lens/lens.ts';
import type { Json, Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, slotsOf, type Sentence, type SlotOption } from '../../rules/sentence.ts';
import type { LensVocabulary } from '../../lens/fact.ts';
import { lensWords } from '../../lens/lens-words.ts';

export const CLOCK_WAYS = {
  name: 'the day in its name, or else in that of its folder',
  list: 'a list of days, by what its name holds',
  found: 'a day that stands in it',
  column: 'a column of a table, by what its name holds',
} as const;
export type ClockWay = keyof typeof CLOCK_WAYS;

export const WHICH = { first: 'the first', earliest: 'the earliest', latest: 'the latest' } as const;

/** What a term is counted from, besides the day an item was created or changed; and where that is told. */
export const ClockContent = z.strictObject({
  /** As a sentence goes on after “after”: `the sailing’s arrival`. */
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  way: z.enum(Object.keys(CLOCK_WAYS) as [ClockWay, ...ClockWay[]]),
  /** The items that it is looked for in. */
  lens: Lens,
  /** Of days that stand in an item. */
  which: z.enum(['first', 'earliest', 'latest']),
  /** Words right before the day, any of them; any day where there are none. */
  words: z.array(z.string().trim().min(1).max(80)).max(40),
  /** Of a column: the source, its table, and the columns of the mark and of the day. */
  source: z.string().max(20),
  table: z.string().trim().max(200),
  markColumn: z.string().trim().max(120),
  dayColumn: z.string().trim().max(120),
});
export type ClockContent = z.infer<typeof ClockContent>;

export function newClock(name: string, way: ClockWay): ClockContent {
  return {
    ...{ name, way, lens: EVERYTHING, which: 'first', words: [] },
    ...{ source: '', table: '', markColumn: '', dayColumn: '' },
  };
}

export interface ClockNames {
  readonly items: LensVocabulary;
  /** Databases. */
  readonly sources: readonly SlotOption[];
}

const options = (of: Readonly<Record<string, string>>) =>
  Object.entries(of).map(([value, words]) => ({ value, words }));

export function clockSentence({ items, sources }: ClockNames, content: ClockContent): Sentence {
  const text = (path: string, label: string, none: string, hint: string) => ({
    path: [path],
    label,
    say: (value: Json) => (value === '' ? none : String(value)),
    editor: { kind: 'text', most: 200, hint } as const,
  });
  return [
    {
      label: 'Told',
      parts: [
        'by ',
        {
          path: ['way'],
          label: 'Told by',
          say: (way) => CLOCK_WAYS[way as ClockWay] ?? String(way),
          editor: { kind: 'choice', options: options(CLOCK_WAYS) },
        },
        ...(content.way === 'found'
          ? ([
              ': ',
              {
                path: ['which'],
                label: 'Which day',
                say: (which) => WHICH[which as keyof typeof WHICH] ?? String(which),
                editor: { kind: 'choice', options: options(WHICH) },
              },
              ' behind ',
              {
                path: ['words'],
                label: 'Words before it',
                say: (words) => (Array.isArray(words) && words.length > 0 ? words.join(', ') : 'any words'),
                editor: { kind: 'lines', most: 40, hint: 'A word or more a line: Arrival' },
              },
            ] satisfies Sentence[number]['parts'])
          : []),
      ],
    },
    ...(content.way === 'column'
      ? ([
          {
            label: 'Table',
            parts: [
              text('table', 'Table', 'no table yet', 'sailing'),
              ' of ',
              {
                path: ['source'],
                label: 'Database',
                say: (id) => sources.find((s) => s.value === id)?.words ?? 'no database yet',
                editor: { kind: 'choice', options: sources },
              },
              ': what names hold stands in ',
              text('markColumn', 'Column of what names hold', 'no column yet', 'reference'),
              ', the day in ',
              text('dayColumn', 'Column of the day', 'no column yet', 'arrives'),
            ],
          },
        ] satisfies Sentence)
      : []),
    {
      label: 'Among',
      parts: [
        {
          path: ['lens'],
          label: 'Among',
          say: (value) => {
            const lens = Lens.safeParse(value);
            return lens.success ? lensWords(lens.data, items) || 'everything we hold' : String(value);
          },
          editor: { kind: 'lens' },
        },
      ],
    },
  ];
}

export function clockVocabulary(names: ClockNames): Vocabulary {
  const all = (['found', 'column'] as const).flatMap((way) =>
    slotsOf(clockSentence(names, newClock('', way))),
  );
  return sentenceVocabulary(all, { path: ([first]) => (first === 'name' ? 'The name' : undefined) });
}

/** The id of a clock as terms name it. */
export function clockId(number: number | string): string {
  return `clock:${number}`;
}
