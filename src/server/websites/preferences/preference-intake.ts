import { z } from 'zod';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import {
  NO_PREFERENCE,
  preferenceAct,
  preferenceDigest,
  settledPreference,
  type Preference,
  type PreferenceReceipt,
  type SaidBy,
} from '../../../core/websites/preferences/preference-receipt.ts';
import type { Context } from '../../context.ts';
import { record, type Actor } from '../../evidence/ledger.ts';
import { Bytes, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { formatUuid, uuidv7 } from '../consents/record-id.ts';
import { requirePage, type AskedPage } from './page-kind.ts';
import { codes } from './preference-person.ts';
import { tellTools } from './tools.ts';

export interface SaidPreference extends Preference {
  readonly person: number;
  /** Why they left, by its code; empty where they did not say. */
  readonly reason?: string;
  /** The same in their own words. */
  readonly words?: string;
  readonly language?: string;
  readonly by: SaidBy;
  /** Who wrote it down. */
  readonly actor: Actor;
}

/**
 * Puts a choice on record with its ledger entry and what mailing tools are to be told, in one transaction. Leaving is
 * taken also while the page asks nothing. Throws a RefusedError (404, 409).
 */
export async function recordPreference(ctx: Context, said: SaidPreference): Promise<PreferenceReceipt> {
  return ctx.store.transaction(async (tx) => recordSaid(tx, ctx, await requirePage(tx), said));
}

/** The same in a transaction that is open. */
export async function recordSaid(
  tx: Queries,
  ctx: Context,
  page: AskedPage,
  { person, reason = '', words = '', language = '', by, actor, ...wanted }: SaidPreference,
): Promise<PreferenceReceipt> {
  const before = await tx.one(
    z.object({
      person_key: Bytes,
      language: z.string(),
      channels: z.string(),
      topics: z.string(),
      said_at: z.string().nullable(),
    }),
    'SELECT person_key, language, channels, topics, said_at FROM preference_person WHERE id = ? FOR UPDATE',
    [person],
  );
  if (!before) throw notFound('person');
  const asked: Preference = { channels: page.content.channels, topics: page.content.topics };
  const now = settledPreference(asked, wanted);
  const leaves = now.channels.length === 0;
  if (!page.open && !leaves)
    throw new RefusedError('Nothing can be chosen at the moment; leaving can.', [], 409);
  const stood =
    before.said_at === null ? undefined : { channels: codes(before.channels), topics: codes(before.topics) };
  const at = ctx.now();
  const id = uuidv7(at);
  const receipt: PreferenceReceipt = {
    id: formatUuid(id),
    at: at.toISOString(),
    person: before.person_key.toString('hex'),
    page: page.version,
    asked,
    ...now,
    act: preferenceAct(stood, now),
    by,
    reason: leaves && page.content.reasons.includes(reason) ? reason : '',
    language: language || before.language,
  };
  const ledgerId = await record(tx, at, {
    actor,
    action: 'preference.record',
    object: 'preference',
    objectId: receipt.id,
    detail: { receipt: preferenceDigest(receipt) },
  });
  await tx.run(
    'INSERT INTO preference_record (id, at, person_id, page_version, asked_channels, asked_topics, channels, topics, act, said_by, reason, words, language, ledger_id) VALUES (?)',
    [
      [
        ...[id, toDatetime(at), person, page.version, asked.channels.join(), asked.topics.join()],
        ...[now.channels.join(), now.topics.join(), receipt.act, by, receipt.reason],
        ...[leaves ? words.trim().slice(0, 500) : '', receipt.language, ledgerId],
      ],
    ],
  );
  // Who left once and confirms it left then.
  const left = !leaves ? null : receipt.act === 'repeated' ? undefined : toDatetime(at);
  await tx.run(
    `UPDATE preference_person SET channels = ?, topics = ?, said_at = ?, said_record = ?, said_self = ?${left === undefined ? '' : ', left_at = ?'} WHERE id = ?`,
    [
      ...[now.channels.join(), now.topics.join(), toDatetime(at), id],
      ...[by === 'link' || by === 'one click' ? 1 : 0, ...(left === undefined ? [] : [left]), person],
    ],
  );
  await tellTools(tx, [person]);
  return receipt;
}

/** Takes somebody out of everything. */
export function recordLeaving(
  ctx: Context,
  said: Omit<SaidPreference, 'channels' | 'topics'>,
): Promise<PreferenceReceipt> {
  return recordPreference(ctx, { ...said, ...NO_PREFERENCE });
}
