import type { ItemRow } from '../../holdings/offers.ts';

/** Whether people were found in an item, or anything of them: any detector but the one that tells what kind of document it is. */
export function holdsPersonalData({
  people,
  findings,
  document,
}: Pick<ItemRow, 'people' | 'findings' | 'document'>): boolean {
  return people > 0 || findings.some((f) => f.matches > 0 && f.detector !== document);
}
