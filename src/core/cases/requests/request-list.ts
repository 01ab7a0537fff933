import type { ListDefinition } from '../../lists/list.ts';

/** What people ask, the one due first at the head. */
export const REQUEST_LIST = {
  name: 'requests',
  columns: {
    id: { words: 'Number' },
    due: { words: 'Due', sorts: true },
    received: { words: 'Came in', sorts: true },
    kind: { words: 'Asks' },
    region: { words: 'Where' },
    law: { words: 'Law' },
    handler: { words: 'Handled by' },
    way: { words: 'Came', exportOnly: true },
    known: { words: 'Known by', exportOnly: true },
    state: { words: 'State' },
    closed: { words: 'Closed', exportOnly: true },
    days: { words: 'Days it took', exportOnly: true },
    late: { words: 'Late', exportOnly: true },
  },
  filters: {
    open: { kind: 'choice', words: 'Open and closed', options: { open: 'Open', closed: 'Closed' } },
    due: { kind: 'choice', words: 'Due at any time', options: { late: 'Late', week: 'In 7 days' } },
    kind: { kind: 'value', words: 'Every kind', most: 24 },
    law: { kind: 'value', words: 'Every law', most: 20 },
    way: { kind: 'value', words: 'Every way', most: 12 },
    outcome: { kind: 'value', words: 'However it ended', most: 20 },
    handler: { kind: 'value', words: 'Whoever handles it', most: 12 },
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'to' },
  },
  order: { sort: 'due', order: 'up' },
} as const satisfies ListDefinition;
