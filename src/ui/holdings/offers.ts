// What other areas may use of this one.
export { useLensVocabulary } from './explorer/use-lens.ts';
export { useLenses } from './lenses/use-lenses.ts';
export { LensChoice } from './lenses/LensChoice.tsx';
export { itemLink, lensLink, sourceLink } from './links.ts';
export { sendFile } from './send-file.ts';
export { SendTable } from './tables/SendTable.tsx';
