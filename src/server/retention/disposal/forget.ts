import type { Queries } from '../../store/pool.ts';

const AT_ONCE = 500;

/** Forgets what was found in items, and who was in them. */
export async function forgetFindings(tx: Queries, items: readonly number[]): Promise<void> {
  for (let from = 0; from < items.length; from += AT_ONCE) {
    const some = items.slice(from, from + AT_ONCE);
    for (const table of ['finding_match', 'finding', 'item_people', 'item_part', 'judgement', 'item_clock'])
      await tx.run(`DELETE FROM ${table} WHERE item_id IN (?)`, [some]);
    await tx.run('UPDATE item SET people = 0 WHERE id IN (?)', [some]);
  }
}
