import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import {
  EVIDENCE_LIST,
  EVIDENCE_STATES,
  type EvidenceState,
} from '../../../core/protection/evidence/evidence-list.ts';
import type { ActivityEvent } from '../../../core/protection/activity/event.ts';
import type { Keeping } from '../../../core/protection/handling/handling-rule.ts';
import type { Kept } from '../../../core/protection/handling/keeping.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { Bytes, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { findEvent } from '../activity/event-store.ts';
import type { Device } from '../devices/devices.ts';
import { HANDLING_RULE } from '../handling/handling-rules.ts';
import { openSealed, sealHere } from './evidence-key.ts';

/** No copy is longer, in bytes. */
export const MOST_KEPT = 8_000_000;
const DAY = 86_400_000;

export interface KeptTold {
  readonly what: 'copy' | 'quarantine';
  /** The event it belongs to, which was told before. */
  readonly event: string;
  readonly rule: string;
}

/**
 * Keeps what a device sealed, once; what is sent again is kept already. Throws a RefusedError (400, 404, 413): of an event
 * that the device told, for a rule that held there and that keeps such a thing, sealed for this desk.
 */
export async function keepEvidence(
  ctx: Context,
  device: Device,
  told: KeptTold,
  sealed: Uint8Array,
): Promise<{ readonly kept: boolean }> {
  if (sealed.length > MOST_KEPT)
    throw new RefusedError(`That is more than ${MOST_KEPT / 1e6} MB; only its event is kept.`, [], 413);
  const found = await findTold(ctx.store, device.id, told.event);
  if (!found) throw notFound('event');
  const { event } = found;
  const held = event.rules.find((r) => r.rule === told.rule);
  if (!held)
    throw new RefusedError('This rule did not hold there.', [
      { field: 'rule', message: 'Name one that held.' },
    ]);
  const { keeps } = await readRuleVersion(ctx.store, HANDLING_RULE, held.rule, held.version);
  if (told.what === 'copy' ? !keeps.copy : !keeps.quarantine)
    throw new RefusedError('That rule keeps no such thing.', [
      { field: 'what', message: 'Keep what the rule says.' },
    ]);
  let size: number;
  try {
    size = openSealed(ctx, sealed).length;
  } catch {
    throw new RefusedError('It is not sealed for this desk.', [
      { field: 'body', message: 'Seal it for the key that stands in the rules.' },
    ]);
  }
  return {
    kept: await write(ctx, {
      what: told.what,
      event,
      device: device.id,
      rule: held.rule,
      keeps,
      size,
      sealed,
    }),
  };
}

/** Keeps what passed here itself, such as a mail; whether it was not kept before. */
export async function keepHere(
  ctx: Context,
  { what, rule }: Kept,
  event: ActivityEvent,
  keeps: Keeping,
  bytes: Uint8Array,
): Promise<boolean> {
  // Of what is longer only its event is kept.
  if (bytes.length + 100 > MOST_KEPT) return false;
  const sealed = sealHere(ctx, bytes);
  return write(ctx, { what, event, device: 0, rule, keeps, size: bytes.length, sealed });
}

async function write(
  { store, now: clock }: Context,
  one: {
    readonly what: Kept['what'];
    readonly event: ActivityEvent;
    readonly device: number;
    readonly rule: string;
    readonly keeps: Keeping;
    readonly size: number;
    readonly sealed: Uint8Array;
  },
): Promise<boolean> {
  const now = clock();
  const { event, keeps } = one;
  const { changed } = await store.run(
    `INSERT IGNORE INTO kept_evidence (what, event_at, event_id, device_id, person, rule_id, name, size, openers, body, kept_at, keep_until)
     VALUES (?)`,
    [
      [
        ...[one.what, toDatetime(event.at), Buffer.from(event.id, 'hex'), one.device, event.person, one.rule],
        ...[event.item?.name ?? '', one.size, JSON.stringify(keeps.openers), Buffer.from(one.sealed)],
        ...[toDatetime(now), toDatetime(new Date(now.getTime() + keeps.days * DAY))],
      ],
    ],
  );
  return changed > 0;
}

/** An event that a device told, whatever time it was given. */
async function findTold(store: Queries, device: number, event: string) {
  const row = await store.one(
    z.object({ at: Instant }),
    'SELECT e.at FROM activity_event e WHERE e.device_id = ? AND e.id = ? AND e.at > NOW() - INTERVAL 400 DAY LIMIT 1',
    [device, Buffer.from(event, 'hex')],
  );
  return row && findEvent(store, row.at, event);
}

const Row = z.object({
  id: z.number(),
  what: z.enum(['copy', 'quarantine']),
  eventAt: Instant,
  event: Bytes.transform((b) => b.toString('hex')),
  device: z.number(),
  person: z.string(),
  rule: z.string(),
  ruleName: z.string().nullable(),
  name: z.string(),
  size: z.number(),
  state: z.enum(EVIDENCE_STATES),
  keptAt: Instant,
  keepUntil: Instant,
  openers: JsonColumn(z.array(z.string())),
});
export type KeptEvidence = z.infer<typeof Row>;

const SOURCE: ListSource<KeptEvidence> = {
  list: EVIDENCE_LIST,
  select: `k.id, k.what, k.event_at AS eventAt, k.event_id AS event, k.device_id AS device, k.person, k.rule_id AS rule,
    r.name AS ruleName, k.name, k.size, k.state, k.kept_at AS keptAt, k.keep_until AS keepUntil, k.openers`,
  from: "kept_evidence k LEFT JOIN rule r ON r.kind = 'handling rule' AND r.id = k.rule_id",
  row: Row,
  id: 'k.id',
  sorts: { at: 'k.kept_at' },
  filters: {
    what: (where, what) => where.and('k.what = ?', what),
    state: (where, state) => where.and('k.state = ?', state),
    person: (where, person) => where.and('k.person = ?', person.toLowerCase()),
    rule: (where, rule) => where.and('k.rule_id = ?', rule),
  },
};

export function listEvidence(store: Queries, wish: WishInput, after: string | undefined, size: number) {
  return listRegister(store, SOURCE, wish, {
    ...{ base: () => new Where(), after, size, countFrom: 'kept_evidence k' },
  });
}

/** Whether an account may open it: one that may open all, and where openers are named, one of those. */
export function mayOpen(
  account: Pick<Account, 'email'>,
  { openers }: Pick<KeptEvidence, 'openers'>,
): boolean {
  return openers.length === 0 || openers.includes(account.email);
}

/** What was kept, in clear, with the reason on record. Throws a RefusedError (403, 404, 409). */
export async function openEvidence(
  ctx: Context,
  account: Account,
  id: number,
  reason: string,
): Promise<{ readonly name: string; readonly base64: string }> {
  return ctx.store.transaction(async (tx) => {
    const row = await lockBody(tx, id, ['kept']);
    if (!mayOpen(account, row)) throw new RefusedError('The rule names others who may open this.', [], 403);
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'evidence.open', object: 'evidence', objectId: id },
      detail: { reason },
    });
    return { name: row.name || 'text.txt', base64: openSealed(ctx, row.body).toString('base64') };
  });
}

const Locked = z.object({
  what: z.enum(['copy', 'quarantine']),
  name: z.string(),
  state: z.enum(EVIDENCE_STATES),
  body: Bytes.nullable(),
  openers: JsonColumn(z.array(z.string())),
});

async function lockBody(tx: Queries, id: number, states: readonly EvidenceState[]) {
  const row = await tx.one(
    Locked,
    'SELECT what, name, state, body, openers FROM kept_evidence WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!row) throw notFound('kept copy');
  if (!row.body || !states.includes(row.state)) throw new RefusedError(`It is ${row.state}.`, [], 409);
  return { ...row, body: row.body };
}

/** Has a file that was moved away put back where it was, by the device it came from. Throws a RefusedError (404, 409). */
export async function giveBack(ctx: Context, account: Account, id: number, reason: string): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { what } = await lockBody(tx, id, ['kept']);
    if (what !== 'quarantine')
      throw new RefusedError('A copy is nothing to give back: the file is where it was.', [], 409);
    await tx.run("UPDATE kept_evidence SET state = 'giving back' WHERE id = ?", [id]);
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'evidence.give-back', object: 'evidence', objectId: id },
      detail: { reason },
    });
  });
}

/** Deletes it for good. Throws a RefusedError (404, 409). */
export async function deleteEvidence(
  ctx: Context,
  account: Account,
  id: number,
  reason: string,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await lockBody(tx, id, ['kept', 'giving back']);
    await tx.run("UPDATE kept_evidence SET state = 'deleted', body = NULL WHERE id = ?", [id]);
    await record(tx, ctx.now(), {
      ...{ actor: account.id, action: 'evidence.delete', object: 'evidence', objectId: id },
      detail: { reason },
    });
  });
}

/** Deletes what is kept for no longer; how many. */
export async function endEvidence(ctx: Context): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const over = await tx.all(
      z.object({ id: z.number() }),
      "SELECT id FROM kept_evidence WHERE state = 'kept' AND keep_until < ? LIMIT 500 FOR UPDATE",
      [toDatetime(ctx.now())],
    );
    for (const { id } of over) {
      await tx.run("UPDATE kept_evidence SET state = 'deleted', body = NULL WHERE id = ?", [id]);
      await record(tx, ctx.now(), {
        ...{ actor: 'worker', action: 'evidence.end', object: 'evidence', objectId: id, detail: {} },
      });
    }
    return over.length;
  });
}

export interface Returned {
  readonly id: number;
  readonly name: string;
  readonly base64: string;
  /** Of what it belongs to. */
  readonly at: string;
  readonly event: string;
}

/** What a device is to put back, in clear; what passed here itself for 0. */
export async function returnsFor(ctx: Context, device: Pick<Device, 'id'>): Promise<readonly Returned[]> {
  const rows = await ctx.store.all(
    z.object({ id: z.number(), name: z.string(), body: Bytes, at: Instant, event: Bytes }),
    "SELECT id, name, body, event_at AS at, event_id AS event FROM kept_evidence WHERE device_id = ? AND state = 'giving back' AND body IS NOT NULL ORDER BY id LIMIT 5",
    [device.id],
  );
  return rows.map(({ id, name, body, at, event }) => ({
    ...{ id, name, at, event: event.toString('hex') },
    base64: openSealed(ctx, body).toString('base64'),
  }));
}

/**
 * A device has put one back; nothing of it is kept any more. `work` is done first, by one of those who would at the same
 * time; where it fails, the thing stays to be given back.
 */
export async function returned(
  ctx: Context,
  device: Pick<Device, 'id'>,
  id: number,
  work: () => Promise<void> = () => Promise.resolve(),
): Promise<boolean> {
  return ctx.store.transaction(async (tx) => {
    const own = await tx.one(
      z.object({ id: z.number() }),
      "SELECT id FROM kept_evidence WHERE id = ? AND device_id = ? AND state = 'giving back' FOR UPDATE SKIP LOCKED",
      [id, device.id],
    );
    if (!own) return false;
    await work();
    await tx.run("UPDATE kept_evidence SET state = 'given back', body = NULL WHERE id = ?", [id]);
    await record(tx, ctx.now(), {
      ...{ actor: 'system', action: 'evidence.given-back', object: 'evidence', objectId: id },
      detail: { device: device.id },
    });
    return true;
  });
}
