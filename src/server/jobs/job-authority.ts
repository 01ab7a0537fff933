import { may, type Account, type Action } from '../../core/accounts/authority.ts';

interface JobActions {
  /** What somebody must be allowed to do to be told of it, and to stop it. */
  readonly see: Action;
  readonly start: Action;
}

const ACTIONS: Readonly<Record<string, JobActions>> = {
  sweep: { see: 'websites.read', start: 'websites.sweep' },
  'install-check': { see: 'websites.read', start: 'websites.sweep' },
  'fix-trial': { see: 'websites.read', start: 'websites.sweep' },
  'build-roster': { see: 'holdings.read', start: 'holdings.edit' },
  'train-detector': { see: 'holdings.read', start: 'holdings.edit' },
};

/** A kind that nobody has said anything about is for those who may do everything. */
const UNKNOWN: JobActions = { see: 'accounts.edit', start: 'accounts.edit' };

export function jobActions(kind: string): JobActions {
  return ACTIONS[kind] ?? UNKNOWN;
}

export function maySeeJob(account: Pick<Account, 'role'>, kind: string): boolean {
  return may(account, jobActions(kind).see);
}

export function mayCancelJob(account: Pick<Account, 'role'>, kind: string): boolean {
  return may(account, 'jobs.cancel') && may(account, jobActions(kind).start);
}
