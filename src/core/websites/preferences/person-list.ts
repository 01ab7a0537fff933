import type { ListDefinition } from '../../lists/list.ts';

/** How somebody stands. */
export const STANDS = ['says yes', 'left', 'never asked'] as const;
export type Stands = (typeof STANDS)[number];

/** People who may be written to. */
export const PERSON_LIST = {
  name: 'people',
  columns: {
    address: { words: 'Address', sorts: true },
    name: { words: 'Name', sorts: true },
    stands: { words: 'Stands' },
    channels: { words: 'Reached by' },
    topics: { words: 'About' },
    saidAt: { words: 'Last choice', sorts: true },
  },
  filters: {
    stands: {
      kind: 'choice',
      words: 'Stands',
      options: { 'says yes': 'Says yes', left: 'Left', 'never asked': 'Never asked' },
    },
  },
  search: 'address, name or number',
  order: { sort: 'address', order: 'up' },
} as const satisfies ListDefinition;
