import type { ListDefinition } from '../../lists/list.ts';

/** Records of processing by name. */
export const ACTIVITY_LIST = {
  name: 'records of processing',
  columns: { name: { words: 'Activity', sorts: true } },
  filters: {},
  search: 'name',
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;
