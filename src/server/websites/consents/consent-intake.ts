import { z } from 'zod';
import { truncateAddress } from '../../../core/address.ts';
import { RefusedError } from '../../../core/refusal.ts';
import {
  choiceAct,
  choiceMade,
  receiptDigest,
  type ChoiceSent,
  type Receipt,
} from '../../../core/websites/notice/consent.ts';
import type { Context } from '../../context.ts';
import { recordMany } from '../../evidence/ledger.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import { isDuplicate, isUnreachable, type Queries } from '../../store/pool.ts';
import { readVersion, type ServedNotice } from '../notices/notices.ts';
import { SHOWN_FOR_DAYS } from '../visitor/shown-token.ts';
import { findRecord, insertConsents, purposeList, type OpenedRecord } from './consent-record.ts';
import { formatUuid, uuidv7 } from './record-id.ts';

export interface Intake {
  readonly siteId: number;
  readonly host: string;
  /** The one in force; a choice may arrive after its notice was replaced, paused or retired. */
  readonly notice: ServedNotice | undefined;
  readonly sent: ChoiceSent;
  readonly region: string;
  readonly address: string;
}

/** One that is known well enough to be written. */
interface Ready {
  readonly intake: Intake;
  readonly asked: readonly string[];
  readonly allowed: readonly string[];
  readonly key: Buffer;
  readonly choiceKey: Buffer;
}

/**
 * Puts one choice on record, with its ledger entry, in one transaction. The address is truncated before it is kept.
 * Choices of one visitor wait for each other; one that is on record already gives the receipt it had. Throws a
 * RefusedError for a notice version that the site never had, and (409) for a choice key that another choice has.
 */
export async function recordConsent(ctx: Context, intake: Intake): Promise<Receipt> {
  const [settled] = await recordConsents(ctx, [intake]);
  if (settled?.status !== 'fulfilled') throw settled?.reason;
  return settled.value;
}

/** The same for many, each settled by itself, together in as few transactions as their visitors let. */
export async function recordConsents(
  ctx: Context,
  intakes: readonly Intake[],
): Promise<readonly PromiseSettledResult<Receipt>[]> {
  const settled = new Map<Intake, PromiseSettledResult<Receipt>>();
  const fail = (intake: Intake, reason: unknown) => settled.set(intake, { status: 'rejected', reason });
  const ready: Ready[] = [];
  for (const intake of intakes)
    try {
      ready.push(await readied(ctx, intake));
    } catch (error) {
      fail(intake, error);
    }
  for (const round of rounds(ready)) {
    try {
      const receipts = await ctx.store.transaction((tx) => recordTogether(tx, ctx, round));
      round.forEach((r, i) => settled.set(r.intake, receipts[i] as PromiseSettledResult<Receipt>));
    } catch (error) {
      // One that will not do holds up no other: each is tried by itself.
      if (round.length === 1 || isUnreachable(error))
        for (const r of round) fail(r.intake, isDuplicate(error) ? keyTaken() : error);
      else
        for (const r of round) {
          const [alone] = await recordConsents(ctx, [r.intake]);
          if (alone) settled.set(r.intake, alone);
        }
    }
  }
  return intakes.map((i) => settled.get(i) as PromiseSettledResult<Receipt>);
}

async function readied(ctx: Context, intake: Intake): Promise<Ready> {
  const { siteId, notice, sent } = intake;
  const asked = await askedBy(ctx, siteId, notice, sent.version);
  return {
    ...{ intake, asked, allowed: asked.filter((p) => sent.allowed.includes(p)) },
    ...{ key: Buffer.from(sent.visitorKey, 'hex'), choiceKey: Buffer.from(sent.choiceKey, 'hex') },
  };
}

const nameOf = (siteId: number, key: Buffer) => `${siteId} ${key.toString('hex')}`;

/** In each one choice of a visitor at most, and no choice key twice; their order stays. */
function rounds(ready: readonly Ready[]): readonly (readonly Ready[])[] {
  const all: { readonly taken: Set<string>; readonly of: Ready[] }[] = [];
  for (const r of ready) {
    const names = [`v ${nameOf(r.intake.siteId, r.key)}`, `c ${nameOf(r.intake.siteId, r.choiceKey)}`];
    // After the last that has one of its names.
    const at = all.findLastIndex((round) => names.some((n) => round.taken.has(n))) + 1;
    const round = all[at] ?? { taken: new Set<string>(), of: [] };
    if (!all[at]) all.push(round);
    for (const n of names) round.taken.add(n);
    round.of.push(r);
  }
  return all.map((round) => round.of);
}

/** Of different visitors each. Settled by itself is only what was sent before; anything else undoes them all. */
async function recordTogether(
  tx: Queries,
  ctx: Context,
  ready: readonly Ready[],
): Promise<readonly PromiseSettledResult<Receipt>[]> {
  const now = ctx.now();
  await takeTurns(tx, ready, now);
  const before = await sentBefore(tx, ready);
  const earlier = await lastAllowed(tx, ready);
  const made = new Map<Ready, { id: Buffer; receipt: Receipt }>();
  const results = ready.map((r): PromiseSettledResult<Receipt> => {
    const { intake, asked, allowed } = r;
    const { sent } = intake;
    const sentOnce = before.get(nameOf(intake.siteId, r.choiceKey));
    if (sentOnce) return again(sentOnce, r.key, sent.version, allowed);
    const id = uuidv7(now);
    const receipt: Receipt = {
      id: formatUuid(id),
      at: now.toISOString(),
      site: intake.host,
      notice: sent.version,
      asked,
      allowed,
      choice: choiceMade(asked, allowed),
      act: choiceAct(earlier.get(nameOf(intake.siteId, r.key)), allowed),
      language: sent.language,
      region: intake.region,
      ...(sent.tc === '' ? {} : { tc: sent.tc }),
    };
    made.set(r, { id, receipt });
    return { status: 'fulfilled', value: receipt };
  });
  if (made.size === 0) return results;
  const ids = await recordMany(
    tx,
    now,
    [...made.values()].map(({ receipt }) => ({
      actor: 'visitor',
      action: 'consent.record',
      object: 'consent',
      objectId: receipt.id,
      detail: { receipt: receiptDigest(receipt) },
    })),
  );
  await insertConsents(
    tx,
    [...made].map(([r, { id, receipt }]) => ({
      ...{
        id,
        receipt,
        siteId: r.intake.siteId,
        address: truncateAddress(r.intake.address) ?? '',
        key: r.key,
      },
      ledgerId: ids.get(receipt.id) as number,
      from: { device: r.intake.sent.device, page: r.intake.sent.page },
    })),
  );
  await tx.run('INSERT INTO consent_sent (site_id, choice_key, visitor_key, consent_id, at) VALUES ?', [
    [...made].map(([r, { id }]) => [r.intake.siteId, r.choiceKey, r.key, id, toDatetime(now)]),
  ]);
  return results;
}

/** Choices of one visitor, from two tabs or sent again, wait here until the one before is through: all in one order. */
async function takeTurns(tx: Queries, ready: readonly Ready[], now: Date): Promise<void> {
  const rows = ready
    .map((r) => [r.intake.siteId, r.key, toDatetime(now)] as const)
    .toSorted(([a, x], [b, y]) => a - b || x.compare(y));
  await tx.run(
    'INSERT INTO consent_turn (site_id, visitor_key, at) VALUES ? ON DUPLICATE KEY UPDATE at = VALUES(at)',
    [rows],
  );
}

/** By site, so that each question goes by an index. */
function bySite(ready: readonly Ready[]): ReadonlyMap<number, readonly Ready[]> {
  const sites = new Map<number, Ready[]>();
  for (const r of ready) sites.set(r.intake.siteId, [...(sites.get(r.intake.siteId) ?? []), r]);
  return sites;
}

async function sentBefore(tx: Queries, ready: readonly Ready[]): Promise<ReadonlyMap<string, OpenedRecord>> {
  const found = new Map<string, OpenedRecord>();
  for (const [siteId, of] of bySite(ready)) {
    const rows = await tx.all(
      z.object({ choice_key: Bytes, consent_id: Bytes }),
      'SELECT choice_key, consent_id FROM consent_sent WHERE site_id = ? AND choice_key IN (?)',
      [siteId, of.map((r) => r.choiceKey)],
    );
    for (const row of rows) {
      const record = await findRecord(tx, siteId, row.consent_id);
      if (record) found.set(nameOf(siteId, row.choice_key), record);
    }
  }
  return found;
}

/** What visitors had allowed last: the newest record of each, however many there are. Most have none. */
async function lastAllowed(
  tx: Queries,
  ready: readonly Ready[],
): Promise<ReadonlyMap<string, readonly string[]>> {
  const seen = await tx.all(
    z.object({ visitor_key: Bytes }),
    'SELECT visitor_key FROM consent_record WHERE visitor_key IN (?) GROUP BY visitor_key',
    [ready.map((r) => r.key)],
  );
  const again = ready.filter((r) => seen.some((s) => s.visitor_key.equals(r.key)));
  if (again.length === 0) return new Map();
  const one =
    '(SELECT site_id, visitor_key, allowed FROM consent_record WHERE visitor_key = ? AND site_id = ? ORDER BY at DESC, id DESC LIMIT 1)';
  const rows = await tx.all(
    z.object({ site_id: z.number(), visitor_key: Bytes, allowed: z.string() }),
    again.map(() => one).join(' UNION ALL '),
    again.flatMap((r) => [r.key, r.intake.siteId]),
  );
  return new Map(rows.map((r) => [nameOf(r.site_id, r.visitor_key), purposeList(r.allowed)]));
}

function again(
  { record, receipt }: OpenedRecord,
  key: Buffer,
  version: number,
  allowed: readonly string[],
): PromiseSettledResult<Receipt> {
  const same =
    record.visitorKey === key.toString('hex') &&
    record.version === version &&
    record.allowed.join() === allowed.join();
  return same ? { status: 'fulfilled', value: receipt } : { status: 'rejected', reason: keyTaken() };
}

function keyTaken(): RefusedError {
  return new RefusedError(
    'Another choice has this key.',
    [{ field: 'choiceKey', message: 'Make a new one for each choice.' }],
    409,
  );
}

const TURN_KEPT_MS = 86_400_000;
/** Longer than a browser may still send a choice again. */
const SENT_KEPT_MS = (SHOWN_FOR_DAYS + 5) * 86_400_000;

/** Forgets what was only kept to know a choice that is sent again. */
export async function forgetOldTurns(ctx: Context): Promise<void> {
  const now = ctx.now().getTime();
  for (const [table, ms] of [
    ['consent_turn', TURN_KEPT_MS],
    ['consent_sent', SENT_KEPT_MS],
  ] as const)
    for (let gone = 5000; gone === 5000;)
      gone = (
        await ctx.store.run(`DELETE FROM ${table} WHERE at < ? LIMIT 5000`, [toDatetime(new Date(now - ms))])
      ).changed;
}

async function askedBy(
  ctx: Context,
  siteId: number,
  notice: ServedNotice | undefined,
  version: number,
): Promise<readonly string[]> {
  if (version === notice?.version) return notice.content.purposes;
  // A visitor may answer a notice that was replaced while they read it.
  const older = await readVersion(ctx.store, siteId, version).catch((error: unknown) => {
    if (!(error instanceof RefusedError)) throw error;
    throw new RefusedError('This site never had that version of the notice.', [
      { field: 'version', message: `The version in force is ${notice?.version ?? 'none'}.` },
    ]);
  });
  return older.purposes;
}
