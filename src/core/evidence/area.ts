import type { CoreArea } from '../area.ts';

export const EVIDENCE = {
  area: 'evidence',
  actions: {
    'ledger.read': {
      words: 'seeing the ledger',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer', 'auditor'],
    },
    'ledger.export': { words: 'exporting the ledger', roles: ['records manager', 'auditor'] },
  },
  objects: { ledger: { words: 'ledger', see: 'ledger.read' } },
  today: { ledger: { words: 'failure', tone: 'wrong', place: 0, does: 'See what' } },
} as const satisfies CoreArea;
