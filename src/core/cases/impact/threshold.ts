import { CRITERIA, QUESTIONS, type Criterion, type Proposed, type Question } from './criteria.ts';
import { NATIONAL_LISTS, type ListEntry } from './national-lists.ts';

/** What somebody said to a question; where they said nothing, the proposal counts. */
export type OwnAnswers = Partial<Readonly<Record<Question, { readonly is: boolean; readonly why: string }>>>;

export interface AskedQuestion extends Proposed {
  readonly id: Question;
  readonly words: string;
  readonly isCriterion: boolean;
  /** Somebody said so, and it is not proposed alone. */
  readonly own: boolean;
  /** What is proposed, where somebody said otherwise. */
  readonly proposed: boolean;
}

/** A rule that asks for an assessment, and what of it holds. */
export interface Clause {
  readonly law: string;
  readonly words: string;
  readonly holds: boolean;
  readonly because: string;
}

export interface Threshold {
  readonly questions: readonly AskedQuestion[];
  readonly criteria: readonly Criterion[];
  readonly clauses: readonly Clause[];
  /** Needed: a rule asks for it. Weigh: one criterion alone holds, and somebody says why not. */
  readonly verdict: 'needed' | 'weigh' | 'not needed';
  readonly words: string;
}

/**
 * Whether an impact assessment is needed: by Art. 35(3) of the GDPR, by two of the nine criteria of the guidelines (WP 248
 * rev.01), and by the lists of the authorities (Art. 35(4)) of `countries` (ISO 3166-1).
 */
export function threshold(
  proposed: Readonly<Record<Question, Proposed>>,
  own: OwnAnswers,
  countries: readonly string[],
): Threshold {
  const questions = (Object.keys(QUESTIONS) as Question[]).map((id): AskedQuestion => {
    const said = own[id];
    return {
      ...{ id, words: QUESTIONS[id], isCriterion: id in CRITERIA, proposed: proposed[id].is },
      ...(said ? { is: said.is, because: said.why, own: true } : { ...proposed[id], own: false }),
    };
  });
  const holding = new Set(questions.filter((q) => q.is).map((q) => q.id));
  const criteria = (Object.keys(CRITERIA) as Criterion[]).filter((c) => holding.has(c));
  const has = (...all: readonly Question[]) => all.every((q) => holding.has(q));
  const told = (...all: readonly Question[]) => {
    const missing = all.filter((q) => !holding.has(q));
    return missing.length === 0
      ? `it holds: ${all.map((q) => QUESTIONS[q]).join('; ')}`
      : `missing: ${missing.map((q) => QUESTIONS[q]).join('; ')}`;
  };
  const clauses: Clause[] = [
    clause('GDPR Art. 35(3)(a)', 'people are evaluated systematically, and decided on by a machine', [
      'evaluation',
      'automated',
    ]),
    clause('GDPR Art. 35(3)(b)', 'special categories or offences on a large scale', [
      'special',
      'large scale',
    ]),
    clause('GDPR Art. 35(3)(c)', 'an area that everybody may enter is watched on a large scale', [
      'public area',
      'monitoring',
      'large scale',
    ]),
    {
      ...{ law: 'WP 248 rev.01, III.B.a', words: 'two of the nine criteria', holds: criteria.length >= 2 },
      because:
        criteria.length === 0
          ? 'none holds'
          : `${criteria.length} of 9 hold: ${criteria.map((c) => CRITERIA[c]).join('; ')}`,
    },
    ...NATIONAL_LISTS.filter((e) => countries.includes(e.country)).map((e) =>
      listClause(e, criteria, has, told),
    ),
  ];
  function clause(law: string, words: string, all: readonly Question[]): Clause {
    return { law, words, holds: has(...all), because: told(...all) };
  }
  const held = clauses.filter((c) => c.holds);
  const [first] = held;
  const verdict = first ? 'needed' : criteria.length === 1 ? 'weigh' : 'not needed';
  return {
    ...{ questions, criteria, clauses, verdict },
    words: first
      ? `needed: ${first.law}, ${first.words}${held.length > 1 ? `, and ${held.length - 1} more ${held.length === 2 ? 'rule' : 'rules'}` : ''}`
      : verdict === 'weigh'
        ? `one criterion holds: say why an assessment is not needed, or make one`
        : 'not needed: no criterion holds',
  };
}

function listClause(
  e: ListEntry,
  criteria: readonly Criterion[],
  has: (...all: readonly Question[]) => boolean,
  told: (...all: readonly Question[]) => string,
): Clause {
  const more = criteria.filter((c) => !e.all.includes(c));
  const enough = more.length >= (e.more ?? 0);
  return {
    ...{ law: `${e.authority} (${e.country}), list under Art. 35(4)`, words: e.words },
    holds: has(...e.all) && enough,
    because:
      e.all.length > 0 && !has(...e.all)
        ? told(...e.all)
        : enough
          ? `it holds: ${[...e.all.map((q) => QUESTIONS[q]), ...(e.more ? more.map((c) => CRITERIA[c]) : [])].join('; ')}`
          : `missing: ${(e.more ?? 0) - more.length} more of the nine criteria`,
  };
}
