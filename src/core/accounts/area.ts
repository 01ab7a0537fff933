import type { CoreArea } from '../area.ts';

export const ACCOUNTS = {
  area: 'accounts',
  actions: {
    'accounts.read': { words: 'seeing accounts', roles: ['access reviewer', 'auditor'] },
    'accounts.edit': { words: 'disabling accounts, ending sessions and giving roles', roles: [] },
    'accounts.roles': { words: 'saying what roles allow', roles: [] },
    'staff.read': {
      words: 'seeing who works here',
      roles: ['data steward', 'records manager', 'access reviewer', 'request handler', 'auditor'],
    },
    'staff.edit': { words: 'reading in who works here', roles: ['access reviewer'] },
    'programs.read': { words: 'seeing programs that have a token', roles: ['access reviewer', 'auditor'] },
    'programs.edit': { words: 'giving programs a token, and ending it', roles: [] },
    'tokens.edit': {
      words: 'giving a program a token to act as oneself',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer', 'request handler'],
    },
    'own-sessions': { words: 'managing your own password and sessions', roles: 'everyone' },
  },
  objects: {
    account: { words: 'account', see: 'accounts.read' },
    'account scope': { words: 'scope', see: 'accounts.read' },
    'account roles': { words: 'roles of an account', see: 'accounts.read' },
    'sign-in policy': { words: 'what signing in asks', see: 'accounts.read' },
    provider: { words: 'provider', see: 'accounts.read' },
    role: { words: 'role', see: 'accounts.read' },
    webhook: { words: 'webhook', see: 'accounts.read' },
    'staff list': { words: 'list of people', see: 'staff.read' },
    token: { words: 'token', see: 'programs.read' },
    program: { words: 'program', see: 'programs.read' },
    session: { words: 'session', see: 'accounts.read' },
  },
} as const satisfies CoreArea;
