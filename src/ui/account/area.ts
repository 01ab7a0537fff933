import type { UiArea } from '../area.ts';

export const ACCOUNT: UiArea = {
  area: 'account',
  name: 'Account',
  inBar: false,
  view: async () => (await import('./AccountArea.tsx')).AccountArea,
  action: 'own-sessions',
  reads: {
    accounts: ['account', 'account scope'],
    account: ['account', 'session', 'account scope'],
    'account scope': ['account scope'],
    'scope-options': ['site'],
    sessions: ['account', 'session'],
  },
};
