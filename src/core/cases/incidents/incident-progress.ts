import type { Deadline } from './deadlines.ts';
import type { Severity, SeverityLevel } from './severity.ts';

export const TELL = ['tell', 'do not tell'] as const;
export type Tell = (typeof TELL)[number];

/** What two people decide: whether the authority and the people are told, and why. */
export interface TellDecision {
  readonly authority: Tell;
  readonly people: Tell;
  readonly reason: string;
  readonly by: number;
  /** The second; `null` while nobody agreed. */
  readonly agreedBy: number | null;
}

export interface IncidentFacts {
  readonly closed: boolean;
  readonly reckoned: boolean;
  readonly severity: Severity | null;
  readonly decision: TellDecision | null;
  readonly deadlines: readonly Deadline[];
  /** Ids of deadlines by which somebody was told. */
  readonly told: ReadonlySet<string>;
  readonly measures: { readonly open: number; readonly all: number };
  readonly now: string;
}

export interface IncidentNeed {
  readonly step: 'reckoned' | 'severity' | 'decided' | 'agreed' | 'told' | 'measures';
  readonly words: string;
  readonly wrong: boolean;
}

/** Whether a law’s deadline has to be met, as it was decided. */
export function isWanted({ to }: Pick<Deadline, 'to'>, decision: TellDecision | null): boolean {
  if (to === 'security authority') return true;
  return decision === null || (to === 'authority' ? decision.authority : decision.people) === 'tell';
}

/** What has to happen still, in order. */
export function incidentNeeds(f: IncidentFacts): readonly IncidentNeed[] {
  if (f.closed) return [];
  const needs: IncidentNeed[] = [];
  const add = (step: IncidentNeed['step'], words: string, wrong = false) =>
    needs.push({ step, words, wrong });
  if (!f.reckoned) add('reckoned', 'reckon who it is about, and how many');
  if (!f.severity) add('severity', 'say how grave it is');
  if (!f.decision) add('decided', 'decide who is told');
  else if (f.decision.agreedBy === null) add('agreed', 'a second person has to agree');
  for (const d of f.deadlines)
    if (!f.told.has(d.id) && isWanted(d, f.decision) && (f.decision?.agreedBy ?? null) !== null)
      add(
        'told',
        `tell ${d.to === 'people' ? 'the people' : `the ${d.to}`} (${d.law}, ${d.article})`,
        d.by !== null && d.by < f.now,
      );
  if (f.measures.all === 0 && f.decision)
    add('measures', 'say what is done so that it does not happen again');
  return needs;
}

/** The next time that runs, of those not met yet. */
export function nextDeadline(
  f: Pick<IncidentFacts, 'deadlines' | 'told' | 'decision'>,
): Deadline | undefined {
  return f.deadlines.find((d) => d.by !== null && !f.told.has(d.id) && isWanted(d, f.decision));
}

/** What the law has as beginning, by how grave it is: a proposal with its reason, never a decision. */
export function proposedTelling(
  level: SeverityLevel,
  unreadable: boolean,
): { readonly authority: Tell; readonly people: Tell; readonly why: string } {
  if (unreadable)
    return {
      authority: 'do not tell',
      people: 'do not tell',
      why: 'Nobody else can read it: a risk to people is unlikely (Art. 33(1), Art. 34(3)(a)).',
    };
  if (level === 'low')
    return {
      authority: 'do not tell',
      people: 'do not tell',
      why: 'It is low: a risk to people is unlikely (Art. 33(1)). It stands in the register all the same (Art. 33(5)).',
    };
  if (level === 'medium')
    return {
      authority: 'tell',
      people: 'do not tell',
      why: 'A risk to people cannot be left out (Art. 33(1)); a high one is not seen (Art. 34(1)).',
    };
  return { authority: 'tell', people: 'tell', why: 'The risk to people is high (Art. 33(1) and 34(1)).' };
}
