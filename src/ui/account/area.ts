import type { UiArea } from '../area.ts';

export const ACCOUNT: UiArea = {
  area: 'account',
  name: 'Account',
  inBar: false,
  view: async () => (await import('./AccountArea.tsx')).AccountArea,
  action: 'own-sessions',
  reads: {
    accounts: ['account'],
    account: ['account', 'session'],
    sessions: ['account', 'session'],
  },
};
