// What other areas may use of this one.
export { itemFact, itemVocabulary, type ItemRow } from './items/item-facts.ts';
export type { ItemFigures } from './items/item-figures.ts';
