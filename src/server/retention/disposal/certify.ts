import { z } from 'zod';
import { canonicalDigest } from '../../../core/evidence/offers.ts';
import {
  CERTIFICATE_FORMAT,
  CERTIFIED,
  DisposalCertificate,
  rootOfItems,
  type GoneItem,
  type ProvenCertificate,
} from '../../../core/retention/disposal/certificate.ts';
import { THEN } from '../../../core/retention/verdict/retention-verdict.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { proveEntry, record } from '../../evidence/ledger.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { BigId, Bytes, Count, Instant, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';
import { copiesOf } from './copies.ts';
import { forgetFindings } from './forget.ts';
import { findDisposal, type DisposalRow } from './disposals.ts';

const Gone = z.object({
  item_id: BigId.transform(Number),
  source_id: z.number(),
  hash: Bytes.nullable(),
  left_hash: Bytes.nullable(),
  size: Count,
  method: z.string(),
  at: Instant,
});

/**
 * Makes the certificate of a disposal that is over, once: what went, by hash, and what stayed. The ledger is told its digest
 * in the same transaction; and what was found in the items is forgotten.
 */
export async function certifyDisposal(ctx: Context, id: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const disposal = await findDisposal(tx, id, true);
    if (disposal.state !== 'done' || (await readCertificate(tx, id))) return;
    const certificate = await certificateOf(tx, ctx, disposal);
    await tx.run('UPDATE disposal SET certificate = ? WHERE id = ?', [JSON.stringify(certificate), id]);
    // What was made anonymous is read anew, and what is found in it then is not forgotten.
    if (disposal.follows !== 'anonymise')
      await forgetFindings(
        tx,
        certificate.items.map((i) => i.item),
      );
    await record(tx, ctx.now(), {
      actor: 'worker',
      action: CERTIFIED,
      object: 'disposal',
      objectId: id,
      detail: {
        digest: canonicalDigest(certificate),
        root: certificate.root,
        items: certificate.counts.gone,
        bytes: certificate.counts.bytes,
      },
    });
  });
}

async function certificateOf(tx: Queries, ctx: Context, disposal: DisposalRow): Promise<DisposalCertificate> {
  const { id } = disposal;
  const rows = await tx.all(
    Gone,
    "SELECT item_id, source_id, hash, left_hash, size, method, at FROM disposal_item WHERE disposal_id = ? AND state = 'gone' ORDER BY item_id",
    [id],
  );
  const items = rows.map((r): GoneItem => ({
    item: r.item_id,
    hash: (r.hash ?? Buffer.alloc(32)).toString('hex'),
    bytes: r.size,
    ...(r.left_hash ? { left: r.left_hash.toString('hex') } : {}),
    method: r.method,
    at: r.at,
  }));
  const counts = new Map(
    (
      await tx.all(
        z.object({ state: z.string(), n: Count }),
        'SELECT state, COUNT(*) AS n FROM disposal_item WHERE disposal_id = ? GROUP BY state',
        [id],
      )
    ).map((c) => [c.state, c.n]),
  );
  const agreed = await tx.all(
    z.object({ name: z.string(), at: Instant }),
    'SELECT name, at FROM disposal_word WHERE disposal_id = ? AND agrees ORDER BY id',
    [id],
  );
  const names = new Map(
    (await tx.all(z.object({ id: z.number(), name: z.string() }), 'SELECT id, name FROM source')).map((s) => [
      s.id,
      s.name,
    ]),
  );
  const content =
    disposal.rule_version === 0
      ? null
      : await readRuleVersion(tx, RETENTION_RULE, disposal.rule_id, disposal.rule_version);
  const run =
    disposal.run_id === null
      ? undefined
      : await tx.one(
          z.object({ started_at: Instant.nullable() }),
          'SELECT started_at FROM run WHERE id = ?',
          [disposal.run_id],
        );
  const sources = [...new Set(rows.map((r) => r.source_id))].map((source) => {
    const of = rows.filter((r) => r.source_id === source);
    return {
      name: names.get(source) ?? `source ${source}`,
      items: of.length,
      bytes: of.reduce((n, r) => n + r.size, 0),
    };
  });
  return DisposalCertificate.parse({
    format: CERTIFICATE_FORMAT,
    disposal: id,
    rule: {
      id: disposal.rule_id,
      name: disposal.rule_name,
      version: disposal.rule_version,
      duty: content?.duty ?? '',
      digest: canonicalDigest(content),
    },
    follows: THEN[disposal.follows],
    agreed,
    begun: run?.started_at ?? disposal.agreed_at ?? disposal.made_at,
    ended: ctx.now().toISOString(),
    counts: {
      gone: items.length,
      bytes: items.reduce((n, i) => n + i.bytes, 0),
      kept: counts.get('kept') ?? 0,
      failed: counts.get('failed') ?? 0,
      back: counts.get('back') ?? 0,
    },
    sources,
    copies: await copiesOf(tx, id),
    items,
    root: rootOfItems(items),
  });
}

async function readCertificate(store: Queries, id: string): Promise<DisposalCertificate | undefined> {
  const row = await store.one(
    z.object({ certificate: JsonColumn(DisposalCertificate.nullable()) }),
    'SELECT certificate FROM disposal WHERE id = ?',
    [id],
  );
  return row?.certificate ?? undefined;
}

/** The certificate of a disposal, with its proof once the ledger was sealed. Throws a RefusedError as long as there is none. */
export async function provenCertificate({ store }: Context, id: string): Promise<ProvenCertificate> {
  const certificate = await readCertificate(store, id);
  if (!certificate)
    throw new RefusedError(
      'There is no certificate yet.',
      [{ field: 'id', message: 'It is made once all of it is gone for good, or stays.' }],
      409,
    );
  const entry = await store.one(
    z.object({ id: BigId }),
    "SELECT id FROM ledger_entry WHERE object = 'disposal' AND object_id = ? AND action = ? ORDER BY id DESC LIMIT 1",
    [id, CERTIFIED],
  );
  const proof = entry && (await proveEntry(store, entry.id));
  return { certificate, proof: proof ? { ...proof, path: [...proof.path] } : null };
}
