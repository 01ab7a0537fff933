import type { ComponentType } from 'react';
import type { Action } from '../core/accounts/action.ts';
import type { Account } from '../core/accounts/authority.ts';

/** A command that Find offers. */
export interface Command {
  readonly words: string;
  /** What somebody must be allowed to do to be offered it. */
  readonly action: Action;
  readonly link: string;
}

export type ItemsDialog = ComponentType<{
  /** At least one. */
  readonly items: readonly number[];
  readonly onClose: () => void;
}>;

/** What an area brings to the desk: `ui/AREA/area.ts`. */
export interface UiArea {
  /** The first part of its addresses. */
  readonly area: string;
  readonly name: string;
  /** Whether it stands in the top bar; it does where nothing is said. */
  readonly inBar?: boolean;
  /** What is shown under its addresses; loaded when somebody first comes. */
  readonly view: () => Promise<ComponentType<{ readonly account: Account }>>;
  /** What somebody must be allowed to do to come here. */
  readonly action: Action;
  readonly commands?: readonly Command[];
  /** Kinds of objects, by the words of the ledger, that a query shows, by the first part of its key. */
  readonly reads?: Readonly<Record<string, readonly string[]>>;
  /** What can be made of a lens on items: where that begins, from the lens in its line. */
  readonly lensActs?: readonly (Omit<Command, 'link'> & { readonly link: (line: string) => string })[];
  /** What can be done with items that are chosen in the explorer: a window over the desk. */
  readonly itemActs?: readonly {
    readonly words: string;
    readonly action: Action;
    readonly dialog: () => Promise<ItemsDialog>;
  }[];
  /** What it tells of an item that is held, beside its sheet. */
  readonly itemPanel?: () => Promise<ComponentType<{ readonly id: string }>>;
  /** What of it Find finds: `a site`. */
  readonly finds?: readonly string[];
}
