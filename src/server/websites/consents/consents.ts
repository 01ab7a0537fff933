import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { truncateAddress } from '../../../core/address.ts';
import { wilson, type Share } from '../../../core/interval.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import {
  choiceAct,
  choiceMade,
  CHOICE_ACTS,
  CHOICES,
  receiptDigest,
  type ChoiceSent,
  type Receipt,
} from '../../../core/websites/notice/consent.ts';
import { REGION_PATTERN } from '../../../core/websites/notice/region.ts';
import type { EntryProof } from '../../../core/evidence/ledger.ts';
import type { Context } from '../../context.ts';
import { proveEntry, record } from '../../evidence/ledger.ts';
import type { Witness } from '../../evidence/verify.ts';
import { BigId, Bytes, Count, Instant, toDatetime } from '../../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../../store/page.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { readVersion, type ServedNotice } from '../notices/notices.ts';
import { SHOWN_FOR_DAYS } from '../visitor/shown-token.ts';
import { findSite } from '../sites/sites.ts';

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
        act: choiceAct(earlier ? list(earlier.allowed) : undefined, allowed),
        language: sent.language,
        region,
      };
      const ledgerId = await record(tx, now, {
        actor: 'visitor',
        action: 'consent.record',
        object: 'consent',
        objectId: receipt.id,
        detail: { receipt: receiptDigest(receipt) },
      });
      await insertConsents(tx, [
        { id, receipt, siteId, address: truncateAddress(address) ?? '', key, ledgerId },
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

export interface StoredConsent {
  readonly id: Buffer;
  readonly receipt: Receipt;
  readonly siteId: number;
  readonly address: string;
  readonly key: Buffer;
  readonly ledgerId: number;
}

export async function insertConsents(tx: Queries, records: readonly StoredConsent[]): Promise<void> {
  await tx.run(
    'INSERT INTO consent_record (id, at, site_id, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id) VALUES ?',
    [
      records.map(({ id, receipt: r, siteId, address, key, ledgerId }) => [
        id,
        toDatetime(r.at),
        siteId,
        r.notice,
        r.choice,
        r.act,
        r.asked.join(','),
        r.allowed.join(','),
        r.language,
        r.region,
        address,
        key,
        ledgerId,
      ]),
    ],
  );
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

export const ConsentFilter = z.object({
  from: z.iso.date().optional(),
  to: z.iso.date().optional(),
  choice: z.enum(CHOICES).optional(),
  region: z.string().regex(REGION_PATTERN, 'a region such as DK or US-CA').optional(),
  version: z.coerce.number().int().positive().optional(),
});
export type ConsentFilter = z.infer<typeof ConsentFilter>;

const Row = z
  .object({
    id: Bytes,
    at: Instant,
    notice_version: z.number(),
    choice: z.enum(CHOICES),
    act: z.enum(CHOICE_ACTS),
    asked: z.string(),
    allowed: z.string(),
    language: z.string(),
    region: z.string(),
    address: z.string(),
    visitor_key: Bytes,
    ledger_id: BigId,
  })
  .transform((r) => ({
    id: formatUuid(r.id),
    at: r.at,
    version: r.notice_version,
    choice: r.choice,
    act: r.act,
    asked: list(r.asked),
    allowed: list(r.allowed),
    language: r.language,
    region: r.region,
    address: r.address,
    visitorKey: r.visitor_key.toString('hex'),
    ledgerId: r.ledger_id,
  }));
export type ConsentRecord = z.infer<typeof Row>;
const COLUMNS =
  'id, at, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id';

/** Newest first. */
export async function listConsents(
  store: Queries,
  host: string,
  filter: ConsentFilter,
  after: string | undefined,
  size: number,
): Promise<Page<ConsentRecord>> {
  const site = await findSite(store, host);
  const where = condition(site.id, filter);
  if (after !== undefined) {
    const [at, id] = decodeCursor(after, z.tuple([z.iso.datetime(), z.hex().length(32)]));
    where.after(['at', 'id'], 'down', [toDatetime(at), Buffer.from(id, 'hex')]);
  }
  const rows = await store.all(
    Row,
    `SELECT ${COLUMNS} FROM consent_record WHERE ${where.sql} ORDER BY at DESC, id DESC LIMIT ?`,
    [...where.params, size + 1],
  );
  return toPage(rows, size, (r) => [r.at, r.id.replaceAll('-', '')]);
}

export async function countConsents(store: Queries, host: string, filter: ConsentFilter): Promise<number> {
  const site = await findSite(store, host);
  const where = condition(site.id, filter);
  const row = await store.one(
    z.object({ n: Count }),
    `SELECT COUNT(*) AS n FROM consent_record WHERE ${where.sql}`,
    where.params,
  );
  return row?.n ?? 0;
}

/** Regions and versions that occur, for the filters. */
export async function consentFacets(
  store: Queries,
  host: string,
): Promise<{ regions: string[]; versions: number[] }> {
  const site = await findSite(store, host);
  const regions = await store.all(
    z.object({ region: z.string() }),
    'SELECT DISTINCT region FROM consent_record WHERE site_id = ? ORDER BY region',
    [site.id],
  );
  const versions = await store.all(
    z.object({ v: z.number() }),
    'SELECT DISTINCT notice_version AS v FROM consent_record WHERE site_id = ? ORDER BY v DESC',
    [site.id],
  );
  return { regions: regions.map((r) => r.region), versions: versions.map((v) => v.v) };
}

function condition(siteId: number, filter: ConsentFilter): Where {
  return new Where()
    .and('site_id = ?', siteId)
    .and('at >= ?', filter.from)
    .and('at < ? + INTERVAL 1 DAY', filter.to)
    .and('choice = ?', filter.choice)
    .and('region = ?', filter.region)
    .and('notice_version = ?', filter.version);
}

export interface OpenedConsent {
  readonly record: ConsentRecord;
  readonly receipt: Receipt;
  readonly digest: string;
  /** `undefined` until the ledger is sealed, a few seconds after the choice. */
  readonly proof: EntryProof | undefined;
  /** Whether the ledger's entry holds the digest of this very receipt. */
  readonly matches: boolean;
}

interface OpenedRecord {
  readonly record: ConsentRecord;
  readonly receipt: Receipt;
}

async function findRecord(store: Queries, siteId: number, id: Buffer): Promise<OpenedRecord | undefined> {
  const row = await store.one(
    z.object({ host: z.string() }).and(Row),
    `SELECT s.host, ${qualified('c')} FROM consent_record c JOIN site s ON s.id = c.site_id WHERE c.id = ? AND c.at = ? AND c.site_id = ?`,
    [id, toDatetime(new Date(uuidTime(id))), siteId],
  );
  if (!row) return undefined;
  const { host, ...record } = row;
  return { record, receipt: receiptOf(host, record) };
}

function qualified(table: string): string {
  return COLUMNS.split(', ')
    .map((c) => `${table}.${c}`)
    .join(', ');
}

function receiptOf(host: string, record: ConsentRecord): Receipt {
  const { id, at, version, asked, allowed, choice, act, language, region } = record;
  return { id, at, site: host, notice: version, asked, allowed, choice, act, language, region };
}

/** One record of this very site with its receipt and its place in the ledger. Throws a RefusedError (404). */
export async function openConsent(store: Queries, siteId: number, id: string): Promise<OpenedConsent> {
  const bytes = parseUuid(id);
  const found = bytes && (await findRecord(store, siteId, bytes));
  if (!found) throw notFound('consent record');
  const digest = receiptDigest(found.receipt);
  const proof = await proveEntry(store, found.record.ledgerId);
  const kept = (proof?.entry.detail as { receipt?: string } | undefined)?.receipt;
  return { ...found, digest, proof, matches: kept === digest };
}

/** Receipts as the records give them now, by their number; for verifying the ledger. */
async function receiptsOf(store: Queries, ids: readonly string[]): Promise<ReadonlyMap<string, Receipt>> {
  const keys = ids.flatMap((id) => parseUuid(id) ?? []);
  if (keys.length === 0) return new Map();
  const times = keys.map(uuidTime);
  const rows = await store.all(
    z.object({ host: z.string() }).and(Row),
    `SELECT s.host, ${qualified('c')} FROM consent_record c JOIN site s ON s.id = c.site_id WHERE c.id IN (?) AND c.at BETWEEN ? AND ?`,
    [keys, toDatetime(new Date(Math.min(...times))), toDatetime(new Date(Math.max(...times)))],
  );
  return new Map(rows.map(({ host, ...record }) => [record.id, receiptOf(host, record)]));
}

export const CONSENT_WITNESS: Witness = {
  action: 'consent.record',
  field: 'receipt',
  what: 'consent record',
  table: 'consent_record',
  values: receiptsOf,
};

export interface ConsentRates {
  readonly days: number;
  readonly choices: number;
  /** Share of choices that allowed at least one purpose; `null` without choices. */
  readonly allowedSomething: Share | null;
  readonly byRegion: readonly { readonly region: string; readonly choices: number; readonly share: Share }[];
}

/**
 * Each visitor counts once, with the latest choice within the days, so that changing one's mind does not count twice.
 */
export async function consentRates(ctx: Context, host: string, days: number): Promise<ConsentRates> {
  const site = await findSite(ctx.store, host);
  const since = toDatetime(new Date(ctx.now().getTime() - days * 86_400_000));
  const rows = await ctx.store.all(
    z.object({ region: z.string(), n: Count, some: Count }),
    `SELECT region, COUNT(*) AS n, SUM(choice <> 'refused all') AS some FROM (
       SELECT region, choice, ROW_NUMBER() OVER (PARTITION BY visitor_key ORDER BY at DESC, id DESC) AS place
       FROM consent_record WHERE site_id = ? AND at >= ?) latest
     WHERE place = 1 GROUP BY region ORDER BY n DESC`,
    [site.id, since],
  );
  const choices = rows.reduce((sum, r) => sum + r.n, 0);
  const some = rows.reduce((sum, r) => sum + r.some, 0);
  return {
    days,
    choices,
    allowedSomething: wilson(some, choices) ?? null,
    byRegion: rows.flatMap((r) => {
      const share = wilson(r.some, r.n);
      return share ? [{ region: r.region, choices: r.n, share }] : [];
    }),
  };
}

/** RFC 9562 section 5.7: 48 bits of Unix milliseconds, then random bits. */
export function uuidv7(at: Date, random: Buffer = randomBytes(16)): Buffer {
  const bytes = Buffer.from(random);
  bytes.writeUIntBE(at.getTime(), 0, 6);
  bytes[6] = 0x70 | ((bytes[6] as number) & 0x0f);
  bytes[8] = 0x80 | ((bytes[8] as number) & 0x3f);
  return bytes;
}

function uuidTime(bytes: Buffer): number {
  return bytes.readUIntBE(0, 6);
}

export function formatUuid(bytes: Buffer): string {
  return bytes.toString('hex').replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
}

function parseUuid(text: string): Buffer | undefined {
  return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(text)
    ? Buffer.from(text.replaceAll('-', ''), 'hex')
    : undefined;
}

function list(text: string): string[] {
  return text === '' ? [] : text.split(',');
}
