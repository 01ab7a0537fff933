import { z } from 'zod';
import {
  OwnRole,
  OwnRoleDraft,
  ROLE_SENTENCE,
  ROLE_VOCABULARY,
  roleActions,
} from '../../../core/accounts/roles/own-role.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule } from '../../rules/rule-store.ts';
import { Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findAccount } from '../account.ts';
import { refuseMore } from './refuse-more.ts';

/** Roles of the organisation's own. In force it allows what it says; otherwise, nothing. */
export const ROLE: RuleKind<OwnRole> = {
  object: 'role',
  content: OwnRole,
  draft: OwnRoleDraft,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/account/roles/${encodeURIComponent(String(id))}`,
  text: (_store, _id, content) => Promise.resolve(sentenceText(ROLE_SENTENCE, content)),
  vocabulary: () => Promise.resolve(ROLE_VOCABULARY),
  check: async ({ store, by, saved, content }) => {
    const { account } = await findAccount(store, by);
    const before = new Set(roleActions(saved));
    refuseMore(
      account,
      roleActions(content).filter((a) => !before.has(a)),
      'content',
    );
  },
  removed: (tx, id) => refuseHeld(tx, String(id)),
  mayMove: async (tx, id, act) => {
    if (act === 'retire') await refuseHeld(tx, String(id));
  },
};

/** Throws a RefusedError where somebody holds it. */
async function refuseHeld(tx: Queries, id: string): Promise<void> {
  const held = await tx.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM account_role WHERE role = ?', [
    id,
  ]);
  if (held?.n)
    throw new RefusedError(
      held.n === 1 ? 'Somebody holds it.' : `${held.n} people hold it.`,
      [{ field: 'act', message: 'Take it from them first, or pause it.' }],
      409,
    );
}

/** Adds a role as a draft; its number. */
export function addRole(tx: Queries, now: Date, by: number | null, content: OwnRole): Promise<string> {
  return addNumberedRule(tx, now, ROLE, by, content);
}
