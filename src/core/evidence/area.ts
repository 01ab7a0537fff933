import type { CoreArea } from '../area.ts';

export const EVIDENCE = {
  area: 'evidence',
  actions: {
    'boards.read': { words: 'seeing boards', roles: 'everyone' },
    'boards.edit': {
      words: 'making boards',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer', 'request handler'],
    },
    'boards.share': { words: 'giving others the address of a board', roles: [] },
    'reports.read': { words: 'seeing reports', roles: 'everyone' },
    'reports.edit': {
      words: 'making reports',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer', 'request handler'],
    },
    'reports.send': { words: 'sending reports to people without an account', roles: [] },
    'figures.aim': { words: 'saying what a figure is to be, and who looks after it', roles: [] },
    'ledger.read': {
      words: 'seeing the ledger',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer', 'auditor'],
    },
    'ledger.export': { words: 'exporting the ledger', roles: ['records manager', 'auditor'] },
  },
  objects: {
    ledger: { words: 'ledger', see: 'ledger.read' },
    board: { words: 'board', see: 'boards.read' },
    figure: { words: 'figure', see: 'boards.read' },
    report: { words: 'report', see: 'reports.read' },
    backup: { words: 'backup', see: 'ledger.read' },
  },
  today: {
    ledger: { words: 'failure', tone: 'wrong', place: 0, does: 'See what' },
    backup: { words: 'failure', tone: 'wrong', place: 4, does: 'See why' },
  },
} as const satisfies CoreArea;
