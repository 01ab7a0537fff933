import type { Action } from '../core/accounts/action.ts';

/** A command that Find offers. */
export interface Command {
  readonly words: string;
  /** What somebody must be allowed to do to be offered it. */
  readonly action: Action;
  readonly link: string;
}

/** What an area brings to the desk: `ui/AREA/area.ts`. */
export interface UiArea {
  /** The first part of its addresses. */
  readonly area: string;
  /** In the top bar; an area without one does not stand there. */
  readonly name?: string;
  /** What somebody must be allowed to do to come here. */
  readonly action: Action;
  readonly commands?: readonly Command[];
  /** Kinds of objects, by the words of the ledger, that a query shows, by the first part of its key. */
  readonly reads?: Readonly<Record<string, readonly string[]>>;
  /** What of it Find finds: `a site`. */
  readonly finds?: readonly string[];
}
