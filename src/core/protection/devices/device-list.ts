import type { ListDefinition } from '../../lists/list.ts';

/** Devices that tell what is done on them. */
export const DEVICE_LIST = {
  name: 'devices',
  search: 'name or person',
  columns: {
    name: { words: 'Device' },
    person: { words: 'Person' },
    platform: { words: 'Platform' },
    seenAt: { words: 'Last seen (UTC)' },
    bundle: { words: 'Rules' },
    behind: { words: 'Behind because' },
  },
  filters: {
    standing: {
      kind: 'choice',
      words: 'Standing',
      options: { behind: 'Behind', silent: 'Silent', ended: 'Out' },
    },
    group: { kind: 'value', words: 'Every group', most: 12 },
  },
  order: { sort: 'name', order: 'up' },
} as const satisfies ListDefinition;
