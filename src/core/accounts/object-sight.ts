import type { CoreArea } from '../area.ts';
import { AREAS } from '../areas.ts';
import type { Action } from './action.ts';
import { may } from './authority.ts';
import type { Holder } from './roles/held-role.ts';

const KINDS = new Map((AREAS as readonly CoreArea[]).flatMap((a) => Object.entries(a.objects)));

/** With their words, those that somebody may see. */
export function objectKinds(account: Holder): readonly { readonly kind: string; readonly words: string }[] {
  return [...KINDS]
    .filter(([kind]) => maySee(account, kind))
    .map(([kind, { words }]) => ({ kind, words }))
    .toSorted((a, b) => (a.words < b.words ? -1 : 1));
}

/** Whether some area has objects of a kind. */
export function isObjectKind(kind: string): boolean {
  return KINDS.has(kind);
}

/** Whether an account may know of objects of a kind; nobody may of a kind that no area has. */
export function maySee(account: Holder, kind: string): boolean {
  const action = KINDS.get(kind)?.see;
  return action !== undefined && may(account, action as Action);
}

/** As a sentence calls one; the word of the ledger for a kind that no area has. */
export function objectWords(kind: string): string {
  return KINDS.get(kind)?.words ?? kind;
}
