import { z } from 'zod';
import type { Queries } from '../../store/pool.ts';
import { Flag, Instant } from '../../store/columns.ts';

const Row = z.object({
  id: z.number(),
  role: z.string(),
  name: z.string(),
  title: z.string(),
  disabled: Flag,
  given_at: Instant,
  given_by: z.string().nullable(),
});

/** Somebody who holds a role. */
export type RoleHolder = z.infer<typeof Row>;

/** Of all roles, by name; also those who cannot sign in now. */
export function roleHolders(store: Queries): Promise<readonly RoleHolder[]> {
  return store.all(
    Row,
    `SELECT a.id, h.role, a.name, a.title, a.disabled_at IS NOT NULL AS disabled, h.given_at, g.name AS given_by
     FROM account_role h JOIN account a ON a.id = h.account_id LEFT JOIN account g ON g.id = h.given_by ORDER BY a.name, a.id`,
  );
}
