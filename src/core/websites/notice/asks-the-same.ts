import { same, type Json } from '../../rules/change.ts';
import type { NoticeContent } from './notice.ts';

type Asks = Pick<NoticeContent, 'purposes' | 'tcf'>;

/** Whether an answer to an older version holds for a newer one: nothing is asked there that was not asked then. */
export function asksTheSame(older: Asks, newer: Asks): boolean {
  const purposes =
    older.purposes.length === newer.purposes.length &&
    newer.purposes.every((p) => older.purposes.includes(p));
  if (!purposes || (older.tcf === null) !== (newer.tcf === null)) return false;
  if (!older.tcf || !newer.tcf) return true;
  const [was, is] = [older.tcf, newer.tcf];
  // A vendor less asks nothing new.
  return (
    is.vendors.every((v) => was.vendors.includes(v)) &&
    same(was.covers as Json, is.covers as Json) &&
    same(was.restrictions as Json, is.restrictions as Json)
  );
}
