import { z } from 'zod';
import type { Rate } from '../../../core/websites/consents/rate.ts';
import { fairness } from '../../../core/websites/notice/fairness.ts';
import { trialVerdict, type Tried, type TrialVerdict } from '../../../core/websites/notice/notice-trial.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { consentRatesBy } from '../consents/rates.ts';
import { findSite } from '../sites/sites.ts';
import { findNotice, readVersion } from './notices.ts';
import { asksTheSame } from '../../../core/websites/notice/asks-the-same.ts';
import { listPurposes } from './purposes.ts';

const Row = z.object({ version: z.number(), against: z.number(), share: z.number(), begun_at: Instant });
export type NoticeTrial = z.infer<typeof Row>;

/** The trial of a site's notice that is under way. */
export function trialOf(store: Queries, siteId: number): Promise<NoticeTrial | undefined> {
  return store.one(Row, 'SELECT version, against, share, begun_at FROM notice_trial WHERE site_id = ?', [
    siteId,
  ]);
}

/**
 * Shows the version that is rehearsed to a share of live visitors, or changes that share. Throws a RefusedError where there
 * are no two versions that ask for the same.
 */
export async function beginTrial(
  ctx: Context,
  accountId: number,
  host: string,
  share: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const running = await trialOf(tx, site.id);
    const versions = running ?? (await candidates(tx, host, site.id));
    await tx.run(
      'INSERT INTO notice_trial (site_id, version, against, share, begun_by, begun_at) VALUES (?, ?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE share = VALUES(share)',
      [site.id, versions.version, versions.against, share, accountId, toDatetime(ctx.now())],
    );
    await record(tx, ctx.now(), {
      actor: accountId,
      action: running ? 'notice.trial-share' : 'notice.trial',
      object: 'notice',
      objectId: site.id,
      detail: { version: versions.version, against: versions.against, share },
    });
  });
}

async function candidates(tx: Queries, host: string, siteId: number) {
  const { stage } = await findNotice(tx, host);
  if (stage.state !== 'rehearsing' || !stage.over)
    throw new RefusedError('There are no two versions to try.', [
      { field: 'version', message: 'Put one in force, then rehearse the other.' },
    ]);
  const [version, against] = [stage.version, stage.over.version];
  const [b, a] = [await readVersion(tx, siteId, version), await readVersion(tx, siteId, against)];
  if (!asksTheSame(a, b) || !asksTheSame(b, a))
    throw new RefusedError('The two versions ask for different things, so their rates cannot be compared.', [
      { field: 'purposes', message: 'Let both ask for the same.' },
    ]);
  return { version, against };
}

/** Ends a trial: everybody sees the version in force again. Throws a RefusedError (404). */
export async function endTrial(ctx: Context, accountId: number, host: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const trial = await trialOf(tx, site.id);
    if (!trial) throw notFound('trial');
    await tx.run('DELETE FROM notice_trial WHERE site_id = ?', [site.id]);
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'notice.trial-end',
      object: 'notice',
      objectId: site.id,
      detail: { version: trial.version, against: trial.against, since: trial.begun_at },
    });
  });
}

export interface TrialView {
  readonly trial: NoticeTrial | null;
  readonly rates: readonly {
    readonly version: number;
    readonly rate: Rate | null;
    readonly unmet: readonly string[];
  }[];
  readonly verdict: TrialVerdict | null;
}

/** A trial with what it shows so far. */
export async function viewTrial(ctx: Context, host: string): Promise<TrialView> {
  const site = await findSite(ctx.store, host);
  const trial = await trialOf(ctx.store, site.id);
  if (!trial) return { trial: null, rates: [], verdict: null };
  const { rows } = await consentRatesBy(ctx, host, { by: 'version', days: 730 }, new Date(trial.begun_at));
  const purposes = await listPurposes(ctx.store);
  const tried = async (version: number): Promise<Tried> => ({
    version,
    rate: rows.find((r) => r.key === String(version)),
    fairness: fairness(await readVersion(ctx.store, site.id, version), purposes),
  });
  const [a, b] = [await tried(trial.against), await tried(trial.version)];
  return {
    trial,
    rates: [a, b].map((t) => ({
      ...{ version: t.version, rate: t.rate ?? null },
      unmet: t.fairness.filter((f) => !f.met).map((f) => f.words),
    })),
    verdict: trialVerdict(a, b),
  };
}
