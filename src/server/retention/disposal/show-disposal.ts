import { z } from 'zod';
import type { Context } from '../../context.ts';
import { replaceOnToday, type NewItem } from '../../desk/today.ts';
import { Count, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** Puts on Today what a disposal needs a hand for, and takes off what it does not any more. */
export async function showDisposal(tx: Queries, ctx: Context, id: number | string): Promise<void> {
  const row = await tx.one(
    z.object({
      state: z.string(),
      rule_name: z.string(),
      owner: z.string(),
      needed: z.number(),
      agreed: Count,
      answer_by: Instant.nullable(),
      silent: z.string(),
      made_at: Instant,
      items: z.number(),
      failed: Count,
    }),
    `SELECT d.state, d.rule_name, d.owner, d.needed, d.answer_by, d.silent, d.made_at, d.items,
       (SELECT COUNT(*) FROM disposal_word w WHERE w.disposal_id = d.id AND w.agrees) AS agreed,
       (SELECT COUNT(*) FROM disposal_item i WHERE i.disposal_id = d.id AND i.state = 'failed') AS failed
     FROM disposal d WHERE d.id = ?`,
    [id],
  );
  const items: NewItem[] = [];
  const base = { key: String(id), link: `/retention/disposals/${id}`, since: row?.made_at ?? ctx.now() };
  const several = (n: number) => (n === 1 ? '1 item' : `${n} items`);
  if (row?.state === 'asked') {
    const isLate = row.answer_by !== null && row.answer_by <= ctx.now().toISOString();
    const left = row.needed - row.agreed;
    items.push({
      ...base,
      kind: 'disposal waits',
      action: 'retention.dispose',
      words:
        row.agreed > 0
          ? `${several(row.items)} of “${row.rule_name}” wait for ${left === 1 ? 'one more person' : `${left} more`} to agree`
          : `${several(row.items)} of “${row.rule_name}” wait for the word of ${row.owner}`,
      detail: isLate ? 'No answer came in time: it is yours to say.' : 'Nothing goes before.',
      ...(row.answer_by === null ? {} : { due: row.answer_by }),
    });
  }
  if (row?.state === 'done' && row.failed > 0)
    items.push({
      ...base,
      kind: 'disposal failed',
      action: 'retention.dispose',
      words: `${several(row.failed)} of “${row.rule_name}” could not be let go, and ${row.failed === 1 ? 'is' : 'are'} there still`,
      detail: 'The disposal says why, item by item.',
      dismissable: true,
    });
  await replaceOnToday(tx, `disposal ${id}`, items);
}
