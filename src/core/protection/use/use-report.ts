import { wilson, type Share } from '../../interval.ts';
import type { ActivityEvent } from '../activity/event.ts';
import { UnitCounts, type UnitCount } from '../handling/unit-counts.ts';

/** What came of acts at which a rule held. */
export interface UseCounts {
  readonly held: number;
  readonly recorded: number;
  readonly asked: number;
  readonly stopped: number;
  readonly wentOn: number;
  readonly turnedBack: number;
  readonly askedOfficer: number;
  readonly falseAlarms: number;
  /** Of those at which somebody was asked or stopped, those that nobody called a false alarm. */
  readonly right: Share | undefined;
}

export interface UseReport {
  readonly all: UseCounts;
  readonly byDay: readonly {
    readonly day: string;
    readonly asked: number;
    readonly stopped: number;
    readonly recorded: number;
  }[];
  /** By the rule that decided, the channel, the act and the format of the file; the most first. */
  readonly byRule: readonly Named[];
  readonly byChannel: readonly Named[];
  readonly byAct: readonly Named[];
  readonly byFormat: readonly Named[];
  readonly byUnit: readonly UnitCount[];
  /** What people gave as a reason, alike ones together; those that fewer than three gave are counted as one. */
  readonly reasons: readonly { readonly words: string; readonly n: number }[];
  readonly otherReasons: number;
}

export interface Named extends UseCounts {
  readonly name: string;
}

/** Reasons that fewer people gave could tell who they are. */
const LEAST_REASONS = 3;
const MOST_REASONS = 12;

type Tally = { -readonly [K in Exclude<keyof UseCounts, 'right'>]: number };
const none = (): Tally => ({
  ...{ held: 0, recorded: 0, asked: 0, stopped: 0 },
  ...{ wentOn: 0, turnedBack: 0, askedOfficer: 0, falseAlarms: 0 },
});

/** How rules are met in daily work, from acts at which one held. */
export class Use {
  readonly #all = none();
  readonly #days = new Map<string, Tally>();
  readonly #by = {
    rule: new Map<string, Tally>(),
    channel: new Map<string, Tally>(),
    act: new Map<string, Tally>(),
    format: new Map<string, Tally>(),
  };
  readonly #units = new UnitCounts();
  readonly #reasons = new Map<string, { words: string; n: number; people: Set<string> }>();

  add(event: ActivityEvent, unit: string): void {
    const [by] = event.rules;
    if (!by) return;
    const of = (map: Map<string, Tally>, key: string) => {
      const tally = map.get(key) ?? none();
      map.set(key, tally);
      return tally;
    };
    const text = event.item?.name === '' && event.item.format === 'text';
    for (const tally of [
      this.#all,
      of(this.#days, event.at.slice(0, 10)),
      of(this.#by.rule, by.rule),
      of(this.#by.channel, event.channel ?? ''),
      of(this.#by.act, event.act),
      of(this.#by.format, text ? 'a piece of text' : (event.item?.format.toLowerCase() ?? '')),
    ])
      count(tally, event);
    if (event.outcome === 'ask' || event.outcome === 'stop') this.#units.add(unit, event.person);
    if (event.answer === 'went on' && event.reason !== '') {
      const key = event.reason
        .toLowerCase()
        .replace(/[^\p{L}\p{N}]+/gu, ' ')
        .trim();
      const reason = this.#reasons.get(key) ?? { words: event.reason, n: 0, people: new Set<string>() };
      reason.n++;
      reason.people.add(event.person);
      this.#reasons.set(key, reason);
    }
  }

  report(): UseReport {
    const named = (map: ReadonlyMap<string, Tally>): readonly Named[] =>
      [...map]
        .map(([name, tally]) => ({ name, ...whole(tally) }))
        .toSorted((a, b) => b.held - a.held || (a.name < b.name ? -1 : 1));
    const reasons = [...this.#reasons.values()].toSorted((a, b) => b.n - a.n);
    const shown = reasons.filter((r) => r.people.size >= LEAST_REASONS).slice(0, MOST_REASONS);
    return {
      all: whole(this.#all),
      byDay: [...this.#days]
        .map(([day, { asked, stopped, recorded }]) => ({ day, asked, stopped, recorded }))
        .toSorted((a, b) => (a.day < b.day ? -1 : 1)),
      ...{ byRule: named(this.#by.rule), byChannel: named(this.#by.channel), byAct: named(this.#by.act) },
      byFormat: named(this.#by.format),
      byUnit: this.#units.counts(),
      reasons: shown.map(({ words, n }) => ({ words, n })),
      otherReasons: reasons.filter((r) => !shown.includes(r)).reduce((n, r) => n + r.n, 0),
    };
  }
}

function count(tally: Tally, { outcome, answer }: ActivityEvent): void {
  tally.held++;
  if (outcome === 'record') tally.recorded++;
  if (outcome === 'ask') tally.asked++;
  if (outcome === 'stop') tally.stopped++;
  if (answer === 'went on') tally.wentOn++;
  if (answer === 'turned back') tally.turnedBack++;
  if (answer === 'asked the officer') tally.askedOfficer++;
  if (answer === 'false alarm') tally.falseAlarms++;
}

function whole(tally: Tally): UseCounts {
  const confronted = tally.asked + tally.stopped;
  return { ...tally, right: wilson(Math.max(0, confronted - tally.falseAlarms), confronted) };
}
