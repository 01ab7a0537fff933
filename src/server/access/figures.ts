import { z } from 'zod';
import type { Figure } from '../figures/figure.ts';
import { Count } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { lastRound } from './breadth/find-breadth.ts';

/** Nothing before an estate was read. */
const counted = (kind: string) => async (store: Queries) => {
  const round = await lastRound(store);
  return { value: round ? (round.counts[kind] ?? 0) : null };
};
const common = { see: 'access.read', good: 'less' } as const;

export const ACCESS_FIGURES: readonly Figure[] = [
  {
    ...common,
    id: 'access.wide',
    name: 'Places with sensitive data that are open to most',
    definition:
      'Places with grants of their own in which people’s sensitive data lies, and that more than half of all people, or whoever has a link, can read.',
    unit: 'place',
    link: '/access/broad?kind=exposed',
    value: counted('wide'),
  },
  {
    ...common,
    id: 'access.leavers',
    name: 'Leavers who reach something',
    definition: 'People whose work is over, whose account is open, and who reach at least one place.',
    unit: 'person',
    link: '/access/broad?kind=leaver',
    value: counted('leaver'),
  },
  {
    ...common,
    id: 'access.links',
    name: 'Links without end',
    definition: 'Links to places that nothing ends by itself.',
    unit: 'link',
    link: '/access/broad?kind=link+without+end',
    value: counted('link without end'),
  },
  {
    ...common,
    id: 'access.guests',
    name: 'Guests who reach something',
    definition: 'People from outside whose account is open, and who reach at least one place.',
    unit: 'person',
    link: '/access/broad?kind=guest',
    value: counted('guest'),
  },
  {
    ...common,
    id: 'access.reviews-late',
    name: 'Reviews past their day',
    definition: 'Reviews of access that are open, and were to be answered by now; of all that were begun.',
    unit: 'review',
    link: '/access/reviews',
    value: async (store, now) => {
      const row = await store.one(
        z.object({ late: Count, all: Count }),
        "SELECT SUM(state = 'open' AND due < ?) AS late, COUNT(*) AS `all` FROM access_review",
        [now.toISOString().slice(0, 10)],
      );
      return { value: row?.late ?? 0, of: row?.all ?? 0 };
    },
  },
];
