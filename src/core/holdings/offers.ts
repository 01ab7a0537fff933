// What other areas may use of this one.
export { itemFact, itemVocabulary, placeValue, type ItemRow } from './items/item-facts.ts';
export { BlockIndex, buildBlock, type IndexedItem } from './items/item-index.ts';
export type { ItemFigures } from './items/item-figures.ts';
