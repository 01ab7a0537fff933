// What other areas may use of this one.
export {
  FixedItemError,
  ItemError,
  SourceError,
  type Connector,
  type ListedItem,
} from './connectors/connector.ts';
export { allActivities, recordNames, type StoredActivity } from './records/activities.ts';
export {
  columnsOf,
  headingsOf,
  markedCopy,
  refuseFaults,
  sentTable,
  viewTable,
  workbook,
  workbookSheets,
  XLSX,
  type Headings,
  type TableView,
} from './tables/sent-table.ts';
export { decodeText, encodeText } from './items/plain-text.ts';
export { listOwnDetectors, ownPatterns, unlikePatterns } from './detection/detectors/own-detectors.ts';
export { tryDetectors } from './detection/detectors/trial.ts';
export { askLens } from './items/index/ask-lens.ts';
export type { AreaAnswers } from './items/index/lens-index.ts';
export { renameItem } from './items/item-name.ts';
export { fetchWhole, replaceWhole, type Fetched } from './items/fetched-item.ts';
export { keepCopy, readCopy, removeCopy, sha256 } from './items/kept-copy.ts';
export { ItemOwners } from './items/item-owners.ts';
export { BLOCK_ITEMS, touchBlocks } from './items/item-blocks.ts';
export { itemNames } from './items/item-names.ts';
export { itemRows } from './items/item-rows.ts';
export { readLens } from './items/explorer.ts';
export { findItem, itemObject, itemsObject, type ItemDetail } from './items/item-view.ts';
export { fetchItem, itemText, plainItemText, type TextPiece } from './items/item-text.ts';
export { systemNames } from './sources/systems.ts';
export { sourceStewards } from './sources/source-stewards.ts';
export { connectSource, findSource, openRights, sourceNames, type Source } from './sources/sources.ts';
export { folderPlace, openImap } from './connectors/imap.ts';
export type { OpenedAddress } from './connectors/connect.ts';
export { readWhole } from './detection/detectors/trial.ts';
export { itemsOfPerson, itemsWithPeople, personKeys, type PersonWanted } from './items/items-of-person.ts';
export { listSystems } from './sources/systems.ts';
export { foundIn } from './items/found-in-system.ts';
export { EACH_SOURCE_OF_ITEMS } from './items/each-source.ts';
