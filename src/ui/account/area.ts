import type { UiArea } from '../area.ts';

export const ACCOUNT: UiArea = {
  area: 'account',
  action: 'own-sessions',
  reads: {
    accounts: ['account'],
    account: ['account', 'session'],
    sessions: ['account', 'session'],
  },
};
