import type { ListDefinition } from '../../lists/list.ts';

export const EVIDENCE_STATES = ['kept', 'giving back', 'given back', 'deleted'] as const;
export type EvidenceState = (typeof EVIDENCE_STATES)[number];

/** What was kept of data in motion, the newest first. */
export const EVIDENCE_LIST = {
  name: 'kept evidence',
  columns: {
    at: { words: 'Kept (UTC)' },
    what: { words: 'What' },
    name: { words: 'File' },
    person: { words: 'Person' },
    rule: { words: 'By rule' },
    size: { words: 'Bytes' },
    state: { words: 'State' },
    until: { words: 'Kept until' },
  },
  filters: {
    what: {
      ...{ kind: 'choice', words: 'Copies and files' },
      options: { copy: 'Copies', quarantine: 'In quarantine' },
    },
    state: {
      ...{ kind: 'choice', words: 'Every state' },
      options: {
        ...{ kept: 'Kept', 'giving back': 'On its way back', 'given back': 'Given back', deleted: 'Deleted' },
      },
    },
    person: { kind: 'value', words: 'Everybody', most: 254 },
    rule: { kind: 'value', words: 'Every rule', most: 20 },
  },
  order: { sort: 'at', order: 'down' },
} as const satisfies ListDefinition;
