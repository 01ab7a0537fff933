import type { ListDefinition } from '../../lists/list.ts';
import { TRACKER_KINDS } from './tracker.ts';
import { VISITOR_WORDS, VISITORS } from './visitor.ts';

/** Parts of the trackers of a site that are looked at by themselves. */
export const TRACKER_SHOWS = {
  leaks: 'Leaks',
  unsorted: 'Not sorted',
  attempts: 'Attempts',
  conflicts: 'Conflicts',
} as const;

/** The trackers of a site; by `place`, what needs a hand comes first. */
export const TRACKER_LIST = {
  name: 'trackers',
  columns: {
    name: { words: 'Name', sorts: true },
    kind: { words: 'Kind', sorts: true },
    host: { words: 'Reaches', sorts: true },
    party: { words: 'Party', exportOnly: true },
    purpose: { words: 'Purpose', sorts: true },
    decided: { words: 'Decided', exportOnly: true },
    lifetime: { words: 'Lives', sorts: true },
    pages: { words: 'Pages', sorts: true },
    ...Object.fromEntries(VISITORS.map((v) => [v, { words: VISITOR_WORDS[v] }])),
  },
  filters: {
    show: { kind: 'choice', words: 'Show', options: TRACKER_SHOWS },
    purpose: { kind: 'value', words: 'Purpose', most: 31 },
    kind: {
      kind: 'choice',
      words: 'Kind',
      options: Object.fromEntries(TRACKER_KINDS.map((k) => [k, k])),
    },
  },
  search: 'name or host',
  order: { sort: 'place', order: 'up' },
} as const satisfies ListDefinition;
