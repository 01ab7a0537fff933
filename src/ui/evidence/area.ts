import type { UiArea } from '../area.ts';

export const EVIDENCE: UiArea = {
  area: 'evidence',
  name: 'Evidence',
  action: 'boards.read',
  view: async () => (await import('./EvidenceArea.tsx')).EvidenceArea,
  commands: [
    { words: 'Verify the ledger', action: 'ledger.read', link: '/evidence/ledger?verify=now' },
    { words: 'Make a board', action: 'boards.edit', link: '/evidence/boards?new=board' },
    { words: 'Look up a figure', action: 'boards.read', link: '/evidence/figures' },
  ],
  reads: {
    ledger: ['ledger'],
    'ledger-state': ['ledger'],
    entry: ['ledger'],
    boards: ['board'],
    board: ['board'],
    'shown board': ['board', 'figure'],
    'board links': ['board'],
    'figure catalogue': ['figure'],
    figure: ['figure'],
  },
  finds: ['a ledger entry', 'a board'],
};
