import type { ListDefinition } from '../../lists/list.ts';

/** The sites in the program, in the order they came. */
export const SITE_LIST = {
  name: 'sites',
  columns: { host: { words: 'Site' }, name: { words: 'Name' } },
  filters: {},
  search: 'host or name',
  order: { sort: 'id', order: 'up' },
} as const satisfies ListDefinition;
