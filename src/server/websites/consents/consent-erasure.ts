import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readRegimes } from '../notices/regimes.ts';
import { findSite } from '../sites/sites.ts';
import { formatUuid } from './record-id.ts';

/**
 * Takes out what is on record of one visitor's choices, at their request. The ledger keeps the digests it was told, and is
 * told which records are gone and why. Throws a RefusedError where there are none.
 */
export async function eraseVisitor(
  ctx: Context,
  accountId: number,
  host: string,
  visitorKey: string,
  because: string,
): Promise<{ erased: number }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const key = Buffer.from(visitorKey, 'hex');
    const rows = await tx.all(
      z.object({ id: Bytes }),
      'SELECT id FROM consent_record WHERE visitor_key = ? AND site_id = ? FOR UPDATE',
      [key, site.id],
    );
    if (rows.length === 0)
      throw new RefusedError('Nothing is on record of this visitor here.', [
        {
          field: 'visitorKey',
          message: 'Take the key from the record, or from the visitor’s cookie yare_choice.',
        },
      ]);
    await tx.run('DELETE FROM consent_record WHERE visitor_key = ? AND site_id = ?', [key, site.id]);
    await tx.run('DELETE FROM consent_sent WHERE visitor_key = ? AND site_id = ?', [key, site.id]);
    await tx.run('DELETE FROM consent_turn WHERE visitor_key = ? AND site_id = ?', [key, site.id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'consent.erase',
      object: 'site',
      objectId: site.id,
      detail: { ids: rows.map((r) => formatUuid(r.id)), because },
    });
    return { erased: rows.length };
  });
}

/** How long choices are on record, in months; `null` for ever. */
export async function readLogMonths(store: Queries): Promise<number | null> {
  const row = await store.one(z.object({ months: z.number().nullable() }), 'SELECT months FROM consent_log');
  return row?.months ?? null;
}

/**
 * Says how long choices are on record: never shorter than an answer holds somewhere, since proof has to outlive it.
 * `saw` is what the editor saw. Throws a RefusedError (400, 409).
 */
export async function sayLogMonths(
  ctx: Context,
  accountId: number,
  months: number | null,
  saw: number | null,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await tx.run('INSERT IGNORE INTO consent_log (id, months) VALUES (1, NULL)');
    const before = await tx.one(
      z.object({ months: z.number().nullable() }),
      'SELECT months FROM consent_log FOR UPDATE',
    );
    if ((before?.months ?? null) !== saw)
      throw new RefusedError(
        'Somebody else changed this meanwhile. Look at it, and change it then.',
        [],
        409,
      );
    if (months === saw) return;
    const longest = await tx.one(
      z.object({ n: z.coerce.number().nullable() }),
      "SELECT MAX(CAST(JSON_VALUE(content, '$.askAgainMonths') AS INTEGER)) AS n FROM rule WHERE kind = 'notice'",
    );
    const regimes = (await readRegimes(tx)).map((r) => r.months ?? 0);
    const least = Math.max(1, longest?.n ?? 1, ...regimes);
    if (months !== null && months < least)
      throw new RefusedError('The proof has to outlive the answer.', [
        {
          field: 'months',
          message: `Somewhere an answer holds for ${least} months: keep choices at least as long.`,
        },
      ]);
    await tx.run('UPDATE consent_log SET months = ?', [months]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'consent.log',
      object: 'consent',
      objectId: 'all',
      detail: { before: saw, after: months },
    });
  });
}

const AT_ONCE = 5000;
/** Takes out what is older than the log keeps it, and tells the ledger before. */
export async function endOldConsents(ctx: Context): Promise<void> {
  const months = await readLogMonths(ctx.store);
  if (months === null) return;
  const now = ctx.now();
  // A whole day at a time, so that the ledger is told once a day at most.
  const before = new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() - months, now.getUTCDate()));
  const old = await ctx.store.one(
    z.object({ at: z.unknown() }),
    'SELECT at FROM consent_record WHERE at < ? LIMIT 1',
    [toDatetime(before)],
  );
  if (!old) return;
  // Told first: a record that is gone without a word would look like one that was taken away.
  await ctx.store.transaction((tx) =>
    record(tx, now, {
      actor: 'system',
      action: 'consent.end',
      object: 'consent',
      objectId: 'all',
      detail: { before: before.toISOString(), months },
    }),
  );
  for (let gone = AT_ONCE; gone === AT_ONCE;)
    gone = (
      await ctx.store.run(`DELETE FROM consent_record WHERE at < ? LIMIT ${AT_ONCE}`, [toDatetime(before)])
    ).changed;
}
