import { z } from 'zod';
import { listedWords } from '../../text/listed-words.ts';
import { graveData, harmfulData } from '../linked/gravity.ts';
import type { LinkedFacts } from '../linked/linked.ts';
import { needsSafeguard } from '../../holdings/offers.ts';

/** Four steps of each, as ISO/IEC 29134 has them. */
export const LIKELIHOOD = ['negligible', 'limited', 'significant', 'maximum'] as const;
export const SEVERITY = ['negligible', 'limited', 'significant', 'maximum'] as const;
const Step = z.int().min(1).max(4);

export const RiskMeasure = z.strictObject({
  what: z.string().trim().min(1, 'Say what is done.').max(300),
  /** Steps by which it lowers them, once it is done. */
  likelihood: z.int().min(0).max(3),
  severity: z.int().min(0).max(3),
  done: z.boolean(),
  /** ISO 8601; '' where it is done. */
  due: z.union([z.literal(''), z.iso.date()]),
});
export type RiskMeasure = z.infer<typeof RiskMeasure>;

/** What could happen to people. */
export const Risk = z.strictObject({
  what: z.string().trim().min(1, 'Say what could happen.').max(300),
  /** What it would mean for them. */
  harm: z.string().max(500),
  likelihood: Step,
  severity: Step,
  measures: z.array(RiskMeasure).max(30),
});
export type Risk = z.infer<typeof Risk>;

export const RISK_LEVELS = ['low', 'medium', 'high', 'very high'] as const;
export type RiskLevel = (typeof RISK_LEVELS)[number];

/** Likelihood × severity, 1 to 16: from 12 very high, from 8 high, from 4 medium. */
export function riskLevel(likelihood: number, severity: number): RiskLevel {
  const score = likelihood * severity;
  if (score >= 12) return 'very high';
  if (score >= 8) return 'high';
  return score >= 4 ? 'medium' : 'low';
}

export interface WeighedRisk {
  readonly risk: Risk;
  readonly before: RiskLevel;
  /** With the measures that are done. */
  readonly now: RiskLevel;
  /** With all of them. */
  readonly planned: RiskLevel;
  /** Steps that are left with all of them. */
  readonly left: { readonly likelihood: number; readonly severity: number };
}

/** What remains of a risk: each measure takes its steps away, and nothing goes below the first. */
export function weighRisk(risk: Risk): WeighedRisk {
  const left = (measures: readonly RiskMeasure[]) => ({
    likelihood: Math.max(1, risk.likelihood - measures.reduce((n, m) => n + m.likelihood, 0)),
    severity: Math.max(1, risk.severity - measures.reduce((n, m) => n + m.severity, 0)),
  });
  const [done, all] = [left(risk.measures.filter((m) => m.done)), left(risk.measures)];
  return {
    risk,
    before: riskLevel(risk.likelihood, risk.severity),
    now: riskLevel(done.likelihood, done.severity),
    planned: riskLevel(all.likelihood, all.severity),
    left: all,
  };
}

export const isHigh = (level: RiskLevel): boolean => level === 'high' || level === 'very high';

/** The gravest of them; low where there is none. */
export function gravest(levels: readonly RiskLevel[]): RiskLevel {
  return RISK_LEVELS[Math.max(0, ...levels.map((l) => RISK_LEVELS.indexOf(l)))] ?? 'low';
}

export interface ProposedRisk {
  readonly risk: Risk;
  readonly because: string;
}

/** Risks that what it is linked to speaks of. */
export function proposeRisks(facts: LinkedFacts, intelligence: boolean): readonly ProposedRisk[] {
  const [grave, personal] = [graveData(facts.data), harmfulData(facts.data)];
  const severity = grave.length > 0 ? 4 : personal.length > 0 ? 3 : facts.data.length > 0 ? 2 : 1;
  const names = (data: LinkedFacts['data']) => listedWords(data.map((d) => d.name));
  const many = (facts.count ?? 0) >= 10_000;
  const found: ProposedRisk[] = [];
  const add = (what: string, harm: string, likelihood: number, weight: number, because: string) =>
    found.push({
      risk: { what, harm, likelihood: Math.min(4, likelihood), severity: Math.min(4, weight), measures: [] },
      because,
    });
  if (facts.data.length > 0) {
    const why = grave.length > 0 ? names(grave) : personal.length > 0 ? names(personal) : names(facts.data);
    add(
      'Somebody reads what is not meant for them',
      grave.length > 0
        ? 'shame, discrimination, blackmail'
        : personal.length > 0
          ? 'fraud in their name, loss of money'
          : 'unwanted mail',
      2 + (facts.recipients.length > 2 || many ? 1 : 0),
      severity,
      `${why}${many ? `; ${(facts.count ?? 0).toLocaleString('en-GB')} people` : ''}`,
    );
    add('Data are lost, or cannot be had', 'a service is not given', 2, Math.min(3, severity), why);
    add('Data are changed, or wrong', 'decisions on wrong grounds', 1, Math.min(3, severity), why);
  }
  for (const a of facts.activities)
    if (a.retention.trim() === '')
      add(
        'Data are kept longer than needed',
        'old data are used against them',
        3,
        2,
        `${a.name} does not say how long`,
      );
  for (const r of facts.recipients)
    if (needsSafeguard(r.country))
      add(
        `${r.name} cannot keep data from the authorities of ${r.country}`,
        'access without a remedy',
        r.safeguard === 'none' ? 3 : 2,
        Math.max(2, severity - 1),
        r.safeguard === 'none' ? 'no safeguard of Art. 46 is recorded' : `on ${r.safeguard}`,
      );
  const ads = [...new Set(facts.trackers.filter((t) => /advert/i.test(t.purpose ?? '')).map((t) => t.host))];
  if (ads.length > 0)
    add(
      'Profiles are made that people do not know of',
      'they are steered, or singled out',
      3,
      3,
      ads.slice(0, 4).join(', '),
    );
  if (intelligence) {
    add(
      'A machine decides wrongly, and nobody sees why',
      'they are refused what is theirs',
      2,
      3,
      'an AI system is part of it',
    );
    if (grave.length > 0)
      add(
        'A group is treated worse than others',
        'discrimination',
        2,
        4,
        `an AI system, and ${names(grave)}`,
      );
  }
  return found;
}
