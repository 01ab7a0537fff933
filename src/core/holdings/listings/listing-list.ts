import type { ListDefinition } from '../../lists/list.ts';
import { SOURCE_KINDS } from '../sources/source.ts';

/** Listings by name. */
export const LISTING_LIST = {
  name: 'listings',
  columns: { name: { words: 'Listing', sorts: true } },
  filters: {},
  search: 'name',
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;

export const STANDINGS = { open: 'To decide', source: 'In the register', aside: 'Set aside' } as const;
export type Standing = keyof typeof STANDINGS;

export const NEWS = {
  new: 'New',
  changed: 'Changed',
  back: 'Back again',
  gone: 'Gone',
  same: 'As before',
} as const;
export type News = keyof typeof NEWS;

/** What a listing names. */
export const STORE_LIST = {
  name: 'stores',
  columns: {
    name: { words: 'Store', sorts: true },
    kind: { words: 'Kind' },
    where: { words: 'Where it lies' },
    team: { words: 'Team' },
    region: { words: 'Region' },
    bytes: { words: 'Size' },
    news: { words: 'Since last time' },
    standing: { words: 'Standing' },
  },
  filters: {
    standing: { kind: 'choice', words: 'Standing', options: STANDINGS },
    news: { kind: 'choice', words: 'Since last time', options: NEWS },
    kind: { kind: 'choice', words: 'Kind', options: SOURCE_KINDS },
  },
  search: 'name, team or place',
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;
