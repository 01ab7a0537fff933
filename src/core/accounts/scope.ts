import type { CoreArea, ScopeKind } from '../area.ts';
import { AREAS } from '../areas.ts';

/** What an account is kept to: by kind of object, the ids of those. Kinds without an entry are all open. */
export type Scope = Readonly<Record<string, readonly string[]>>;

/** One object that things belong to, such as the site of a notice. */
export interface Within {
  readonly kind: string;
  readonly id: string;
}

/** What decides whether an object is in somebody's scope. */
export interface Placed {
  readonly kind: string;
  /** What it belongs to, of what accounts can be kept to. */
  readonly within?: readonly Within[];
  /** Those it is assigned to; of such objects, an account that is kept to a part sees its own alone. */
  readonly assignedTo?: readonly number[];
  /** Kinds of what accounts can be kept to of which it is about all there are. */
  readonly wholeOf?: readonly string[];
}

interface Scoped {
  /** Absent where it is kept to nothing. */
  readonly scope?: Scope | undefined;
}

/** Kinds of objects that accounts can be kept to, of all areas. */
export const SCOPE_KINDS: ReadonlyMap<string, ScopeKind> = new Map(
  (AREAS as readonly CoreArea[]).flatMap((a) => Object.entries(a.scopes ?? {})),
);

/** Why something is outside an account's scope; `undefined` where it is inside. */
export function outsideScope(account: Scoped & { readonly id: number }, object: Placed): string | undefined {
  if (!isKept(account)) return undefined;
  if (object.assignedTo && !object.assignedTo.includes(account.id))
    return `This ${object.kind} is not assigned to you.`;
  const whole = object.wholeOf?.find((kind) => account.scope?.[kind] !== undefined);
  if (whole !== undefined)
    return `You look after some ${SCOPE_KINDS.get(whole)?.words ?? whole}; this is about all of them.`;
  const outside = object.within?.find(({ kind, id }) => !inScope(account, kind, id));
  return (
    outside && `This is none of the ${SCOPE_KINDS.get(outside.kind)?.words ?? outside.kind} you look after.`
  );
}

/** Whether an account is kept to anything. */
export function isKept({ scope }: Scoped): boolean {
  return scope !== undefined && Object.keys(scope).length > 0;
}

export function inScope({ scope }: Scoped, kind: string, id: string): boolean {
  const ids = scope?.[kind];
  return ids === undefined || ids.includes(id);
}
