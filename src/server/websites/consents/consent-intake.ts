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
import { record } from '../../evidence/ledger.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
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

/**
 * Puts one choice on record, with its ledger entry, in one transaction. The address is truncated before it is kept.
 * Choices of one visitor wait for each other; one that is on record already gives the receipt it had. Throws a
 * RefusedError for a notice version that the site never had, and (409) for a choice key that another choice has.
 */
export async function recordConsent(
  ctx: Context,
  { siteId, host, notice, sent, region, address }: Intake,
): Promise<Receipt> {
  const asked = await askedBy(ctx, siteId, notice, sent.version);
  const allowed = asked.filter((p) => sent.allowed.includes(p));
  const key = Buffer.from(sent.visitorKey, 'hex');
  const choiceKey = Buffer.from(sent.choiceKey, 'hex');
  try {
    return await ctx.store.transaction(async (tx) => {
      const now = ctx.now();
      await takeTurn(tx, siteId, key, now);
      const before = await sentBefore(tx, siteId, choiceKey);
      if (before) return again(before, key, sent.version, allowed);
      const earlier = await tx.one(
        z.object({ allowed: z.string() }),
        'SELECT allowed FROM consent_record WHERE visitor_key = ? AND site_id = ? ORDER BY at DESC, id DESC LIMIT 1',
        [key, siteId],
      );
      const id = uuidv7(now);
      const receipt: Receipt = {
        id: formatUuid(id),
        at: now.toISOString(),
        site: host,
        notice: sent.version,
        asked,
        allowed,
        choice: choiceMade(asked, allowed),
        act: choiceAct(earlier ? purposeList(earlier.allowed) : undefined, allowed),
        language: sent.language,
        region,
        ...(sent.tc === '' ? {} : { tc: sent.tc }),
      };
      const ledgerId = await record(tx, now, {
        actor: 'visitor',
        action: 'consent.record',
        object: 'consent',
        objectId: receipt.id,
        detail: { receipt: receiptDigest(receipt) },
      });
      await insertConsents(tx, [
        {
          ...{ id, receipt, siteId, address: truncateAddress(address) ?? '', key, ledgerId },
          from: { device: sent.device, page: sent.page },
        },
      ]);
      await tx.run(
        'INSERT INTO consent_sent (site_id, choice_key, visitor_key, consent_id, at) VALUES (?, ?, ?, ?, ?)',
        [siteId, choiceKey, key, id, toDatetime(now)],
      );
      return receipt;
    });
  } catch (error) {
    if (isDuplicate(error)) throw keyTaken();
    throw error;
  }
}

/** Choices of one visitor, from two tabs or sent again, wait here until the one before is through. */
async function takeTurn(tx: Queries, siteId: number, key: Buffer, now: Date): Promise<void> {
  await tx.run(
    'INSERT INTO consent_turn (site_id, visitor_key, at) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE at = VALUES(at)',
    [siteId, key, toDatetime(now)],
  );
}

async function sentBefore(tx: Queries, siteId: number, choiceKey: Buffer): Promise<OpenedRecord | undefined> {
  const sent = await tx.one(
    z.object({ consent_id: Bytes }),
    'SELECT consent_id FROM consent_sent WHERE site_id = ? AND choice_key = ?',
    [siteId, choiceKey],
  );
  return sent && findRecord(tx, siteId, sent.consent_id);
}

function again(
  { record, receipt }: OpenedRecord,
  key: Buffer,
  version: number,
  allowed: readonly string[],
): Receipt {
  const same =
    record.visitorKey === key.toString('hex') &&
    record.version === version &&
    record.allowed.join() === allowed.join();
  if (!same) throw keyTaken();
  return receipt;
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
