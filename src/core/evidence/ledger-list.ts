import type { ListDefinition } from '../lists/list.ts';

/** Entries of the ledger, the newest first. */
export const LEDGER_LIST = {
  name: 'entries',
  columns: {
    id: { words: 'Entry' },
    at: { words: 'Time' },
    actor: { words: 'Who' },
    action: { words: 'What' },
    object: { words: 'Of' },
    detail: { words: 'Detail' },
    tree: { words: 'Sealed' },
  },
  filters: {
    action: { kind: 'value', words: 'Everything that happened', most: 60 },
    object: { kind: 'value', words: 'Every object', most: 40 },
    objectId: { kind: 'value', words: 'Every id', most: 64 },
    actor: { kind: 'value', words: 'Everybody', most: 40 },
    from: { kind: 'from', words: 'From' },
    to: { kind: 'to', words: 'to' },
  },
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;
