import { dayText } from '../../text/day.ts';
import { limitEnd } from '../requests/law/clock.ts';
import { cameSince, type Mark } from '../linked/linked.ts';
import { dueNeed, lookAgainAt, need, type Need } from '../needs.ts';
import type { ImpactContent } from './impact.ts';
import type { ImpactRecord } from './impact-act.ts';
import { gravest, isHigh, weighRisk, type RiskLevel } from './risk.ts';
import type { Threshold } from './threshold.ts';

export const IMPACT_STATES = [
  'threshold',
  'not needed',
  'being written',
  'with the authority',
  'approved',
  'ended',
] as const;
export type ImpactState = (typeof IMPACT_STATES)[number];

export interface ImpactFacts {
  readonly content: ImpactContent;
  readonly record: ImpactRecord;
  readonly threshold: Threshold;
  /** What it is about now, of which an approval keeps what it was then. */
  readonly marks: readonly Mark[];
  /** ISO 8601. */
  readonly today: string;
}

export interface ImpactProgress {
  readonly state: ImpactState;
  readonly needs: readonly Need[];
  /** What came since it was approved. */
  readonly changes: readonly string[];
  readonly before: RiskLevel;
  readonly now: RiskLevel;
  readonly planned: RiskLevel;
  /** Until when the authority has to answer. */
  readonly answerBy: string | null;
}

/** Everything that was asked for to be written is (Art. 35(7) and (9)). */
function written({ content }: ImpactFacts): readonly Need[] {
  const found: Need[] = [];
  if (content.about.trim() === '') found.push(need('say what is done, Art. 35(7)(a)'));
  if (content.necessity.trim() === '') found.push(need('say why it is needed, Art. 35(7)(b)'));
  if (content.risks.length === 0)
    found.push(need('name the risks to people, Art. 35(7)(c)', { step: 'risks' }));
  const bare = content.risks.filter((r) => isHigh(weighRisk(r).before) && r.measures.length === 0);
  for (const r of bare)
    found.push(need(`name a measure against “${r.what}”, Art. 35(7)(d)`, { step: 'risks' }));
  if (content.views.trim() === '')
    found.push(need('say what the people think of it, or why they were not asked, Art. 35(9)'));
  return found;
}

/**
 * When the authority has to answer that is consulted: 8 weeks after it was asked, 6 more where it says so (Art. 36(2)).
 */
export function consultationEnd(sentOn: string, extended: boolean): string {
  return limitEnd(sentOn, { count: extended ? 14 * 7 : 8 * 7, unit: 'days' }, () => true);
}

/** How far an assessment is, and what has to happen next. */
export function impactProgress(facts: ImpactFacts): ImpactProgress {
  const { content, record, threshold, marks, today } = facts;
  const weighed = content.risks.map(weighRisk);
  const levels = {
    before: gravest(weighed.map((w) => w.before)),
    now: gravest(weighed.map((w) => w.now)),
    planned: gravest(weighed.map((w) => w.planned)),
  };
  const { consultation, approval, advice } = record;
  const answerBy =
    consultation && !consultation.answeredOn
      ? consultationEnd(consultation.sentOn, consultation.extended)
      : null;
  const changes = approval ? cameSince(approval.marks, marks) : [];
  const at = (state: ImpactState, needs: readonly Need[]): ImpactProgress => ({
    state,
    needs,
    changes,
    answerBy,
    ...levels,
  });
  if (record.ended) return at('ended', []);
  if (!record.threshold)
    return at('threshold', [need('say whether an assessment is needed', { step: 'decide' })]);
  if (!record.threshold.needed) {
    // What it was decided on changed since: the rules ask for one now.
    const needs =
      threshold.verdict === 'needed'
        ? [need(`decide again: ${threshold.words}`, { step: 'decide', wrong: true })]
        : [];
    return at('not needed', [...needs, ...reviewNeed(content, today)]);
  }
  if (approval) {
    const needs: Need[] = changes.length > 0 ? [lookAgainAt(changes)] : [];
    for (const m of content.risks.flatMap((r) => r.measures))
      if (!m.done)
        needs.push(
          m.due === ''
            ? need(`do it: ${m.what}`, { step: 'risks' })
            : dueNeed(`do it: ${m.what}`, m.due, today, { step: 'risks' }),
        );
    return at('approved', [...needs, ...reviewNeed(content, today)]);
  }
  const missing = written(facts);
  if (missing.length > 0) return at('being written', missing);
  if (!advice)
    return at('being written', [
      need('ask the data protection officer for advice, Art. 35(2)', { step: 'advise' }),
    ]);
  if (isHigh(levels.planned)) {
    if (!consultation)
      return at('being written', [
        need(`the risk stays ${levels.planned}: lower it, or consult the authority, Art. 36(1)`, {
          step: 'consult',
          wrong: true,
        }),
      ]);
    if (!consultation.answeredOn)
      return at('with the authority', [
        need(`wait for the authority, which has until ${dayText(answerBy ?? '')}, Art. 36(2)`, {
          step: 'answered',
        }),
      ]);
  }
  return at('being written', [need('have it approved', { step: 'approve' })]);
}

function reviewNeed({ review }: ImpactContent, today: string): readonly Need[] {
  return review === ''
    ? []
    : review <= today
      ? [dueNeed('look at it again, Art. 35(11)', review, today, { step: 'look again' })]
      : [];
}

/** Why it cannot be approved as it stands; `undefined` where it can. */
export function refusalToApprove(facts: ImpactFacts, by: number): string | undefined {
  const { needs, state } = impactProgress(facts);
  const [first] = needs;
  if (state === 'approved') return 'It is approved.';
  if (first?.step !== 'approve') return first ? `It is not done: ${first.words}.` : `It is ${state}.`;
  if (facts.record.advice?.by === by) return 'Somebody else has to approve it: you gave the advice.';
  return undefined;
}
