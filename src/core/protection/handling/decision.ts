import { nearness, type Reached } from '../../accounts/staff/audience.ts';
import type { LensVocabulary } from '../../lens/fact.ts';
import { lensFaults } from '../../lens/lens-faults.ts';
import { explainLens, holds, type Explained } from '../../lens/lens-item.ts';
import { LEADS_TO } from './channel.ts';
import type { HandlingRuleContent, Step } from './handling-rule.ts';
import { isAmong, type NamedGroup } from './named-group.ts';
import { motionFact, type Motion } from './motion.ts';

/** A handling rule as it takes part: its id, its version, and whether what its lens names is all there. */
export interface WeighedHandling {
  readonly id: string;
  readonly version: number;
  readonly content: HandlingRuleContent;
  /** Its lens names something that is gone: it holds nowhere. */
  readonly broken: boolean;
}

/** What is known where somebody acts. */
export interface Situation {
  /** Whoever acts. */
  readonly person: Reached;
  /** Groups of devices that the device is in. */
  readonly deviceGroups: ReadonlySet<string>;
  /** By id. */
  readonly named: ReadonlyMap<string, NamedGroup>;
  /** Day in ISO 8601. */
  readonly today: string;
  /** Rules that the officer lets this person by for now. */
  readonly passes?: ReadonlySet<string>;
}

/** From what lets go to what stops. */
export const OUTCOMES = ['go', 'record', 'ask', 'stop'] as const;
export type Outcome = (typeof OUTCOMES)[number];
export const strictness = (outcome: Outcome): number => OUTCOMES.indexOf(outcome);

export type ConditionName =
  'channel' | 'person' | 'first' | 'device' | 'network' | 'towards' | 'data' | 'pass';

/** Why a rule holds for an act, or does not: each condition in turn, up to the first that fails. */
export interface Weighed {
  readonly rule: string;
  readonly version: number;
  /** What it would do; `undefined` where it does not hold. */
  readonly wants: Step | undefined;
  readonly failed: ConditionName | undefined;
  /** Where its conditions on the data were looked at. */
  readonly data: Explained | undefined;
  /** Of several places it goes to, those for which the rule holds. */
  readonly towards: readonly string[];
}

export interface Decision {
  readonly outcome: Outcome;
  /** Whose outcome it is; `undefined` where no rule holds. */
  readonly by: string | undefined;
  /** Every rule that was weighed, those that hold first, the strictest of them first. */
  readonly weighed: readonly Weighed[];
}

/** A rule that is ready to be weighed against what there is to name. */
export function readyRule(
  rule: Pick<WeighedHandling, 'id' | 'version' | 'content'>,
  vocabulary: LensVocabulary,
): WeighedHandling {
  return { ...rule, broken: lensFaults(rule.content.lens, vocabulary).length > 0 };
}

/**
 * What becomes of an act: the strictest of the rules that hold decides, of equally strict ones the first by id; the others
 * are told beside it. The same on a device and at the server.
 */
export function decide(motion: Motion, situation: Situation, rules: readonly WeighedHandling[]): Decision {
  const weighed = rules.map((rule) => weigh(rule, motion, situation)).toSorted(strictestFirst);
  const [first] = weighed;
  return { outcome: first?.wants ?? 'go', by: first?.wants && first.rule, weighed };
}

function strictestFirst(a: Weighed, b: Weighed): number {
  return (
    strictness(b.wants ?? 'go') - strictness(a.wants ?? 'go') ||
    (a.rule < b.rule ? -1 : a.rule > b.rule ? 1 : 0)
  );
}

/** One rule alone. */
export function weigh(
  { id, version, content, broken }: WeighedHandling,
  motion: Motion,
  situation: Situation,
): Weighed {
  const not = (failed: ConditionName, data?: Explained): Weighed => ({
    ...{ rule: id, version, wants: undefined, failed, data, towards: [] },
  });
  const wants = content.channels[motion.channel];
  if (wants === undefined) return not('channel');
  if (situation.passes?.has(id)) return not('pass');
  const { person, deviceGroups, named, today } = situation;
  if (content.who.length > 0 && nearness(content.who, person) === undefined) return not('person');
  if (nearness(content.but, person) !== undefined) return not('person');
  if (!isAmongFirst(content, person)) return not('first');
  if (content.devices.length > 0 && !content.devices.some((g) => deviceGroups.has(g))) return not('device');
  if (content.networks.length > 0 && !content.networks.some((g) => isIn(named.get(g), motion.network)))
    return not('network');
  const towards = placesMet(content, motion, named);
  if (towards === undefined) return not('towards');
  const facts = (fact: string) => motionFact(motion, fact);
  if (broken || !holds(content.lens, facts, today))
    return not('data', broken ? undefined : explainLens(content.lens, facts, today));
  return {
    rule: id,
    version,
    wants,
    failed: undefined,
    data: explainLens(content.lens, facts, today),
    towards,
  };
}

/** Whether a rule that begins with some has begun with this one. */
export function isAmongFirst({ first }: HandlingRuleContent, person: Reached): boolean {
  return first.length === 0 || nearness(first, person) !== undefined;
}

function isIn(group: NamedGroup | undefined, thing: string): boolean {
  return group !== undefined && isAmong(group, thing);
}

/** The places for which a rule holds; `undefined` where it holds for none. What leads to no place is met by `anywhere`. */
function placesMet(
  { towards }: HandlingRuleContent,
  motion: Motion,
  named: ReadonlyMap<string, NamedGroup>,
): readonly string[] | undefined {
  if (towards.is === 'anywhere') return motion.towards;
  const kind = LEADS_TO[motion.channel];
  const groups = (
    towards.is === 'anywhere outside'
      ? [...named.values()].filter((g) => g.ours)
      : towards.groups.flatMap((id) => named.get(id) ?? [])
  ).filter((g) => g.kind === kind);
  const among = (place: string) => groups.some((g) => isAmong(g, place));
  if (motion.towards.length === 0) return towards.is === 'among' ? undefined : [];
  const met = motion.towards.filter((p) => among(p) === (towards.is === 'among'));
  return met.length > 0 ? met : undefined;
}
