import type { UiArea } from '../area.ts';

export const EVIDENCE: UiArea = {
  area: 'evidence',
  name: 'Evidence',
  action: 'boards.read',
  view: async () => (await import('./EvidenceArea.tsx')).EvidenceArea,
  commands: [
    { words: 'Verify the ledger', action: 'ledger.read', link: '/evidence/ledger?verify=now' },
    { words: 'Make a board', action: 'boards.edit', link: '/evidence/boards?new=board' },
    { words: 'Make a report', action: 'reports.edit', link: '/evidence/reports?new=report' },
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
    reports: ['report'],
    report: ['report'],
    'open report': ['report'],
    'report files': ['report'],
    'report subjects': ['board', 'report'],
    backups: ['backup'],
    'figure catalogue': ['figure'],
    figure: ['figure'],
  },
  lensActs: [
    {
      words: 'Report on it',
      action: 'reports.edit',
      link: (line) => `/evidence/reports?new=report&of=holdings.items&lens=${encodeURIComponent(line)}`,
    },
  ],
  finds: ['a ledger entry', 'a board', 'a report', 'a figure'],
};
