import type { UiArea } from '../area.ts';

export const ACCOUNT: UiArea = {
  area: 'account',
  name: 'Account',
  inBar: false,
  view: async () => (await import('./AccountArea.tsx')).AccountArea,
  action: 'own-sessions',
  reads: {
    accounts: ['account', 'account scope', 'account roles', 'role'],
    account: ['account', 'session', 'account scope', 'account roles', 'role'],
    'account scope': ['account scope'],
    'scope-options': ['site'],
    roles: ['role', 'account roles', 'account'],
    role: ['role'],
    'role-outlook': ['role', 'account roles', 'account'],
    'account roles': ['account roles'],
    sessions: ['account', 'session'],
    factors: ['account', 'sign-in policy', 'account roles'],
    'sign-in policy': ['sign-in policy'],
    'sign-in outlook': ['sign-in policy', 'account', 'account roles', 'provider'],
    provider: ['provider'],
    providers: ['provider', 'account'],
    'provider view': ['provider', 'account', 'account roles'],
    tokens: ['token', 'account'],
    'event hooks': ['webhook'],
    'event hook': ['webhook'],
  },
};
