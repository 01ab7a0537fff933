import type { BuiltInRole } from './accounts/roles/built-in-role.ts';
import type { TodayKind } from './desk/today-kind.ts';

/** Something one may do. Officers may do everything. */
export interface Permission {
  /** As a refusal calls it: “does not include …”. */
  readonly words: string;
  /** Who may do it besides the officer, of the roles that ship. */
  readonly roles: 'everyone' | readonly BuiltInRole[];
}

export interface ObjectKind {
  /** As a sentence calls one. */
  readonly words: string;
  /** Who may know that one changed: the name of a permission of the same area. */
  readonly see: string;
}

/** A kind of object that accounts can be kept to. */
export interface ScopeKind {
  /** As a sentence calls several. */
  readonly words: string;
}

/** What an area brings to the core: `core/AREA/area.ts`. */
export interface CoreArea {
  readonly area: string;
  /** Permissions by the name of what they allow. */
  readonly actions: Readonly<Record<string, Permission>>;
  /** Kinds of objects by the word that the ledger has for them. */
  readonly objects: Readonly<Record<string, ObjectKind>>;
  /** Kinds of its objects that accounts can be kept to. */
  readonly scopes?: Readonly<Record<string, ScopeKind>>;
  /** Kinds of what needs a hand. */
  readonly today?: Readonly<Record<string, TodayKind>>;
}
