import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { proposeClauses, type ProposedClause } from '../../../core/cases/vendors/contract-clauses.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { readWhole } from '../../holdings/offers.ts';
import { Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { keepFile } from '../dossiers/dossier-files.ts';
import { addDossierStep, knowDossier } from '../dossiers/dossiers.ts';
import { VENDOR } from './vendor-kind.ts';

/** Keeps the text of a contract that was sent, and proposes which clauses it has. Throws a RefusedError (400) for what has no text. */
export async function readContract(
  ctx: Context,
  account: Account,
  vendor: number,
  upload: number,
): Promise<void> {
  const { name, bytes } = await readUpload(ctx, account.id, upload);
  const { text } = await readWhole(ctx, { name, bytes });
  if (text.trim().length < 200)
    throw new RefusedError('There is no text in it that can be read.', [
      {
        field: 'upload',
        message: 'A PDF with text, a document, or plain text; a picture of pages has none.',
      },
    ]);
  const clauses = proposeClauses(text);
  await ctx.store.transaction(async (tx) => {
    await knowDossier(tx, ctx, VENDOR, vendor, { lock: true });
    const of = { object: VENDOR.object, id: vendor };
    const { hash } = await keepFile(
      tx,
      ctx,
      of,
      { what: 'contract', name, bytes, found: JSON.stringify(clauses) },
      account.id,
    );
    const there = clauses.filter((c) => c.verdict === 'there').length;
    await addDossierStep(
      tx,
      ctx.now(),
      VENDOR.object,
      vendor,
      'contract',
      account.id,
      `${name}: ${there} of ${clauses.length} clauses proposed`,
    );
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'vendor.contract', object: 'vendor', objectId: vendor },
      detail: { hash, proposed: there },
    });
    await dropUpload(tx, upload);
  });
}

/** The clauses that were proposed in the newest contract. */
export async function proposedClauses(
  store: Queries,
  vendor: number,
): Promise<{
  readonly name: string;
  readonly at: string;
  readonly clauses: readonly ProposedClause[];
} | null> {
  const row = await store.one(
    z.object({
      name: z.string(),
      at: Instant,
      found: JsonColumn(z.custom<readonly ProposedClause[]>(Array.isArray)),
    }),
    "SELECT name, at, found FROM dossier_file WHERE object = ? AND object_id = ? AND what = 'contract' AND found IS NOT NULL ORDER BY id DESC LIMIT 1",
    [VENDOR.object, vendor],
  );
  return row ? { name: row.name, at: row.at, clauses: row.found } : null;
}
