import { z } from 'zod';
import { Count, Flag, Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const Row = z
  .object({
    id: Count,
    name: z.string(),
    kept: Flag,
    changed_at: Instant,
    people: JsonColumn(z.array(z.tuple([z.number(), z.string()])).nullable()),
  })
  .transform(({ changed_at, people, ...rest }) => ({
    ...rest,
    changedAt: changed_at,
    people: (people ?? []).map(([id, name]) => ({ id, name })),
  }));

/** Groups that a provider told of, by name, with who is in them. */
export function groupsOfProvider(store: Queries, provider: number): Promise<readonly z.infer<typeof Row>[]> {
  return store.all(
    Row,
    `SELECT g.id, g.name, g.kept, g.changed_at,
       (SELECT JSON_ARRAYAGG(JSON_ARRAY(a.id, a.name)) FROM identity_group_member m JOIN account a ON a.id = m.account_id
        WHERE m.group_id = g.id) AS people
     FROM identity_group g WHERE g.provider_id = ? ORDER BY g.name LIMIT 2000`,
    [provider],
  );
}
