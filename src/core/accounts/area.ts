import type { CoreArea } from '../area.ts';

export const ACCOUNTS = {
  area: 'accounts',
  actions: {
    'accounts.read': { words: 'seeing accounts', roles: ['access reviewer', 'auditor'] },
    'accounts.edit': { words: 'disabling accounts and ending sessions', roles: [] },
    'own-sessions': { words: 'managing your own password and sessions', roles: 'everyone' },
  },
  objects: {
    account: { words: 'account', see: 'accounts.read' },
    'account scope': { words: 'scope', see: 'accounts.read' },
    webhook: { words: 'webhook', see: 'accounts.read' },
    session: { words: 'session', see: 'accounts.read' },
  },
} as const satisfies CoreArea;
