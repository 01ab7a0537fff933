import type { ActivityEvent, EventKind } from '../activity/event.ts';
import type { Situation } from '../handling/decision.ts';
import { isWatched } from '../lookouts/lookout.ts';
import type { LookoutContent } from '../lookouts/lookout-content.ts';
import { daysNeeded, keptFor, type ViewRule } from './view-rule.ts';

/** A lookout that would see less. */
export interface Blinded {
  readonly id: string;
  readonly name: string;
  /** Acts of these days that it watches and would not see, or not for as long as it counts. */
  readonly acts: number;
  readonly needs: number;
}

export interface ViewFigures {
  /** Acts that the rule holds for. */
  readonly held: number;
  /** Of those, kept longer, shorter, or not at all, against what is so without it. */
  readonly longer: number;
  readonly shorter: number;
  readonly notKept: number;
  /** Other rules that hold for some of them, and which wins where both do. */
  readonly overlaps: readonly {
    readonly id: string;
    readonly acts: number;
    readonly wins: 'this' | 'other';
  }[];
  readonly blinded: readonly Blinded[];
}

/** What a rule would change about what is kept in view, act by act. */
export class ViewOutlook {
  #figures = { held: 0, longer: 0, shorter: 0, notKept: 0 };
  readonly #overlaps = new Map<string, { acts: number; wins: 'this' | 'other' }>();
  readonly #blinded = new Map<string, number>();

  constructor(
    readonly rule: ViewRule,
    /** The others that are in force. */
    readonly others: readonly ViewRule[],
    readonly byKind: Readonly<Record<EventKind, number>>,
    readonly lookouts: readonly { readonly id: string; readonly content: LookoutContent }[],
  ) {}

  add(event: ActivityEvent, situation: Situation): void {
    if (!isWatched(this.rule.content.watch, event, situation)) return;
    const before = keptFor(event, situation, this.others, this.byKind);
    const after = keptFor(event, situation, [...this.others, this.rule], this.byKind);
    this.#figures.held++;
    if (after.days > before.days) this.#figures.longer++;
    if (after.days < before.days) this.#figures[after.days === 0 ? 'notKept' : 'shorter']++;
    for (const other of before.by === undefined ? [] : [before.by, ...before.others]) {
      const wins = after.by === this.rule.id ? 'this' : 'other';
      const of = this.#overlaps.get(other) ?? { acts: 0, wins };
      this.#overlaps.set(other, { acts: of.acts + 1, wins });
    }
    for (const { id, content } of this.lookouts) {
      const needs = daysNeeded(content);
      if (after.days >= needs || before.days < needs || !isWatched(content.watch, event, situation)) continue;
      this.#blinded.set(id, (this.#blinded.get(id) ?? 0) + 1);
    }
  }

  figures(): ViewFigures {
    return {
      ...this.#figures,
      overlaps: [...this.#overlaps]
        .map(([id, of]) => ({ id, ...of }))
        .toSorted((a, b) => b.acts - a.acts || (a.id < b.id ? -1 : 1)),
      blinded: this.lookouts
        .flatMap(({ id, content }) => {
          const acts = this.#blinded.get(id);
          return acts === undefined ? [] : [{ id, name: content.name, acts, needs: daysNeeded(content) }];
        })
        .toSorted((a, b) => b.acts - a.acts),
    };
  }
}
