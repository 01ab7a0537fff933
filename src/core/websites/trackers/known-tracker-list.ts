import type { ListDefinition } from '../../lists/list.ts';

/** The library of known trackers. */
export const KNOWN_TRACKER_LIST = {
  name: 'known trackers',
  columns: {
    name: { words: 'Name', sorts: true },
    kind: { words: 'Kind' },
    domain: { words: 'Reaches', sorts: true },
    provider: { words: 'Provider', sorts: true },
    purpose: { words: 'Purpose', sorts: true },
    lifetime: { words: 'Lives' },
  },
  filters: { purpose: { kind: 'value', words: 'Purpose', most: 31 } },
  search: 'name, host or provider',
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;
