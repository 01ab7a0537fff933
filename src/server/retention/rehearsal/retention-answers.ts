import { createHash } from 'node:crypto';
import type { BlockIndex, ItemFigures, PlaceCount } from '../../../core/holdings/offers.ts';
import { itemFigures, placesBelow } from '../../../core/holdings/offers.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { clausesOf } from '../../../core/lens/lens.ts';
import {
  Rehearsal,
  type RetentionTotals,
  type RuleOutlook,
  type SourceCoverage,
} from '../../../core/retention/rehearsal/rehearsal.ts';
import { BlockJudge, type BlockVerdicts } from '../../../core/retention/verdict/block-verdicts.ts';
import type { Weighed } from '../../../core/retention/verdict/weighed.ts';
import type { AreaAnswers } from '../../holdings/offers.ts';

/** The same, as it goes from thread to thread: sets in bytes. */
export type SentWeighed = Omit<Weighed, 'exceptions'> & {
  readonly exceptions: readonly (Omit<Weighed['exceptions'][number], 'items'> & {
    readonly items: Uint8Array;
  })[];
};

export interface RetentionQuestion {
  readonly weighed: SentWeighed;
  readonly today: string;
  readonly ask:
    | { readonly what: 'totals' }
    | { readonly what: 'rule'; readonly id: string; readonly above: string }
    | {
        readonly what: 'first to go';
        readonly id: string;
        readonly after: readonly [number, number] | null;
        readonly size: number;
      }
    | { readonly what: 'due' }
    | { readonly what: 'sources' }
    | { readonly what: 'overlaps'; readonly id: string }
    | { readonly what: 'uncovered'; readonly above: string };
}

export interface RetentionAnswer {
  readonly totals: RetentionTotals;
  readonly rule: Omit<RuleOutlook, 'due' | 'dueNext'> & {
    readonly due: Uint8Array;
    readonly dueNext: Uint8Array;
  };
  readonly 'first to go': readonly { readonly item: number; readonly ends: number }[];
  readonly due: readonly (readonly [by: string, items: Uint8Array])[];
  readonly sources: readonly SourceCoverage[];
  readonly overlaps: readonly { readonly id: string; readonly covers: number }[];
  readonly uncovered: { readonly figures: ItemFigures; readonly places: readonly PlaceCount[] };
}

/** Ways to weigh of which the verdicts on a block are kept. */
const KEPT = 3;

/** Answers for Retention in the thread that has all items in memory. A block that did not change is judged once. */
export class RetentionAnswers implements AreaAnswers {
  readonly #kept = new WeakMap<BlockIndex, Map<string, BlockVerdicts>>();

  answer(
    { parts }: { readonly parts: readonly { readonly index: BlockIndex; readonly set: Bitmap }[] },
    question: unknown,
  ): RetentionAnswer[keyof RetentionAnswer] {
    const { weighed: sent, today, ask } = question as RetentionQuestion;
    const weighed: Weighed = {
      ...sent,
      exceptions: sent.exceptions.map((e) => ({ ...e, items: Bitmap.fromBytes(e.items) })),
    };
    const key = keyOf(sent, today);
    const judge = new BlockJudge(weighed, today);
    const rehearsal = new Rehearsal(
      parts.map(({ index, set }) => ({ index, set, verdicts: this.#verdicts(index, key, judge) })),
      weighed,
      today,
    );
    switch (ask.what) {
      case 'totals':
        return rehearsal.totals();
      case 'rule': {
        const { due, dueNext, ...rest } = rehearsal.outlook(ask.id, ask.above);
        return { ...rest, due: due.toBytes(), dueNext: dueNext.toBytes() };
      }
      case 'first to go':
        return rehearsal.firstToGo(ask.id, ask.after ?? undefined, ask.size);
      case 'sources':
        return rehearsal.bySource();
      case 'overlaps':
        return rehearsal.overlaps(ask.id);
      case 'due':
        return [...rehearsal.due()].map(([by, items]) => [by, items.toBytes()] as const);
      case 'uncovered': {
        const bare = rehearsal.uncovered();
        return { figures: itemFigures(bare), places: placesBelow(bare, ask.above) };
      }
    }
  }

  #verdicts(index: BlockIndex, key: string, judge: BlockJudge): BlockVerdicts {
    const kept = this.#kept.get(index) ?? new Map<string, BlockVerdicts>();
    this.#kept.set(index, kept);
    const known = kept.get(key);
    if (known) return known;
    const made = judge.verdicts(index);
    if (kept.size >= KEPT) kept.delete(kept.keys().next().value as string);
    kept.set(key, made);
    return made;
  }
}

/** The same for what gives the same verdicts on an unchanged block: the day counts only where a lens asks for it. */
function keyOf(weighed: SentWeighed, today: string): string {
  const isOfToday = [...weighed.rules, ...weighed.bounds, ...weighed.holds].some(({ scope }) =>
    clausesOf(scope.lens).some((c) => c.is === 'within' || c.is === 'longer ago than'),
  );
  const digest = createHash('sha256').update(isOfToday ? today : '');
  const { exceptions, events, ...rest } = weighed;
  digest.update(JSON.stringify(rest));
  for (const { items, ...e } of exceptions) digest.update(JSON.stringify(e)).update(items);
  for (const { id, items, days } of events) digest.update(id).update(items).update(days);
  return digest.digest('base64');
}
