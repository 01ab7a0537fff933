import type { UiArea } from '../area.ts';

export const EVIDENCE: UiArea = {
  area: 'evidence',
  name: 'Evidence',
  action: 'ledger.read',
  view: async () => (await import('./EvidenceArea.tsx')).EvidenceArea,
  commands: [{ words: 'Verify the ledger', action: 'ledger.read', link: '/evidence/ledger?verify=now' }],
  reads: { ledger: ['ledger'], 'ledger-state': ['ledger'], entry: ['ledger'] },
  finds: ['a ledger entry'],
};
