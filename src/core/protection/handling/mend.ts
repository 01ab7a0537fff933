import { groupMark } from '../../accounts/staff/audience.ts';
import { isClause, type Lens } from '../../lens/lens.ts';
import type { ActivityEvent } from '../activity/event.ts';
import { motionOf } from '../activity/event.ts';
import { LEADS_TO } from './channel.ts';
import { weigh, type Situation, type WeighedHandling } from './decision.ts';
import type { HandlingRuleContent } from './handling-rule.ts';
import { motionFact, type Motion } from './motion.ts';
import { isAmong } from './named-group.ts';

/** What a mend does to a rule. */
export type MendStep =
  | { readonly does: 'ask more'; readonly fact: string; readonly from: number; readonly to: number }
  | { readonly does: 'leave out'; readonly fact: string; readonly value: string }
  | { readonly does: 'leave alone'; readonly group: string }
  | { readonly does: 'let go towards'; readonly group: string };

/** A rule with one thing changed, and what that would have come to. */
export interface Mend {
  readonly step: MendStep;
  readonly content: HandlingRuleContent;
  /** Acts that people called false alarms and that it would have let go. */
  readonly avoided: number;
  /** Acts that nobody called so, and that it would have let go too. */
  readonly lost: number;
}

export interface Mends {
  /** Acts at which somebody was asked or stopped and that the rule holds for; those that were called false alarms. */
  readonly confronted: number;
  readonly falseAlarms: number;
  /** The best first. */
  readonly mends: readonly Mend[];
}

/** Letting one right act go is worth so many false alarms. */
const PRICE = 2;
const SHOWN = 5;
const MOST_ACTS = 5000;
const FACTS_LEFT_OUT = ['data', 'format', 'document', 'level'] as const;

interface Act {
  readonly motion: Motion;
  readonly situation: Situation;
}

/**
 * Finds what to change about a rule so that it is wrong less often: each single change is tried on the acts at which people
 * were asked or stopped, by the core that decides. Feed it the oldest first; of many the newest count.
 */
export class Mending {
  #false: Act[] = [];
  #right: Act[] = [];

  constructor(readonly rule: WeighedHandling) {}

  add(event: ActivityEvent, situation: Situation): void {
    const motion = motionOf(event);
    if (!motion || (event.outcome !== 'ask' && event.outcome !== 'stop')) return;
    if (weigh(this.rule, motion, situation).wants === undefined) return;
    const acts = event.answer === 'false alarm' ? this.#false : this.#right;
    acts.push({ motion, situation });
    if (acts.length > 2 * MOST_ACTS) acts.splice(0, acts.length - MOST_ACTS);
  }

  mends(): Mends {
    const [wrong, right] = [this.#false.slice(-MOST_ACTS), this.#right.slice(-MOST_ACTS)];
    const tried = candidates(this.rule.content, wrong).map(({ step, content }): Mend => {
      const rule = { ...this.rule, content };
      const gone = (acts: readonly Act[]) =>
        acts.filter((a) => weigh(rule, a.motion, a.situation).wants === undefined).length;
      return { step, content, avoided: gone(wrong), lost: gone(right) };
    });
    return {
      confronted: wrong.length + right.length,
      falseAlarms: wrong.length,
      mends: best(tried),
    };
  }
}

const worth = (m: Mend) => m.avoided - PRICE * m.lost;

/** Those worth it, none of them beaten by another in both what it avoids and what it loses. */
function best(all: readonly Mend[]): readonly Mend[] {
  const useful = all.filter((m) => m.avoided > 0 && worth(m) > 0);
  return useful
    .filter(
      (m, i) =>
        !useful.some(
          (o, j) =>
            o.avoided >= m.avoided && o.lost <= m.lost && (o.avoided > m.avoided || o.lost < m.lost || j < i),
        ),
    )
    .toSorted((a, b) => worth(b) - worth(a))
    .slice(0, SHOWN);
}

interface Candidate {
  readonly step: MendStep;
  readonly content: HandlingRuleContent;
}

function candidates(content: HandlingRuleContent, wrong: readonly Act[]): readonly Candidate[] {
  if (wrong.length === 0) return [];
  return [
    ...askMore(content, wrong),
    ...leaveOut(content, wrong),
    ...leaveAlone(content, wrong),
    ...letGoTowards(content, wrong),
  ];
}

/** More matches, more people, more of whatever it counts: just above what false alarms had. */
function askMore(content: HandlingRuleContent, wrong: readonly Act[]): readonly Candidate[] {
  const seen = new Map<string, number>();
  visit(content.lens, (c) => {
    if (c.is === 'at least') seen.set(c.fact, Math.max(seen.get(c.fact) ?? -Infinity, c.number));
  });
  return [...seen].flatMap(([fact, from]) => {
    const values = wrong
      .flatMap((a) => {
        const value = motionFact(a.motion, fact);
        return typeof value === 'number' ? [value] : [];
      })
      .toSorted((a, b) => a - b);
    const at = (share: number) => values[Math.floor((values.length - 1) * share)];
    const to = new Set(
      [0.5, 0.75, 0.9, 1].flatMap((s) => (at(s) === undefined ? [] : [(at(s) as number) + 1])),
    );
    return [...to]
      .filter((n) => n > from)
      .map((n): Candidate => ({
        step: { does: 'ask more', fact, from, to: n },
        content: { ...content, lens: withNumber(content.lens, fact, n) },
      }));
  });
}

/** Not what only false alarms have: data, a format, a kind of document, a level. */
function leaveOut(content: HandlingRuleContent, wrong: readonly Act[]): readonly Candidate[] {
  return FACTS_LEFT_OUT.flatMap((fact) =>
    commonest(wrong.map((a) => listOf(motionFact(a.motion, fact)))).map((value): Candidate => ({
      step: { does: 'leave out', fact, value },
      content: { ...content, lens: and(content.lens, { not: { fact, is: 'one of', values: [value] } }) },
    })),
  );
}

/** Groups that whoever called false alarms belongs to. */
function leaveAlone(content: HandlingRuleContent, wrong: readonly Act[]): readonly Candidate[] {
  return commonest(wrong.map((a) => [...a.situation.person.groups.keys()]))
    .map(groupMark)
    .filter((mark) => !content.but.includes(mark) && !content.who.includes(mark))
    .map((group): Candidate => ({
      step: { does: 'leave alone', group },
      content: { ...content, but: [...content.but, group] },
    }));
}

/** Named groups that places of false alarms are in. */
function letGoTowards(content: HandlingRuleContent, wrong: readonly Act[]): readonly Candidate[] {
  const { is, groups } = content.towards;
  if (is === 'among') return [];
  const before = is === 'not among' ? groups : [];
  // What leads outside has to stay outside: our own groups come with it.
  const own = (a: Act) =>
    is === 'anywhere outside' ? [...a.situation.named].flatMap(([id, g]) => (g.ours ? [id] : [])) : [];
  const met = wrong.map((a) =>
    [...a.situation.named].flatMap(([id, g]) =>
      g.kind === LEADS_TO[a.motion.channel] && a.motion.towards.some((p) => isAmong(g, p)) ? [id] : [],
    ),
  );
  const kinds = new Set(Object.keys(content.channels).map((c) => LEADS_TO[c as keyof typeof LEADS_TO]));
  // One that is not among holds on each way by groups of its kind alone.
  if (kinds.size > 1) return [];
  return commonest(met)
    .filter((id) => !before.includes(id))
    .map((group): Candidate => {
      const ours = wrong[0] ? own(wrong[0]) : [];
      return {
        step: { does: 'let go towards', group },
        content: {
          ...content,
          towards: { is: 'not among', groups: [...new Set([...before, ...ours, group])] },
        },
      };
    });
}

/** Values that at least a fifth of them have, the commonest first; at most eight. */
function commonest(lists: readonly (readonly string[])[]): readonly string[] {
  const counts = new Map<string, number>();
  for (const list of lists)
    for (const value of new Set(list)) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts]
    .filter(([, n]) => n * 5 >= lists.length)
    .toSorted((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, 8)
    .map(([value]) => value);
}

function listOf(value: unknown): readonly string[] {
  return Array.isArray(value)
    ? value.filter((v): v is string => typeof v === 'string')
    : typeof value === 'string'
      ? [value]
      : [];
}

function visit(lens: Lens, see: (clause: Extract<Lens, { fact: string }>) => void): void {
  if (isClause(lens)) see(lens);
  else if ('not' in lens) return;
  else for (const part of 'all' in lens ? lens.all : lens.any) visit(part, see);
}

/** Every lower bound on a fact raised to a number; what is denied stays. */
function withNumber(lens: Lens, fact: string, number: number): Lens {
  if (isClause(lens))
    return lens.is === 'at least' && lens.fact === fact
      ? { ...lens, number: Math.max(lens.number, number) }
      : lens;
  if ('not' in lens) return lens;
  return 'all' in lens
    ? { all: lens.all.map((l) => withNumber(l, fact, number)) }
    : { any: lens.any.map((l) => withNumber(l, fact, number)) };
}

function and(lens: Lens, more: Lens): Lens {
  return 'all' in lens ? { all: [...lens.all, more] } : { all: [lens, more] };
}
