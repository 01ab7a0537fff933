import { z } from 'zod';
import { ACTS, Channel } from '../handling/channel.ts';
import { OUTCOMES, type Decision } from '../handling/decision.ts';
import { STEPS } from '../handling/handling-rule.ts';
import { MotionFinding, MotionItem, type Motion } from '../handling/motion.ts';

/** Who tells of what was done. */
export const EVENT_KINDS = ['device', 'mail', 'level', 'access', 'sign-in', 'source', 'desk'] as const;
export type EventKind = (typeof EVENT_KINDS)[number];
export const EVENT_KIND_WORDS: Readonly<Record<EventKind, string>> = {
  device: 'a device',
  mail: 'the mail gateway',
  level: 'a program that sets levels',
  access: 'a change of access',
  'sign-in': 'a sign-in',
  source: 'a source',
  desk: 'this desk',
};

/** What others can tell of; what is done at the desk, only the desk itself. */
export const TOLD_KINDS = EVENT_KINDS.filter((k) => k !== 'desk');

/** What can be done, beside putting data in motion. */
export const EVENT_ACTS = [
  ...ACTS,
  ...(['open', 'delete', 'set a level', 'lower a level', 'change access'] as const),
  ...(['sign in', 'fail to sign in', 'change'] as const),
] as const;
export type EventAct = (typeof EVENT_ACTS)[number];

/** What somebody answered who was asked. */
export const ANSWERS = ['went on', 'turned back', 'false alarm', 'asked the officer'] as const;
export type Answer = (typeof ANSWERS)[number];

/** A rule that held, as it stood then. */
export const HeldRule = z.strictObject({
  rule: z.string().min(1).max(20),
  version: z.int().min(0).max(1_000_000),
  wants: z.enum(STEPS),
});
export type HeldRule = z.infer<typeof HeldRule>;

/** A change that was made at the desk, by the words of its ledger. */
export const EventChange = z.strictObject({
  /** `handling rule.pause`. */
  action: z.string().min(1).max(80),
  object: z.string().min(1).max(80),
  id: z.string().max(120),
});
export type EventChange = z.infer<typeof EventChange>;

/** What stands in an event, each part by itself. */
export const EventParts = z.strictObject({
  /** 16 bytes of chance, in hexadecimal: the same event twice is one. */
  id: z.string().regex(/^[0-9a-f]{32}$/, '32 hexadecimal digits'),
  at: z.iso.datetime({ precision: 3, message: 'A time such as 2026-11-30T14:05:00.000Z' }),
  kind: z.enum(EVENT_KINDS),
  person: z.string().trim().toLowerCase().min(1, 'Say who').max(254),
  act: z.enum(EVENT_ACTS),
  channel: Channel.nullable().default(null),
  towards: z.array(z.string().min(1).max(2000)).max(200).default([]),
  program: z.string().max(400).default(''),
  network: z.string().max(400).default(''),
  item: MotionItem.nullable().default(null),
  findings: z
    .array(MotionFinding)
    .max(500)
    .default([])
    .refine((all) => new Set(all.map((f) => f.detector)).size === all.length, 'One entry for each detector'),
  outcome: z.enum(OUTCOMES).default('go'),
  /** Every rule that held, the one that decided first. */
  rules: z.array(HeldRule).max(100).default([]),
  /** Rules under rehearsal that held: counted, and nobody was asked or stopped by them. */
  counted: z.array(HeldRule).max(100).default([]),
  answer: z.enum(ANSWERS).nullable().default(null),
  reason: z.string().trim().max(400).default(''),
  /** What was changed at the desk; `null` for what was done elsewhere. */
  change: EventChange.nullable().default(null),
});

/** One thing that was done, as it is told: who, what act, which data, from where to where, what was decided by what. */
export const ActivityEvent = EventParts.superRefine((e, ctx) => {
  const fail = (path: string, message: string) => ctx.addIssue({ code: 'custom', path: [path], message });
  if (
    (e.kind === 'device' || e.kind === 'mail') &&
    (e.channel === null || e.item === null || !isMotionAct(e.act))
  )
    fail('channel', 'What is put in motion has a channel and an item.');
  if (e.kind === 'desk' && e.change === null) fail('change', 'Say what was changed.');
  if ((e.outcome === 'go') !== (e.rules.length === 0))
    fail('rules', 'Where a rule held, say which, and what was decided.');
  if (e.rules[0] && e.rules[0].wants !== e.outcome)
    fail('outcome', 'The first rule is the one that decided.');
  if ((e.answer === 'went on' || e.answer === 'turned back') && e.outcome !== 'ask')
    fail('answer', 'Only who is asked answers.');
});
export type ActivityEvent = z.infer<typeof ActivityEvent>;

function isMotionAct(act: EventAct): act is (typeof ACTS)[number] {
  return (ACTS as readonly string[]).includes(act);
}

/** The rules of a decision that hold, the one that decided first, as an event tells them. */
export function heldRules({ weighed }: Decision): HeldRule[] {
  return weighed.flatMap((w) => (w.wants ? [{ rule: w.rule, version: w.version, wants: w.wants }] : []));
}

/** What was put in motion; `undefined` where nothing was. */
export function motionOf(event: ActivityEvent): Motion | undefined {
  const { act, channel, item, person, towards, program, network, findings } = event;
  if (channel === null || item === null || !isMotionAct(act)) return undefined;
  return { act, channel, item, person, towards, program, network, findings };
}
