/** What a person may do. A role is a named set of these; nothing else grants anything. */
export const ACTIONS = [
  'websites.read',
  'websites.edit',
  'websites.sweep',
  'websites.put-in-force',
  'consent.read',
  'consent.export',
  'holdings.read',
  'holdings.edit',
  'holdings.put-in-force',
  'ledger.read',
  'ledger.export',
  'jobs.read',
  'jobs.cancel',
  'accounts.read',
  'accounts.edit',
  'own-sessions',
  'today.read',
] as const;
export type Action = (typeof ACTIONS)[number];

export const ROLES = [
  'officer',
  'site manager',
  'data steward',
  'records manager',
  'access reviewer',
  'request handler',
  'auditor',
] as const;
export type Role = (typeof ROLES)[number];

const EVERYONE: readonly Action[] = ['own-sessions', 'today.read', 'jobs.read'];

const GRANTS: Readonly<Record<Role, readonly Action[]>> = {
  officer: ACTIONS,
  'site manager': [
    ...EVERYONE,
    'websites.read',
    'websites.edit',
    'websites.sweep',
    'websites.put-in-force',
    'consent.read',
    'consent.export',
    'jobs.cancel',
    'ledger.read',
  ],
  'data steward': [
    ...EVERYONE,
    'websites.read',
    'holdings.read',
    'holdings.edit',
    'jobs.cancel',
    'ledger.read',
  ],
  'records manager': [...EVERYONE, 'websites.read', 'holdings.read', 'ledger.read', 'ledger.export'],
  'access reviewer': [...EVERYONE, 'ledger.read', 'accounts.read'],
  'request handler': [...EVERYONE, 'websites.read', 'holdings.read', 'consent.read', 'consent.export'],
  auditor: [
    ...EVERYONE,
    'websites.read',
    'holdings.read',
    'consent.read',
    'consent.export',
    'ledger.read',
    'ledger.export',
    'accounts.read',
  ],
};

export interface Account {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  readonly role: Role;
  readonly title: string;
}

/** What an action is done to, for grants that depend on it and for the log. */
export interface AuthorityObject {
  readonly kind: string;
  readonly id: string | number | null;
}

export type Verdict = { readonly allowed: true } | { readonly allowed: false; readonly why: string };

/**
 * The one question every endpoint asks. `account` is `undefined` for someone not signed in.
 * An object that belongs to somebody (a session) is only open to its owner.
 */
export function authorize(
  account: Account | undefined,
  action: Action,
  object: AuthorityObject & { readonly owner?: number },
): Verdict {
  if (!account) return { allowed: false, why: 'Sign in first.' };
  if (!GRANTS[account.role].includes(action))
    return { allowed: false, why: `Your role, ${account.role}, does not include ${ACTION_WORDS[action]}.` };
  if (object.owner !== undefined && object.owner !== account.id)
    return { allowed: false, why: `This ${object.kind} belongs to someone else.` };
  return { allowed: true };
}

export function may(account: Pick<Account, 'role'>, action: Action): boolean {
  return GRANTS[account.role].includes(action);
}

export const ACTION_WORDS: Readonly<Record<Action, string>> = {
  'websites.read': 'seeing websites',
  'holdings.read': 'seeing detectors and findings',
  'holdings.edit': 'changing detectors and reading the texts they are made from',
  'holdings.put-in-force': 'putting a detector in force',
  'websites.edit': 'changing websites',
  'websites.sweep': 'starting a sweep',
  'websites.put-in-force': 'putting a notice in force',
  'consent.read': 'seeing consent records',
  'consent.export': 'exporting consent records',
  'ledger.read': 'seeing the ledger',
  'ledger.export': 'exporting the ledger',
  'jobs.read': 'seeing running work',
  'jobs.cancel': 'cancelling running work',
  'accounts.read': 'seeing accounts',
  'accounts.edit': 'disabling accounts and ending sessions',
  'own-sessions': 'managing your own password and sessions',
  'today.read': 'seeing Today',
};
