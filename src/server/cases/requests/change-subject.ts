import type { Account } from '../../../core/accounts/authority.ts';
import type { Subject } from '../../../core/cases/requests/person/subject.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { showRequest } from './request-facts.ts';
import { addStep, findRequest, openRequest, personHash, sealJson } from './request-row.ts';
import { queueSearch } from './search/find-person-job.ts';

/** Says anew whom a request is about, and has them looked for again where they were before. Throws a RefusedError (409). */
export async function changeSubject(
  ctx: Context,
  account: Account,
  id: number,
  subject: Subject,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await findRequest(tx, id, true);
    const request = openRequest(ctx, row);
    if (!request || row.outcome !== null) throw new RefusedError('It is closed.', [], 409);
    if (row.search === 'running')
      throw new RefusedError('They are being looked for just now. Wait until that is over.', [], 409);
    const next = { ...request, subject };
    await tx.run('UPDATE subject_request SET content = ?, person_hash = ? WHERE id = ?', [
      sealJson(ctx, next),
      personHash(ctx, next),
      id,
    ]);
    await addStep(tx, ctx.now(), id, 'note', account.id, 'By what they are recognised was changed.');
    await record(tx, ctx.now(), {
      actor: account.id,
      action: 'request.edit',
      object: 'request',
      objectId: id,
      detail: {},
    });
    if (row.search !== 'never') await queueSearch(tx, ctx, id, account.id);
    await showRequest(tx, ctx, id);
  });
}
