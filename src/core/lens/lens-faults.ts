import type { FactType, LensVocabulary } from './fact.ts';
import { clausesOf, type Clause, type Lens } from './lens.ts';

/** What a lens names that there is not, or not any more. */
export interface LensFault {
  readonly clause: Clause;
  readonly words: string;
}

const TYPES: Readonly<Record<Clause['is'], readonly FactType[]>> = {
  'one of': ['choice'],
  'at least': ['number'],
  'at most': ['number'],
  since: ['day'],
  before: ['day'],
  within: ['day'],
  'longer ago than': ['day'],
  in: ['place'],
  holding: ['text'],
  unknown: ['choice', 'number', 'day', 'place', 'text'],
};

/** Kinds of conditions that can be put on a fact. */
export function conditionsOf(type: FactType): readonly Clause['is'][] {
  return (Object.keys(TYPES) as Clause['is'][]).filter((is) => TYPES[is].includes(type));
}

/**
 * What is wrong with a lens. One that has any fault matches nothing, whatever else it says: a rule must never reach
 * further because something it named is gone.
 */
export function lensFaults(lens: Lens, vocabulary: LensVocabulary): readonly LensFault[] {
  return clausesOf(lens).flatMap((clause): LensFault[] => {
    const fault = (words: string): LensFault[] => [{ clause, words }];
    const fact = vocabulary.fact(clause.fact);
    if (!fact) return fault(`There is no “${clause.fact}” any more.`);
    if (!TYPES[clause.is].includes(fact.type))
      return fault(`“${fact.words}” cannot be asked whether it is ${clause.is}.`);
    if (clause.is === 'one of') {
      const gone = clause.values.filter((v) => vocabulary.value(clause.fact, v) === undefined);
      return gone.length > 0
        ? fault(`${fact.words}: there is no ${gone.map((v) => `“${v}”`).join(', ')} any more.`)
        : [];
    }
    if (clause.is === 'in' && vocabulary.value(clause.fact, clause.place) === undefined)
      return fault(`${fact.words}: there is no “${clause.place}” any more.`);
    return [];
  });
}
