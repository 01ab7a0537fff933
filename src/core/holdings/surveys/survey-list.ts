import type { ListDefinition } from '../../lists/list.ts';

/** Surveys, the latest first. */
export const SURVEY_LIST = {
  name: 'surveys',
  columns: { name: { words: 'Survey' } },
  filters: {},
  search: 'name',
  order: { sort: 'id', order: 'down' },
} as const satisfies ListDefinition;
