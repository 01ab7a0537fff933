import {
  correct,
  keepCorrections,
  type NoticeCorrection,
  type NoticeReading,
} from '../../../core/websites/reading/notice-reading.ts';
import { wayWords } from '../../../core/websites/reading/notice-way.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import type { Sweep } from '../sweeps/sweeps.ts';
import { findSite, findSiteById } from './sites.ts';

/** Keeps how a sweep read the notice, for itself and for the next one; what somebody corrected meanwhile stays. */
export async function keepReading(
  ctx: Context,
  sweep: Pick<Sweep, 'id' | 'site_id'>,
  reading: NoticeReading,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const host = (await findSiteById(tx, sweep.site_id)).host;
    const site = await findSite(tx, host, true);
    const kept = site.reading ? keepCorrections(site.reading, reading) : reading;
    await tx.run('UPDATE sweep SET reading = ? WHERE id = ?', [JSON.stringify(reading), sweep.id]);
    await tx.run('UPDATE site SET reading = ? WHERE id = ?', [JSON.stringify(kept), site.id]);
  });
}

/** Corrects how the notice is read: the next sweep keeps to it. Throws a RefusedError (404, 409). */
export async function correctReading(
  ctx: Context,
  accountId: number,
  host: string,
  correction: NoticeCorrection & { readonly readAt: string },
): Promise<void> {
  const { readAt, ...changes } = correction;
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    if (!site.reading) throw new RefusedError('No sweep has read a notice on this site yet.', [], 409);
    if (site.reading.readAt !== readAt)
      throw new RefusedError(
        'The notice was read again meanwhile. Look at it, and correct it then.',
        [],
        409,
      );
    const corrected = correct(site.reading, changes);
    if (!corrected)
      throw new RefusedError('The notice has no such way or switch; choose one that was tried.', [], 409);
    await tx.run('UPDATE site SET reading = ? WHERE id = ?', [JSON.stringify(corrected), site.id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'site.reading',
      object: 'site',
      objectId: site.id,
      detail: {
        words: [
          ...Object.keys(changes.roles ?? {}).map((choice) => {
            const role = corrected.roles[choice as keyof typeof corrected.roles];
            return `${choice} by ${role ? wayWords(role.way) : 'nothing'}`.slice(0, 200);
          }),
          ...Object.entries(changes.switches ?? {}).map(([w, p]) => `“${w}” is for ${p ?? 'nothing known'}`),
        ],
      },
    });
  });
}

/** Forgets how the notice was read, so that the next sweep reads it anew. */
export async function forgetReading(ctx: Context, accountId: number, host: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    if (!site.reading) return;
    await tx.run('UPDATE site SET reading = NULL WHERE id = ?', [site.id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'site.reading',
      object: 'site',
      objectId: site.id,
      detail: { words: ['is to be read anew'] },
    });
  });
}
