import { z } from 'zod';
import { BECAUSE_LINE } from '../../rules/because-line.ts';
import type { Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, slotsOf, type Sentence } from '../../rules/sentence.ts';
import type { ActivityEvent, EventKind } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { ANY_ACTS, isWatched, sightMs, WatchedActs } from '../lookouts/lookout.ts';
import type { LookoutContent } from '../lookouts/lookout-content.ts';
import { watchLines, type WatchNames } from '../lookouts/watch-lines.ts';

/** A rule about what is kept in view: these acts, on these data, by these people, for so long. */
export const ViewRuleContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  watch: WatchedActs,
  /** 0 for not at all. */
  days: z.int().min(0, '0 days or more').max(3650, 'At most 3,650 days'),
  because: z.string().trim().max(400),
});
export type ViewRuleContent = z.infer<typeof ViewRuleContent>;

export function firstViewRule(name: string, days: number): ViewRuleContent {
  return { name, watch: ANY_ACTS, days, because: '' };
}

export interface ViewRule {
  readonly id: string;
  readonly content: ViewRuleContent;
}

/** How long an act is kept, in days, and by what. */
export interface KeptFor {
  readonly days: number;
  /** The rule that won; `undefined` where none holds and its kind says it. */
  readonly by: string | undefined;
  /** Rules that hold too, and keep it no longer. */
  readonly others: readonly string[];
}

/**
 * Of several rules that hold, the one that keeps an act the longest wins, of equal ones the first by id: what one rule needs
 * no other takes away. Where none holds, its kind says how long.
 */
export function keptFor(
  event: ActivityEvent,
  situation: Situation,
  rules: readonly ViewRule[],
  byKind: Readonly<Record<EventKind, number>>,
): KeptFor {
  const held = rules
    .filter((r) => isWatched(r.content.watch, event, situation))
    .toSorted((a, b) => b.content.days - a.content.days || (a.id < b.id ? -1 : 1));
  const [first, ...others] = held;
  return first
    ? { days: first.content.days, by: first.id, others: others.map((r) => r.id) }
    : { days: byKind[event.kind], by: undefined, others: [] };
}

/** How many days back a lookout needs an act, to count it; at least one, to see it at all. */
export function daysNeeded({ watch }: Pick<LookoutContent, 'watch'>): number {
  return Math.max(1, Math.ceil(sightMs(watch) / (2 * 86_400_000)));
}

export function viewRuleSentence(names: WatchNames): Sentence {
  return [
    ...watchLines('Keep', names),
    {
      label: 'For',
      parts: [
        {
          path: ['days'],
          label: 'How long it is kept',
          say: (n) => (n === 0 ? '0 days: not at all' : `${String(n)} ${n === 1 ? 'day' : 'days'}`),
          editor: { kind: 'number', unit: 'days', least: 0, most: 3650 },
        },
        '; where several rules hold, the longest wins',
      ],
    },
    BECAUSE_LINE,
  ];
}

export function viewRuleVocabulary(names: WatchNames): Vocabulary {
  return sentenceVocabulary(slotsOf(viewRuleSentence(names)), {
    path: ([first]) => (first === 'name' ? 'The name' : undefined),
  });
}
