import { z } from 'zod';
import type { Account } from '../../../../core/accounts/authority.ts';
import { notFound } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { attachment } from '../../../http/attachment.ts';
import { openBytes } from '../../../secret.ts';
import { Bytes } from '../../../store/columns.ts';

/** A proof as it was sent, to be saved and looked at elsewhere; never shown as a page. Throws a RefusedError (404). */
export async function readProof(
  ctx: Context,
  account: Account,
  request: number,
  id: number,
): Promise<Response> {
  const row = await ctx.store.one(
    z.object({ name: z.string(), content: Bytes }),
    'SELECT name, content FROM request_proof WHERE id = ? AND request_id = ?',
    [id, request],
  );
  if (!row) throw notFound('proof');
  await record(ctx.store, ctx.now(), {
    ...{
      actor: account.id,
      action: 'request-proof.read',
      object: 'request item',
      objectId: `proof ${id}`,
      detail: { request },
    },
  });
  const bytes = openBytes(ctx.settings.SECRET_KEY, row.content);
  const ending = /\.(pdf|jpe?g|png)$/i.exec(row.name)?.[1]?.toLowerCase() ?? 'bin';
  return attachment(`proof-${id}.${ending}`, 'application/octet-stream', bytes);
}
