import { z } from 'zod';
import type { Json } from '../../rules/change.ts';
import type { Part, SlotOption } from '../../rules/sentence.ts';
import { Period } from '../clock/period.ts';
import type { Term } from '../verdict/retention-verdict.ts';

export const FOR_GOOD = 'for good';
export const NOT_CHOSEN = 'not chosen';

/** How long, counted from what. */
export const TermShape = {
  keep: z.union([Period, z.literal(FOR_GOOD)], 'Choose how long.'),
  /** `created`, `changed`, or `clock:` and the number of one. */
  after: z.string().min(1).max(80),
  /** It begins at the end of the year in which that lies. */
  yearEnd: z.boolean(),
  unknown: z.enum(['created', 'changed', 'never begins']),
};
/** As it may be saved while it is made. */
export const KeepDraft = z.union([Period, z.literal(FOR_GOOD), z.literal(NOT_CHOSEN)]);
export type Keep = z.infer<typeof KeepDraft>;

export const NEW_TERM = { after: 'changed', yearEnd: false, unknown: 'never begins' } as const;

export interface TermContent {
  readonly keep: Keep;
  readonly after: string;
  readonly yearEnd: boolean;
  readonly unknown: 'created' | 'changed' | 'never begins';
}

export const UNKNOWN = {
  created: 'its creation',
  changed: 'the last change',
  'never begins': 'nothing, and it is kept',
} as const;

/** `90 days`, `1 year`. */
export function periodWords({ count, unit }: Period): string {
  return `${count} ${count === 1 ? unit.slice(0, -1) : unit}`;
}

export function keepWords(value: Json): string {
  if (value === FOR_GOOD) return FOR_GOOD;
  const period = Period.safeParse(value);
  return period.success ? periodWords(period.data) : 'no time yet';
}

/** `90 days after the sailing’s arrival`, as lists and registers say it. */
export function termWords({ keep, after, yearEnd }: TermContent, clocks: readonly SlotOption[]): string {
  if (keep === NOT_CHOSEN) return 'no clock chosen yet';
  if (keep === FOR_GOOD) return FOR_GOOD;
  return `${periodWords(keep)} after ${yearEnd ? 'the year of ' : ''}${afterWords(after, clocks)}`;
}

export function afterWords(after: Json, clocks: readonly SlotOption[]): string {
  if (after === 'created') return 'its creation';
  if (after === 'changed') return 'the last change';
  return clocks.find((e) => e.value === after)?.words ?? `“${String(after)}”, which is gone`;
}

/** The words of a term after “for”: `[90 days] after [its arrival], from [that day] on; where that is not known, after [the last change]`. */
export function termParts(clocks: readonly SlotOption[], content: TermContent): readonly Part[] {
  const how: Part = {
    path: ['keep'],
    label: 'How long',
    say: keepWords,
    editor: { kind: 'period', also: [{ value: FOR_GOOD, words: FOR_GOOD }] },
  };
  if (content.keep === FOR_GOOD) return [how];
  const after: Part = {
    path: ['after'],
    label: 'Counted from',
    say: (value) => afterWords(value, clocks),
    editor: {
      kind: 'choice',
      options: [
        { value: 'changed', words: 'the last change' },
        { value: 'created', words: 'its creation' },
        ...clocks,
      ],
    },
  };
  const year: Part = {
    path: ['yearEnd'],
    label: 'From that day, or from the end of its year',
    told: 'From the end of that year',
    say: (value) => (value === true ? 'the end of that year' : 'that day'),
    editor: {
      kind: 'choice',
      options: [
        { value: 'false', words: 'that day' },
        { value: 'true', words: 'the end of that year' },
      ],
    },
    turn: {
      read: (c) => (typeof c === 'object' && c !== null && 'yearEnd' in c ? (c.yearEnd as boolean) : false),
      write: (c, value) => ({ ...(c as object), yearEnd: value === 'true' }) as Json,
    },
  };
  const isEvent = content.after.startsWith('clock:');
  const unknown: Part = {
    path: ['unknown'],
    label: 'Where that is not known',
    say: (value) => UNKNOWN[value as keyof typeof UNKNOWN] ?? String(value),
    editor: {
      kind: 'choice',
      options: Object.entries(UNKNOWN).map(([value, words]) => ({ value, words })),
    },
  };
  return [
    how,
    ' after ',
    after,
    ', from ',
    year,
    ' on',
    ...(isEvent || content.unknown !== 'never begins' ? ['; where that is not known, after ', unknown] : []),
  ];
}

/** A term as verdicts weigh it; `undefined` as long as none is chosen. */
export function termOf({ keep, after, yearEnd, unknown }: TermContent): Term | undefined {
  if (keep === NOT_CHOSEN) return undefined;
  return { period: keep === FOR_GOOD ? null : keep, clock: { after, yearEnd, unknown } };
}

/** What parts of a content are called that no slot holds by themselves. */
export const PATHS: Readonly<Record<string, string>> = { name: 'The name', keep: 'How long', lens: 'What' };
