/** What can be known of an item. Areas tell their own; a lens names them by id. */
export interface Fact {
  readonly id: string;
  /** As a sentence calls it: `changed`, `kind of document`. */
  readonly words: string;
  readonly type: FactType;
}

/**
 * `choice`: one of some values, or several at once. `number`: a count or an amount, in `unit`. `day`: a moment, of which
 * the day matters. `place`: a path of steps from its source down, which holds all below it. `text`: what is searched in.
 */
export type FactType = 'choice' | 'number' | 'day' | 'place' | 'text';

/** The values of one fact of an item; none where it is not known. */
export type FactValue = string | number | readonly string[] | undefined;

/** An item as a lens sees it. */
export type FactsOf = (fact: string) => FactValue;

/** What there is to name: facts, and the values of those that have a list of them. */
export interface LensVocabulary {
  fact(id: string): Fact | undefined;
  /** How a value reads; `undefined` for one that there is not, or not any more. */
  value(fact: string, value: string): string | undefined;
}
