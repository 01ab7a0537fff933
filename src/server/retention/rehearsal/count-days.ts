import { z } from 'zod';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import type { RuleTotals } from '../../../core/retention/rehearsal/rehearsal.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday } from '../../desk/today.ts';
import { Bytes } from '../../store/columns.ts';
import { listRules } from '../../rules/rule-store.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';
import { askRetention, retentionWeighing } from '../weighing.ts';

/** Days for which sets of items are kept beside the counts. */
const SETS_KEPT = 14;

/**
 * Counts once a day what each rule that is in force or rehearses comes to, and what each hold keeps; and tells of items that
 * are due today though nothing said so yesterday.
 */
export async function countDays(ctx: Context): Promise<void> {
  const { store } = ctx;
  const weighing = await retentionWeighing(ctx, 'in force');
  const { today } = weighing;
  const rules = await listRules(store, RETENTION_RULE, ['in force', 'rehearsing']);
  const counted = new Set(
    (
      await store.all(z.object({ rule_id: z.string() }), 'SELECT rule_id FROM retention_day WHERE day = ?', [
        today,
      ])
    ).map((r) => r.rule_id),
  );
  for (const { id, name, stage } of rules) {
    if (counted.has(id)) continue;
    const isInForce = stage.state === 'in force' && weighing.contents.has(id);
    const among = isInForce ? weighing : await retentionWeighing(ctx, { rule: id, as: 'version' });
    const version = among.contents.get(id)?.version ?? 0;
    const { totals, due, dueNext } = await askRetention(ctx, 'the program', among, {
      what: 'rule',
      id,
      above: '',
    });
    // Of another version, another day would be told.
    const before = await store.one(
      z.object({ due: Bytes, due_next: Bytes }),
      'SELECT due, due_next FROM retention_day WHERE rule_id = ? AND day < ? AND version = ? ORDER BY day DESC LIMIT 1',
      [id, today, version],
    );
    const surprises = before
      ? Bitmap.fromBytes(due).without(Bitmap.fromBytes(before.due).or(Bitmap.fromBytes(before.due_next))).size
      : 0;
    await store.transaction(async (tx) => {
      await tx.run(
        'REPLACE INTO retention_day (rule_id, day, version, counts, due, due_next) VALUES (?, ?, ?, ?, ?, ?)',
        [
          id,
          today,
          version,
          JSON.stringify({ ...totals, surprises } satisfies CountedDay),
          Buffer.from(due),
          Buffer.from(dueNext),
        ],
      );
      await replaceOnToday(
        tx,
        `retention rule ${id}`,
        surprises === 0
          ? []
          : [
              {
                kind: 'surprise',
                key: id,
                action: 'retention.read',
                words: `“${name}” has ${surprises === 1 ? '1 item due' : `${surprises} items due`} today that yesterday did not tell`,
                detail: 'Something in them changed, or a rule beside it did.',
                link: `/retention/rules/${id}`,
                since: ctx.now(),
              },
            ],
      );
    });
  }
  const { holds } = await askRetention(ctx, 'the program', weighing, { what: 'totals' });
  if (holds.length > 0)
    await store.run(
      'INSERT INTO hold_day (hold_id, day, covers, keeps) VALUES ? ON DUPLICATE KEY UPDATE covers = VALUES(covers), keeps = VALUES(keeps)',
      [holds.map((h) => [h.id, today, h.covers, h.keeps])],
    );
  await store.run("UPDATE retention_day SET due = '', due_next = '' WHERE day < ? AND due <> ''", [
    new Date(Date.parse(today) - SETS_KEPT * 86_400_000).toISOString().slice(0, 10),
  ]);
}

/** A day of a rule. */
export type CountedDay = RuleTotals & { readonly surprises: number };
