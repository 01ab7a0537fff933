import type { Framework } from './framework.ts';

/** What a framework may name: what is there besides itself. */
export interface Around {
  /** One version of another framework, with what it takes itself resolved. */
  framework(id: string, version: string): Framework | undefined;
  /** Versions of a framework that are there. */
  versions(id: string): readonly string[];
  /** The measure’s owner: `ships`, or the name of the own framework that brings it. */
  measureOf(id: string): string | undefined;
  /** Whether a framework of this id ships. */
  ships(id: string): boolean;
  /** Ids of figures that measures can be tested by; all where it is not known. */
  readonly figures?: ReadonlySet<string>;
}
