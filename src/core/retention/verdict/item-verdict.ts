import { itemFact, placeValue, type ItemRow } from '../../holdings/offers.ts';
import { holds } from '../../lens/lens-item.ts';
import { dayIn, type Day } from '../clock/period.ts';
import { isWithinDays } from '../holds/hold.ts';
import { depthAt } from '../scope/scope.ts';
import { holdsPersonalData } from './personal.ts';
import {
  endOf,
  retentionVerdict,
  type ItemDays,
  type RetentionVerdict,
  type WeighedRetention,
} from './retention-verdict.ts';
import { aboutOf, type ResolvedScope, type Weighed } from './weighed.ts';

/** The days of an item where the organisation is. */
export function itemDays(item: ItemRow, zone: string, events: ReadonlyMap<string, Day>): ItemDays {
  const day = (at: string | null) => (at === null ? null : dayIn(at, zone));
  return {
    created: day(item.created),
    changed: day(item.changed),
    events,
    hasPersonalData: holdsPersonalData(item),
  };
}

/** The verdict on one item, among all that is weighed. Lenses are asked on `today`. */
export function itemVerdict(
  item: ItemRow,
  { zone, rules, bounds, holds: allHolds, exceptions }: Omit<Weighed, 'events'>,
  events: ReadonlyMap<string, Day>,
  today: Day,
): RetentionVerdict {
  const place = placeValue(item.source, item.place);
  const depthOf = ({ lens, places }: ResolvedScope) =>
    holds(lens, (fact) => itemFact(item, fact), today) ? depthAt(places, place) : undefined;
  const days = itemDays(item, zone, events);
  return retentionVerdict(
    days,
    {
      rules: [
        ...rules.flatMap(({ scope, ...rule }): WeighedRetention[] => {
          const depth = depthOf(scope);
          return depth === undefined ? [] : [{ ...rule, about: aboutOf(scope, depth) }];
        }),
        ...exceptions
          .filter((e) => e.items.has(item.id))
          .map(({ items: _, ...e }): WeighedRetention => ({ ...e, about: { is: 'item' } })),
      ],
      bounds: bounds.filter((b) => depthOf(b.scope) !== undefined),
      holds: allHolds
        .filter((h) => depthOf(h.scope) !== undefined && isWithinDays(days.changed, h))
        .map((h) => h.id),
    },
    today,
  );
}

/** A minimum that still keeps an item. */
export interface KeepingBound {
  readonly id: string;
  /** The last day; `null` for good, or while its clock has not begun. */
  readonly until: Day | null;
}

/** What the law asks to keep of an item today, whatever rules say of it. */
export function keepingBounds(
  item: ItemRow,
  { zone, bounds }: Pick<Weighed, 'zone' | 'bounds'>,
  events: ReadonlyMap<string, Day>,
  today: Day,
): readonly KeepingBound[] {
  const place = placeValue(item.source, item.place);
  const days = itemDays(item, zone, events);
  return bounds
    .filter(
      (b) =>
        b.kind === 'minimum' &&
        holds(b.scope.lens, (fact) => itemFact(item, fact), today) &&
        depthAt(b.scope.places, place) !== undefined,
    )
    .map((b) => ({ id: b.id, until: endOf(b, days) }))
    .filter((b) => b.until === null || b.until >= today);
}
