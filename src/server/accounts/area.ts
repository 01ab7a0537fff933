import type { PlainKind } from '../rules/plain-object.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { ACCOUNT_FIGURES } from './figures.ts';
import { ACCOUNT_ROLES } from './roles/account-roles.ts';
import { ROLE } from './roles/role-rule.ts';
import { ACCOUNT_SCOPE } from './account-scope.ts';
import type { ServerArea } from '../area.ts';
import { findAccounts } from './find-accounts.ts';
import { forgetAnswers } from '../http/repeated-request.ts';
import { tellHooks } from './programs/tell-hooks.ts';
import { SIGN_IN_POLICY } from './sign-in/policy-kind.ts';
import { PROVIDER } from './sign-on/provider-kind.ts';
import { forgetOldSessions } from './session.ts';

export const ACCOUNTS: ServerArea = {
  area: 'accounts',
  objects: [
    {
      kind: ACCOUNT_SCOPE as PlainKind<unknown>,
      see: 'accounts.read',
      edit: 'accounts.edit',
    },
    {
      kind: ACCOUNT_ROLES as PlainKind<unknown>,
      see: 'accounts.read',
      edit: 'accounts.edit',
    },
    {
      kind: SIGN_IN_POLICY as PlainKind<unknown>,
      see: 'accounts.read',
      edit: 'accounts.edit',
    },
    {
      kind: PROVIDER as PlainKind<unknown>,
      see: 'accounts.read',
      edit: 'accounts.edit',
    },
  ],
  rules: [
    {
      kind: ROLE as RuleKind<unknown>,
      see: 'accounts.read',
      edit: 'accounts.roles',
      force: 'accounts.roles',
    },
  ],
  figures: ACCOUNT_FIGURES,
  finders: [{ action: 'accounts.read', find: findAccounts }],
  upkeep: [
    { name: 'old sessions', everyMs: 3_600_000, work: forgetOldSessions },
    { name: 'answers that programs may ask for again', everyMs: 3_600_000, work: forgetAnswers },
    { name: 'what webhooks are told', everyMs: 5_000, work: tellHooks },
  ],
};
