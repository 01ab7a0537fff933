import { z } from 'zod';
import { PurposeCode } from '../notice/purpose-code.ts';
import type { Choice } from '../trackers/visitor.ts';
import { NoticeWay, sameWay } from './notice-way.ts';

/** What pressing came to. `closes`: the notice went and came again on the next page, so no answer was kept. */
export const OUTCOMES = ['answers', 'closes', 'opens', 'nothing', 'leads away'] as const;
export type Outcome = (typeof OUTCOMES)[number];

export const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  answers: 'its answer was kept',
  closes: 'it went, and came again on the next page: no answer was kept',
  opens: 'more of the notice opened',
  nothing: 'nothing came of it',
  'leads away': 'it led to another page',
};

const Words = z.string().max(120);

/** One way through the notice, tried by a visitor with a clean profile. */
export const TriedWay = z.object({
  way: NoticeWay,
  outcome: z.enum(OUTCOMES),
  /** How many trackers ran after it; `null` where it was no answer. */
  ran: z.int().nonnegative().nullable(),
  /** Some of those that ran, named. */
  some: z.array(z.string().max(300)).max(12),
  /** Share of the window that its last control takes, in [0, 1]. */
  size: z.number().min(0).max(1),
});
export type TriedWay = z.infer<typeof TriedWay>;

export const NoticeSwitch = z.object({
  /** Its label; unlike every other switch's of the notice. */
  words: Words,
  /** What is written about it. */
  about: z.string().max(300),
  /** As it stands at first. */
  on: z.boolean(),
  locked: z.boolean(),
  /** What it is for, by its words, by what runs with it, or by who said so; `null` where nothing tells. */
  purpose: PurposeCode.nullable(),
  by: z.enum(['words', 'trial', 'person']),
});
export type NoticeSwitch = z.infer<typeof NoticeSwitch>;

const Role = z.object({
  way: NoticeWay,
  why: z.string().max(600),
  by: z.enum(['words', 'trial', 'person']),
});
export type Role = z.infer<typeof Role>;

/** How a site's notice was read: what is on it, what came of each way through it, and which is which. */
export const NoticeReading = z.object({
  /** ISO 8601. */
  readAt: z.string().max(40),
  /** What the notice says, cut short. */
  words: z.string().max(500),
  place: z.enum(['over', 'beside']),
  /** It came only after a while, or once somebody moved. */
  late: z.boolean(),
  /** The controls that are there at first. */
  controls: z.array(Words).max(20),
  /** Trackers that ran before any answer. */
  before: z.int().nonnegative(),
  tried: z.array(TriedWay).max(60),
  roles: z.object({ accept: Role.nullable(), refuse: Role.nullable(), choose: Role.nullable() }),
  switches: z.array(NoticeSwitch).max(24),
});
export type NoticeReading = z.infer<typeof NoticeReading>;
export type Roles = NoticeReading['roles'];

/** Whether a reading still fits the notice that is there: it has the same controls at first. */
export function fits(reading: Pick<NoticeReading, 'controls'>, controls: readonly string[]): boolean {
  const sorted = (list: readonly string[]) => list.toSorted().join('\n');
  return sorted(reading.controls) === sorted(controls);
}

/**
 * The way that makes a choice: for one's own choice, with the switches on whose purpose is among `purposes`. `null`
 * where the notice offers none.
 */
export function wayOf(
  { roles, switches }: Pick<NoticeReading, 'roles' | 'switches'>,
  choice: Choice,
  purposes: readonly string[],
): NoticeWay | null {
  const role = roles[choice];
  if (!role || choice !== 'choose') return role?.way ?? null;
  const on = switches.filter((s) => !s.locked && s.purpose !== null && purposes.includes(s.purpose));
  return withSwitches(
    role.way,
    on.map((s) => s.words),
  );
}

/** What is written on the controls of a notice, as far as it was read. */
export function wordsOf({ controls, tried }: Pick<NoticeReading, 'controls' | 'tried'>): readonly string[] {
  const pressed = tried.flatMap((t) => t.way.flatMap((a) => (a.act === 'press' ? [a.words] : [])));
  return [...new Set([...controls, ...pressed])].filter((w) => w !== '');
}

/** The way with these switches on and all others off. */
export function withSwitches(way: NoticeWay, on: readonly string[]): NoticeWay {
  return way.map((act) => (act.act === 'set' ? { ...act, on: [...on] } : act));
}

/** What somebody said is otherwise than it was read. */
export const NoticeCorrection = z.strictObject({
  /** One of the ways that were tried, by its place in the reading. */
  roles: z
    .partialRecord(z.enum(['accept', 'refuse', 'choose']), z.int().nonnegative('Give one of the ways tried'))
    .optional(),
  switches: z.record(Words, PurposeCode.nullable()).optional(),
});
export type NoticeCorrection = z.infer<typeof NoticeCorrection>;

/** The reading as somebody corrected it; `undefined` where it names a way or a switch that is not there. */
export function correct(reading: NoticeReading, correction: NoticeCorrection): NoticeReading | undefined {
  const roles = { ...reading.roles };
  for (const [choice, at] of Object.entries(correction.roles ?? {}) as [Choice, number][]) {
    const tried = reading.tried[at];
    if (!tried || (choice === 'choose' && !tried.way.some((a) => a.act === 'set'))) return undefined;
    roles[choice] = { way: tried.way, why: 'Somebody said so', by: 'person' };
  }
  const said = correction.switches ?? {};
  if (Object.keys(said).some((words) => !reading.switches.some((s) => s.words === words))) return undefined;
  const switches = reading.switches.map((s) => {
    const purpose = said[s.words];
    return purpose === undefined ? s : { ...s, purpose, by: 'person' as const };
  });
  return { ...reading, roles, switches };
}

/** A new reading of the same notice, with what somebody had corrected in the one before. */
export function keepCorrections(before: NoticeReading, now: NoticeReading): NoticeReading {
  const roles = { ...now.roles };
  for (const choice of ['accept', 'refuse', 'choose'] as const) {
    const said = before.roles[choice];
    if (said?.by === 'person' && now.tried.some((t) => sameWay(t.way, said.way))) roles[choice] = said;
  }
  const switches = now.switches.map((s) => {
    const said = before.switches.find((b) => b.words === s.words && b.by === 'person');
    return said ? { ...s, purpose: said.purpose, by: said.by } : s;
  });
  return { ...now, roles, switches };
}
