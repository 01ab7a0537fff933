import { z } from 'zod';
import { same } from '../../../core/rules/change.ts';
import { gateHoldOf, HOLD_KINDS, type GateHold } from '../../../core/websites/trackers/fix.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { listPurposes } from '../notices/purposes.ts';
import { sightingsOf } from './sightings.ts';
import { findSite } from '../sites/sites.ts';
import { latestSweeps } from '../sweeps/sweeps.ts';

const Row = z.object({
  kind: z.enum(HOLD_KINDS),
  name: z.string(),
  host: z.string(),
  purpose: z.string(),
});

/** What the gate of a site holds by itself. */
export function holdsOf(store: Queries, siteId: number): Promise<GateHold[]> {
  return store.all(Row, 'SELECT kind, name, host, purpose FROM gate_hold WHERE site_id = ? ORDER BY id', [
    siteId,
  ]);
}

/** Holds that are only tried travel with the sweep that tries them. */
export function writeHolds(holds: readonly GateHold[]): string {
  return Buffer.from(JSON.stringify(holds)).toString('base64url');
}

export function readHolds(header: string): GateHold[] {
  if (header === '') return [];
  try {
    return z
      .array(Row)
      .max(50)
      .parse(JSON.parse(Buffer.from(header, 'base64url').toString('utf8')));
  } catch {
    return [];
  }
}

export interface HoldInForce {
  readonly hold: GateHold;
  readonly by: string | null;
  readonly since: string;
}

export async function holdOf(store: Queries, trackerId: number): Promise<HoldInForce | undefined> {
  const row = await store.one(
    Row.extend({ made_at: Instant, made_by: z.string().nullable() }),
    'SELECT h.kind, h.name, h.host, h.purpose, h.made_at, a.name AS made_by FROM gate_hold h LEFT JOIN account a ON a.id = h.made_by WHERE h.tracker_id = ?',
    [trackerId],
  );
  if (!row) return undefined;
  const { made_at, made_by, ...hold } = row;
  return { hold, by: made_by, since: made_at };
}

/** The hold that would keep a tracker back, from how it was last seen. Throws a RefusedError where no gate can. */
export async function holdFor(
  store: Queries,
  host: string,
  trackerId: number,
  purpose: string,
): Promise<GateHold> {
  const site = await findSite(store, host);
  const [sweep] = await latestSweeps(store, site.id);
  const tracker = await store.one(
    z.object({ kind: z.string(), name: z.string(), host: z.string() }),
    'SELECT kind, name, host FROM tracker WHERE id = ? AND site_id = ?',
    [trackerId, site.id],
  );
  if (!tracker || !sweep) throw notFound('tracker');
  const known = (await listPurposes(store)).find((p) => p.code === purpose);
  if (!known || known.essential)
    throw new RefusedError('Say first what it is for.', [
      { field: 'purpose', message: 'Choose a purpose that visitors can allow.' },
    ]);
  const sightings = await sightingsOf(store, sweep.id, trackerId);
  const hold = gateHoldOf({ ...tracker, sightings } as Parameters<typeof gateHoldOf>[0], purpose);
  if (!hold)
    throw new RefusedError('The gate cannot hold this.', [
      {
        field: 'fix',
        message: 'The site’s own server sets it before any script runs: the web team has to stop it there.',
      },
    ]);
  return hold;
}

/** Puts a hold in force: from now on the gate keeps it back on every page with the notice's line. */
export async function putHold(
  ctx: Context,
  accountId: number,
  host: string,
  trackerId: number,
  purpose: string,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const hold = await holdFor(tx, host, trackerId, purpose);
    const before = await tx.one(
      Row,
      'SELECT kind, name, host, purpose FROM gate_hold WHERE site_id = ? AND tracker_id = ?',
      [site.id, trackerId],
    );
    if (before && same({ ...before }, { ...hold })) return;
    await tx.run(
      'REPLACE INTO gate_hold (site_id, tracker_id, kind, name, host, purpose, made_by, made_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [site.id, trackerId, hold.kind, hold.name, hold.host, hold.purpose, accountId, toDatetime(ctx.now())],
    );
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'gate.hold',
      object: 'tracker',
      objectId: trackerId,
      detail: { ...hold },
    });
  });
}

export async function takeHoldBack(
  ctx: Context,
  accountId: number,
  host: string,
  trackerId: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const { changed } = await tx.run('DELETE FROM gate_hold WHERE site_id = ? AND tracker_id = ?', [
      site.id,
      trackerId,
    ]);
    if (changed === 0) throw notFound('hold');
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'gate.let-go',
      object: 'tracker',
      objectId: trackerId,
      detail: {},
    });
  });
}
