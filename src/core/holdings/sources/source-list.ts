import type { ListDefinition } from '../../lists/list.ts';
import { SOURCE_KINDS } from './source.ts';

/** Systems by name. */
export const SYSTEM_LIST = {
  name: 'systems',
  columns: { name: { words: 'System', sorts: true } },
  filters: {},
  search: 'name',
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;

/** Sources by name. */
export const SOURCE_LIST = {
  name: 'sources',
  columns: { name: { words: 'Source', sorts: true } },
  filters: {
    kind: { kind: 'choice', words: 'Kind', options: SOURCE_KINDS },
    system: { kind: 'value', words: 'System', most: 10 },
  },
  search: 'name',
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;
