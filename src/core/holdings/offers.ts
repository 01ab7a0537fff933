// What other areas may use of this one.
export { itemFact, itemVocabulary, placeValue, type ItemRow } from './items/item-facts.ts';
export { DistinctPeople, peopleMargin } from './items/distinct-people.ts';
export { BlockIndex, buildBlock, type IndexedItem, type Selection } from './items/item-index.ts';
export { itemFigures, placesBelow, type ItemFigures, type PlaceCount } from './items/item-figures.ts';
export { select } from './items/item-index.ts';
export { builtInDetectors } from './detection/library/library.ts';
export { PatternDetector } from './detection/detector/detector.ts';
export { Engine } from './detection/engine/engine.ts';
export type { Finding } from './detection/detector/finding.ts';
export { peopleOf, personHash } from './items/people.ts';
export { MATCHES_KEPT } from './items/gathered.ts';
export type { CellFault, TableColumns, TableFields } from './tables/table-fields.ts';
export { BASES, SAFEGUARDS } from './records/activity.ts';
export { needsSafeguard } from './records/contradictions.ts';
export type { ActivityContent, Recipient } from './records/activity.ts';
