import type { ListDefinition } from '../../lists/list.ts';

/** What is too broad, what is most worth mending first. */
export const FINDING_LIST = {
  name: 'findings',
  columns: {
    name: { words: 'What', sorts: true },
    kind: { words: 'Why' },
    counts: { words: 'In numbers' },
    weight: { words: 'Weight', sorts: true },
  },
  filters: { kind: { kind: 'value', words: 'Why', most: 30 } },
  search: 'name',
  order: { sort: 'weight', order: 'down' },
} as const satisfies ListDefinition;
