import { z } from 'zod';
import type { EntryProof } from '../../../core/evidence/ledger.ts';
import {
  PREFERENCE_ACTS,
  preferenceDigest,
  SAID_BY,
  type PreferenceReceipt,
} from '../../../core/websites/preferences/preference-receipt.ts';
import { proveEntry } from '../../evidence/ledger.ts';
import type { Witness } from '../../evidence/verify.ts';
import { BigId, Bytes, Count, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { erasedAmong } from '../consents/erased.ts';
import { formatUuid, parseUuid } from '../consents/record-id.ts';
import { codes } from './preference-person.ts';

const Row = z
  .object({
    id: Bytes,
    at: Instant,
    person_key: Bytes,
    page_version: z.number(),
    asked_channels: z.string(),
    asked_topics: z.string(),
    channels: z.string(),
    topics: z.string(),
    act: z.enum(PREFERENCE_ACTS),
    said_by: z.enum(SAID_BY),
    reason: z.string(),
    words: z.string(),
    language: z.string(),
    ledger_id: BigId,
  })
  .transform((r): { receipt: PreferenceReceipt; words: string; ledgerId: string } => ({
    receipt: {
      id: formatUuid(r.id),
      at: r.at,
      person: r.person_key.toString('hex'),
      page: r.page_version,
      asked: { channels: codes(r.asked_channels), topics: codes(r.asked_topics) },
      channels: codes(r.channels),
      topics: codes(r.topics),
      act: r.act,
      by: r.said_by,
      reason: r.reason,
      language: r.language,
    },
    words: r.words,
    ledgerId: r.ledger_id,
  }));
const SELECT =
  'SELECT r.id, r.at, p.person_key, r.page_version, r.asked_channels, r.asked_topics, r.channels, r.topics, r.act, r.said_by, r.reason, r.words, r.language, r.ledger_id FROM preference_record r JOIN preference_person p ON p.id = r.person_id';

export interface OpenedPreference {
  readonly receipt: PreferenceReceipt;
  /** Why they left, in their own words. */
  readonly words: string;
  readonly digest: string;
  /** `undefined` until the ledger is sealed. */
  readonly proof: EntryProof | undefined;
  /** Whether the ledger’s entry holds the digest of this very receipt. */
  readonly matches: boolean;
}

/** What somebody chose over time, the newest first, each with its place in the ledger. */
export async function preferencesOf(store: Queries, person: number): Promise<readonly OpenedPreference[]> {
  const rows = await store.all(
    Row,
    `${SELECT} WHERE r.person_id = ? ORDER BY r.at DESC, r.id DESC LIMIT 100`,
    [person],
  );
  return Promise.all(
    rows.map(async ({ receipt, words, ledgerId }) => {
      const digest = preferenceDigest(receipt);
      const proof = await proveEntry(store, ledgerId);
      const kept = (proof?.entry.detail as { receipt?: string } | undefined)?.receipt;
      return { receipt, words, digest, proof, matches: kept === digest };
    }),
  );
}

const ERASES = ['preference.erase'];

export const PREFERENCE_WITNESS: Witness = {
  action: 'preference.record',
  field: 'receipt',
  what: 'preference',
  table: 'preference_record',
  async values(store, ids) {
    const keys = ids.flatMap((id) => parseUuid(id) ?? []);
    if (keys.length === 0) return new Map();
    const rows = await store.all(Row, `${SELECT} WHERE r.id IN (?)`, [keys]);
    return new Map(rows.map(({ receipt }) => [receipt.id, receipt]));
  },
  gone: (store, ids) => erasedAmong(store, ids, ERASES),
  async counts(store) {
    const row = await store.one(
      z.object({ told: Count, there: Count, gone: Count }),
      `SELECT (SELECT COUNT(*) FROM ledger_entry WHERE action = 'preference.record') AS told,
         (SELECT COUNT(*) FROM preference_record) AS there,
         (SELECT SUM(JSON_LENGTH(detail, '$.ids')) FROM ledger_entry WHERE action = 'preference.erase') AS gone`,
    );
    return { told: (row?.told ?? 0) - (row?.gone ?? 0), there: row?.there ?? 0 };
  },
};
