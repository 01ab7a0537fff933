import type { PlainKind } from '../rules/plain-object.ts';
import { ACCOUNT_SCOPE } from './account-scope.ts';
import type { ServerArea } from '../area.ts';
import { forgetOldSessions } from './session.ts';

export const ACCOUNTS: ServerArea = {
  area: 'accounts',
  objects: [
    {
      kind: ACCOUNT_SCOPE as PlainKind<unknown>,
      see: 'accounts.read',
      edit: 'accounts.edit',
    },
  ],
  upkeep: [{ name: 'old sessions', everyMs: 3_600_000, work: forgetOldSessions }],
};
