import { z } from 'zod';
import { notFound } from '../../../core/refusal.ts';
import { CHOICE_ACTS, CHOICES, receiptDigest, type Receipt } from '../../../core/websites/notice/consent.ts';
import type { FromWhere } from '../../../core/websites/notice/from-where.ts';
import type { EntryProof } from '../../../core/evidence/ledger.ts';
import { proveEntry } from '../../evidence/ledger.ts';
import type { Witness } from '../../evidence/verify.ts';
import { BigId, Bytes, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { consentCounts, erasedAmong } from './erased.ts';
import { formatUuid, parseUuid, uuidTime } from './record-id.ts';

export interface StoredConsent {
  readonly id: Buffer;
  readonly receipt: Receipt;
  readonly siteId: number;
  readonly address: string;
  readonly key: Buffer;
  readonly ledgerId: number;
  readonly from: FromWhere;
}

export async function insertConsents(tx: Queries, records: readonly StoredConsent[]): Promise<void> {
  await tx.run(
    'INSERT INTO consent_record (id, at, site_id, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id, device, page_group, host, tc) VALUES ?',
    [
      records.map(({ id, receipt: r, siteId, address, key, ledgerId, from }) => [
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
        from.device,
        from.page,
        r.site,
        r.tc ?? '',
      ]),
    ],
  );
}

export const ConsentRow = z
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
    tc: z.string(),
    device: z.string(),
    page_group: z.string(),
  })
  .transform((r) => ({
    id: formatUuid(r.id),
    at: r.at,
    version: r.notice_version,
    choice: r.choice,
    act: r.act,
    asked: purposeList(r.asked),
    allowed: purposeList(r.allowed),
    language: r.language,
    region: r.region,
    address: r.address,
    visitorKey: r.visitor_key.toString('hex'),
    ledgerId: r.ledger_id,
    tc: r.tc,
    device: r.device,
    page: r.page_group,
  }));
export type ConsentRecord = z.infer<typeof ConsentRow>;
export const CONSENT_COLUMNS =
  'id, at, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id, tc, device, page_group';

export interface OpenedConsent {
  readonly record: ConsentRecord;
  readonly receipt: Receipt;
  readonly digest: string;
  /** `undefined` until the ledger is sealed, a few seconds after the choice. */
  readonly proof: EntryProof | undefined;
  /** Whether the ledger's entry holds the digest of this very receipt. */
  readonly matches: boolean;
}

export interface OpenedRecord {
  readonly record: ConsentRecord;
  readonly receipt: Receipt;
}

export async function findRecord(
  store: Queries,
  siteId: number,
  id: Buffer,
): Promise<OpenedRecord | undefined> {
  const row = await store.one(
    z.object({ host: z.string() }).and(ConsentRow),
    `SELECT ${RECEIPT_HOST} AS host, ${qualified('c')} FROM consent_record c JOIN site s ON s.id = c.site_id WHERE c.id = ? AND c.at = ? AND c.site_id = ?`,
    [id, toDatetime(new Date(uuidTime(id))), siteId],
  );
  if (!row) return undefined;
  const { host, ...record } = row;
  return { record, receipt: receiptOf(host, record) };
}

function qualified(table: string): string {
  return CONSENT_COLUMNS.split(', ')
    .map((c) => `${table}.${c}`)
    .join(', ');
}

/**
 * The host that a receipt names, of `c` and its site `s`: as it was when it was made, where the site ever stood there. A
 * record that was put under another site names that one, and so is not what the ledger was told.
 */
const RECEIPT_HOST =
  "CASE WHEN c.host = '' THEN COALESCE(NULLIF(s.first_host, ''), s.host) WHEN JSON_CONTAINS(COALESCE(s.hosts_were, '[]'), JSON_QUOTE(c.host)) THEN c.host ELSE s.host END";

/** What the visitor was given. */
export function receiptOf(host: string, record: ConsentRecord): Receipt {
  const { id, at, version, asked, allowed, choice, act, language, region, tc } = record;
  return {
    ...{ id, at, site: host, notice: version, asked, allowed, choice, act, language, region },
    ...(tc === '' ? {} : { tc }),
  };
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
    z.object({ host: z.string() }).and(ConsentRow),
    `SELECT ${RECEIPT_HOST} AS host, ${qualified('c')} FROM consent_record c JOIN site s ON s.id = c.site_id WHERE c.id IN (?) AND c.at BETWEEN ? AND ?`,
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
  gone: (store, ids) => erasedAmong(store, ids),
  counts: consentCounts,
};

export function purposeList(text: string): string[] {
  return text === '' ? [] : text.split(',');
}
