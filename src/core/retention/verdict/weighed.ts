import type { Bitmap } from '../../lens/bitmap.ts';
import type { Lens } from '../../lens/lens.ts';
import type { PlacePattern } from '../scope/place-pattern.ts';
import type { About, Term, Then } from './retention-verdict.ts';

/** A scope with people told as the owners that sources call them. */
export interface ResolvedScope {
  /** Its condition and its owners together; `{ any: [] }` where it names something that is gone. */
  readonly lens: Lens;
  readonly places: readonly PlacePattern[];
  /** It names nothing but places. */
  readonly wide: boolean;
}

export interface ResolvedRule extends Term {
  readonly id: string;
  readonly scope: ResolvedScope;
  readonly then: Then;
  readonly order: number | null;
}

export interface ResolvedBound extends Term {
  readonly id: string;
  readonly kind: 'minimum' | 'maximum';
  readonly scope: ResolvedScope;
}

export interface ResolvedHold {
  readonly id: string;
  readonly scope: ResolvedScope;
  /** Days on which it was changed last; null for none. */
  readonly from: string | null;
  readonly until: string | null;
}

/** What was set on items themselves. */
export interface ResolvedException extends Term {
  /** `item:` and a number, so that it is never taken for a rule. */
  readonly id: string;
  readonly items: Bitmap;
  readonly then: Then;
  readonly order: number | null;
}

/** When an event was, for the items of which it is known: days since 1 January 1970, items in rising order. */
export interface EventDays {
  readonly id: string;
  readonly items: Uint32Array;
  readonly days: Int32Array;
}

/** All that is weighed together. */
export interface Weighed {
  /** IANA. */
  readonly zone: string;
  readonly rules: readonly ResolvedRule[];
  readonly bounds: readonly ResolvedBound[];
  readonly holds: readonly ResolvedHold[];
  readonly exceptions: readonly ResolvedException[];
  readonly events: readonly EventDays[];
}

/** What a scope makes a rule about, where it holds an item by a place so deep; 0 for no place. */
export function aboutOf({ places, wide }: Pick<ResolvedScope, 'places' | 'wide'>, depth: number): About {
  if (!wide) return { is: 'lens', depth };
  return places.length === 0 ? { is: 'everything' } : { is: 'place', depth };
}
