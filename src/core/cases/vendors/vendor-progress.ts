import { needsSafeguard } from '../../holdings/offers.ts';
import { lastDayOf } from '../../retention/offers.ts';
import { dayText } from '../../text/day.ts';
import { listedWords } from '../../text/listed-words.ts';
import { cameSince, marksOf, type LinkedFacts, type Mark } from '../linked/linked.ts';
import { dueNeed, lookAgain, lookAgainAt, need, type Need } from '../needs.ts';
import { CLAUSES, type Clause } from './contract-clauses.ts';
import { scoreAnswers, type VendorScore } from './questionnaire.ts';
import type { VendorContent } from './vendor.ts';
import { EXIT_CHECKS, type ExitCheck, type VendorRecord } from './vendor-act.ts';
import { REVIEW_MONTHS, vendorTier, type VendorTier } from './vendor-tier.ts';

export const VENDOR_STATES = ['being looked at', 'approved', 'leaving', 'left'] as const;
export type VendorState = (typeof VENDOR_STATES)[number];

export interface VendorFacts {
  readonly content: VendorContent;
  readonly record: VendorRecord;
  readonly facts: LinkedFacts;
  /** ISO 8601. */
  readonly today: string;
}

export interface VendorProgress {
  readonly state: VendorState;
  readonly tier: VendorTier;
  readonly score: VendorScore | null;
  readonly needs: readonly Need[];
  /** What came since it was approved. */
  readonly changes: readonly string[];
  /** ISO 8601; when it is looked at again. */
  readonly reviewOn: string | null;
}

/** What a vendor gets and does, so that a later moment can be told from this one: its trackers one by one, and subprocessors. */
export function vendorMarks(content: VendorContent, facts: LinkedFacts): readonly Mark[] {
  return [
    ...marksOf({ ...facts, recipients: [] }).filter((m) => !m.id.startsWith('host ')),
    ...facts.trackers.map((t) => ({
      id: `tracker ${t.id}`,
      words: `a new tracker of theirs: ${t.name} on ${t.site}`,
    })),
    ...content.subprocessors.map((s) => ({
      id: `subprocessor ${s.name.toLowerCase()} ${s.country}`,
      words: `a new subprocessor: ${s.name}${s.country ? ` in ${s.country}` : ''}`,
    })),
  ];
}

/** Clauses that this vendor’s contract has to have. */
export function clausesFor({ role, country, subprocessors }: VendorContent): readonly Clause[] {
  if (role !== 'processor') return [];
  const abroad = needsSafeguard(country) || subprocessors.some((s) => needsSafeguard(s.country));
  return CLAUSES.filter((c) => !c.abroad || abroad);
}

/** How far a vendor is, and what has to happen next. */
export function vendorProgress({ content, record, facts, today }: VendorFacts): VendorProgress {
  const tier = vendorTier(content, facts);
  const { asked, approval, exit } = record;
  const score = asked ? scoreAnswers(asked.questions, record.answers) : null;
  const reviewOn = approval
    ? lastDayOf(approval.on, {
        count: REVIEW_MONTHS[Math.min(approval.tier, tier.tier) as 1 | 2 | 3],
        unit: 'months',
      })
    : null;
  const changes = approval ? cameSince(approval.marks, vendorMarks(content, facts)) : [];
  const at = (state: VendorState, needs: readonly Need[]): VendorProgress => ({
    state,
    tier,
    score,
    needs,
    changes,
    reviewOn,
  });
  if (exit) {
    // A tracker of theirs that comes back opens it again.
    const open = leaving(exit, facts);
    return at(open.length === 0 ? 'left' : 'leaving', open);
  }
  const told = record.events
    .filter((e) => !e.seen)
    .map((e) => need(`look at it: ${e.words}`, { step: 'seen', wrong: true }));
  if (approval) {
    const again =
      changes.length > 0
        ? [lookAgainAt(changes)]
        : tier.tier < approval.tier
          ? [lookAgain(`it is of the ${ORDINAL[tier.tier]} tier now`)]
          : [];
    const review =
      reviewOn && reviewOn <= today
        ? [dueNeed('look at it again', reviewOn, today, { step: 'look again' })]
        : [];
    return at('approved', [...told, ...again, ...ending(content, today), ...review]);
  }
  return at('being looked at', [
    ...told,
    ...wanting(content, record, score, tier, today),
    need('have it approved', { step: 'approve' }),
  ]);
}

const ORDINAL = { 1: 'first', 2: 'second', 3: 'third' } as const;

function wanting(
  content: VendorContent,
  record: VendorRecord,
  score: VendorScore | null,
  tier: VendorTier,
  today: string,
): readonly Need[] {
  const found: Need[] = [];
  const { role, links, asked } = { ...content, asked: record.asked };
  const gets = role !== 'none';
  if (gets && links.activities.length + links.systems.length + links.sites.length === 0)
    found.push(need('say what it works on: activities, systems, sites'));
  if (gets && content.country === '') found.push(need('say in which country it works on data'));
  if (gets && needsSafeguard(content.country) && content.safeguard === 'none')
    found.push(need(`a safeguard for data in ${content.country}, Art. 46`, { wrong: true }));
  if (!asked)
    found.push(
      content.contact === '' ? need('say whom to ask') : need('send it the questions', { step: 'ask' }),
    );
  else if (!asked.sentAt)
    found.push(
      dueNeed(`wait for its answers, asked for by ${dayText(asked.until)}`, asked.until, today, {
        step: 'ask',
      }),
    );
  if (asked?.sentAt)
    for (const g of score?.gaps ?? [])
      if (g.grave && !record.accepted[g.question.id])
        found.push(
          need(`have it mended, or live with it: “${g.question.words}” – ${g.is}`, {
            step: 'accept',
            wrong: true,
          }),
        );
  if (asked && tier.tier < asked.tier)
    found.push(need(`ask it more: it is of the ${ORDINAL[tier.tier]} tier now`, { step: 'ask' }));
  if (role === 'processor' && content.contract.signed === '')
    found.push(need('a contract, Art. 28(3)', { wrong: false }));
  for (const c of clausesFor(content)) {
    const said = record.clauses[c.id];
    if (!said) found.push(need(`look in the contract for ${c.article}: ${c.words}`, { step: 'clause' }));
    else if (!said.there && said.words === '')
      found.push(need(`the contract lacks ${c.article}: ${c.words}`, { step: 'clause', wrong: true }));
  }
  return [...found, ...ending(content, today)];
}

/** Days before an end from which it is told of. */
const AHEAD = 60;

function ending({ contract, certificates }: VendorContent, today: string): readonly Need[] {
  const soon = lastDayOf(today, { count: AHEAD, unit: 'days' });
  const found: Need[] = [];
  for (const c of certificates)
    if (c.ends < today)
      found.push(dueNeed(`its certificate ${c.name} ended on ${dayText(c.ends)}`, c.ends, today));
    else if (c.ends <= soon)
      found.push(dueNeed(`its certificate ${c.name} ends on ${dayText(c.ends)}`, c.ends, today));
  if (contract.ends !== '') {
    const by = daysBefore(contract.ends, contract.notice);
    if (contract.ends < today)
      found.push(dueNeed(`its contract ended on ${dayText(contract.ends)}`, contract.ends, today));
    else if (by <= soon && by >= today)
      found.push(
        dueNeed(`end its contract by then, or it goes on: it ends on ${dayText(contract.ends)}`, by, today),
      );
    else if (contract.ends <= soon)
      found.push(dueNeed(`its contract ends on ${dayText(contract.ends)}`, contract.ends, today));
  }
  return found;
}

function daysBefore(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) - days * 86_400_000).toISOString().slice(0, 10);
}

function leaving(exit: NonNullable<VendorRecord['exit']>, facts: LinkedFacts): readonly Need[] {
  const open = (Object.keys(EXIT_CHECKS) as ExitCheck[]).filter((c) => !exit.checks[c]);
  const hosts = [...new Set(facts.trackers.map((t) => t.site))];
  return [
    ...open.map((c) => need(`see to it that ${EXIT_CHECKS[c]}`, { step: 'left' })),
    ...(hosts.length > 0
      ? [need(`take its trackers off ${hosts.join(', ')}`, { wrong: open.length === 0 })]
      : []),
    ...(facts.reach
      ? [
          need(`close its accounts: ${listedWords(facts.reach.accounts.map((a) => a.name))}`, {
            wrong: open.length === 0,
          }),
        ]
      : []),
  ];
}
