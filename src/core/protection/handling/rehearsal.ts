import { wilson, type Share } from '../../interval.ts';
import type { ActivityEvent } from '../activity/event.ts';
import { motionOf } from '../activity/event.ts';
import type { Channel } from './channel.ts';
import { decide, weigh, type Outcome, type Situation, type WeighedHandling } from './decision.ts';
import type { Step } from './handling-rule.ts';
import { UnitCounts, type UnitCount } from './unit-counts.ts';

const SHOWN = 100;

/** One act as it would have been. */
export interface Replayed {
  readonly id: string;
  readonly at: string;
  readonly person: string;
  readonly channel: Channel;
  readonly item: string;
  readonly found: readonly { readonly detector: string; readonly matches: number }[];
  readonly towards: readonly string[];
  /** What this rule would have done; `undefined` where only the version before would. */
  readonly wants: Step | undefined;
  /** What all rules together would have come to. */
  readonly outcome: Outcome;
  /** The version in force would have done otherwise. */
  readonly change: 'new' | 'gone' | 'other' | undefined;
  /** What the person said of it then. */
  readonly answer: ActivityEvent['answer'];
}

export interface RehearsalFigures {
  /** Acts that were looked at. */
  readonly acts: number;
  readonly record: number;
  readonly ask: number;
  readonly stop: number;
  readonly people: number;
  /** Of those it holds for, acts that somebody called a false alarm. */
  readonly falseAlarms: number;
  /** Of those that somebody was asked about or stopped at then, those that nobody called a false alarm. */
  readonly right: Share | undefined;
  readonly confronted: number;
  readonly byDay: readonly { readonly day: string; readonly acts: number }[];
  readonly byChannel: readonly { readonly channel: Channel; readonly acts: number }[];
  readonly byUnit: readonly UnitCount[];
  /** Against the version in force: how many more, how many no more, how many otherwise. */
  readonly against: { readonly gained: number; readonly lost: number; readonly other: number } | undefined;
  /** The newest, at most 100. */
  readonly shown: readonly Replayed[];
}

/** What a rule would have done, act by act. Feed it the oldest first. */
export class Rehearsal {
  #acts = 0;
  readonly #steps: Record<Step, number> = { record: 0, ask: 0, stop: 0 };
  #falseAlarms = 0;
  #confronted = 0;
  readonly #against = { gained: 0, lost: 0, other: 0 };
  readonly #days = new Map<string, number>();
  readonly #channels = new Map<Channel, number>();
  readonly #units = new UnitCounts();
  readonly #people = new Set<string>();
  #shown: Replayed[] = [];

  constructor(
    /** As it would be. */
    readonly rule: WeighedHandling,
    /** The others that are in force. */
    readonly others: readonly WeighedHandling[],
    /** The same rule as it is in force. */
    readonly before?: WeighedHandling,
  ) {}

  add(event: ActivityEvent, situation: Situation): Replayed | undefined {
    const motion = motionOf(event);
    if (!motion) return undefined;
    this.#acts++;
    const { wants } = weigh(this.rule, motion, situation);
    const was = this.before && weigh(this.before, motion, situation).wants;
    if (wants === undefined && was === undefined) return undefined;
    const change =
      this.before === undefined || wants === was
        ? undefined
        : was === undefined
          ? 'new'
          : wants === undefined
            ? 'gone'
            : 'other';
    if (change === 'new') this.#against.gained++;
    else if (change === 'gone') this.#against.lost++;
    else if (change === 'other') this.#against.other++;
    if (wants !== undefined) this.#count(event, motion.channel, wants, situation.person.unit ?? '');
    const replayed: Replayed = {
      ...{ id: event.id, at: event.at, person: event.person, channel: motion.channel },
      ...{ item: motion.item.name, towards: motion.towards, wants, change, answer: event.answer },
      found: motion.findings.map(({ detector, matches }) => ({ detector, matches })),
      outcome: decide(motion, situation, [this.rule, ...this.others]).outcome,
    };
    this.#shown.push(replayed);
    if (this.#shown.length > 2 * SHOWN) this.#shown = this.#shown.slice(-SHOWN);
    return replayed;
  }

  #count(event: ActivityEvent, channel: Channel, wants: Step, unit: string): void {
    this.#steps[wants]++;
    if (event.answer === 'false alarm') this.#falseAlarms++;
    if (event.outcome === 'ask' || event.outcome === 'stop') this.#confronted++;
    const one = <K>(map: Map<K, number>, key: K) => map.set(key, (map.get(key) ?? 0) + 1);
    one(this.#days, event.at.slice(0, 10));
    one(this.#channels, channel);
    this.#people.add(event.person);
    this.#units.add(unit, event.person);
  }

  figures(): RehearsalFigures {
    const most = <T extends { readonly acts: number }>(all: readonly T[]) =>
      all.toSorted((a, b) => b.acts - a.acts);
    return {
      ...{ acts: this.#acts, ...this.#steps, people: this.#people.size, falseAlarms: this.#falseAlarms },
      confronted: this.#confronted,
      right: wilson(Math.max(0, this.#confronted - this.#falseAlarms), this.#confronted),
      byDay: [...this.#days]
        .map(([day, acts]) => ({ day, acts }))
        .toSorted((a, b) => (a.day < b.day ? -1 : 1)),
      byChannel: most([...this.#channels].map(([channel, acts]) => ({ channel, acts }))),
      byUnit: this.#units.counts(),
      against: this.before && { ...this.#against },
      shown: this.#shown.slice(-SHOWN).toReversed(),
    };
  }
}
