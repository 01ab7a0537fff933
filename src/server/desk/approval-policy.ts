import { z } from 'zod';
import { isObjectKind } from '../../core/accounts/object-sight.ts';
import { notFound } from '../../core/refusal.ts';
import { neededFor } from '../rules/approval-store.ts';
import type { PlainKind } from '../rules/plain-object.ts';

export const ApprovalPolicy = z.strictObject({
  needed: z.int().min(0).max(2, 'Two people at most'),
});
export type ApprovalPolicy = z.infer<typeof ApprovalPolicy>;

/** How many have to agree before a rule is in force, by the kind of rule. */
export const APPROVAL_POLICY: PlainKind<ApprovalPolicy> = {
  object: 'approval policy',
  content: ApprovalPolicy,
  vocabulary: async () => ({
    path: ([first]) => (first === 'needed' ? 'How many have to agree' : undefined),
    value: (value) => (value === 0 ? 'nobody' : value === 1 ? 'one person' : 'two people'),
  }),
  read: async (store, key) => {
    if (!isObjectKind(String(key))) throw notFound('kind of rule');
    return { needed: await neededFor(store, String(key)) };
  },
  write: async (tx, key, { needed }) => {
    await tx.run(
      'INSERT INTO approval_policy (kind, needed) VALUES (?, ?) ON DUPLICATE KEY UPDATE needed = VALUES(needed)',
      [String(key), needed],
    );
  },
};
