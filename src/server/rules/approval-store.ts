import { z } from 'zod';
import type { Act } from '../../core/rules/rule.ts';
import { takeOffToday } from '../desk/today.ts';
import { BigId, Flag, Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { Key } from './rule-kind.ts';

export const APPROVAL_STATES = ['open', 'agreed', 'refused', 'withdrawn', 'overtaken'] as const;
export type ApprovalState = (typeof APPROVAL_STATES)[number];

export interface AskedPerson {
  readonly id: number;
  readonly name: string;
  /** `null` as long as they said nothing. */
  readonly agrees: boolean | null;
  readonly reason: string | null;
  readonly at: string | null;
}

/** A version that others were asked to agree to. */
export interface Approval {
  readonly id: string;
  readonly version: number;
  readonly needed: number;
  readonly askedBy: { readonly id: number; readonly name: string };
  readonly askedAt: string;
  readonly reason: string;
  readonly state: ApprovalState;
  readonly endedAt: string | null;
  readonly people: readonly AskedPerson[];
}

/** How many have to agree before a rule of a kind is in force: 0, 1 or 2. */
export async function neededFor(store: Queries, object: string): Promise<number> {
  const row = await store.one(
    z.object({ needed: z.number() }),
    'SELECT needed FROM approval_policy WHERE kind = ?',
    [object],
  );
  return row?.needed ?? 0;
}

/** The latest of a rule; `undefined` where nobody was ever asked. `lock` it to change it. */
export async function latestApproval(
  store: Queries,
  object: string,
  key: Key,
  lock = false,
): Promise<Approval | undefined> {
  const row = await store.one(
    z.object({
      id: BigId,
      version: z.number(),
      needed: z.number(),
      asked_by: z.number(),
      asker: z.string().nullable(),
      asked_at: Instant,
      reason: z.string(),
      state: z.enum(APPROVAL_STATES),
      ended_at: Instant.nullable(),
    }),
    `SELECT p.id, p.version, p.needed, p.asked_by, a.name AS asker, p.asked_at, p.reason, p.state, p.ended_at
     FROM approval p LEFT JOIN account a ON a.id = p.asked_by WHERE p.kind = ? AND p.rule_id = ? ORDER BY p.id DESC LIMIT 1${lock ? ' FOR UPDATE' : ''}`,
    [object, String(key)],
  );
  if (!row) return undefined;
  const people = await store.all(
    z.object({
      id: z.number(),
      name: z.string().nullable(),
      agrees: Flag.nullable(),
      reason: z.string().nullable(),
      at: Instant.nullable(),
    }),
    'SELECT p.account_id AS id, a.name, p.agrees, p.reason, p.at FROM approval_person p LEFT JOIN account a ON a.id = p.account_id WHERE p.approval_id = ? ORDER BY p.at IS NULL, p.at, a.name',
    [row.id],
  );
  return {
    id: row.id,
    version: row.version,
    needed: row.needed,
    askedBy: { id: row.asked_by, name: row.asker ?? 'Someone' },
    askedAt: row.asked_at,
    reason: row.reason,
    state: row.state,
    endedAt: row.ended_at,
    people: people.map((p) => ({ ...p, name: p.name ?? 'Someone' })),
  };
}

/** Whether enough agreed to this very version once. */
export async function isAgreed(store: Queries, object: string, key: Key, version: number): Promise<boolean> {
  const row = await store.one(
    z.object({ id: BigId }),
    "SELECT id FROM approval WHERE kind = ? AND rule_id = ? AND version = ? AND state = 'agreed' LIMIT 1",
    [object, String(key), version],
  );
  return row !== undefined;
}

/** Tells the items of Today of one approval apart. */
export function approvalItem(approval: string, accountId: number): string {
  return `${approval} ${accountId}`;
}

/** Ends an approval that is open, and takes it off everybody's Today. */
export async function endApproval(
  tx: Queries,
  now: Date,
  approval: Approval,
  state: Exclude<ApprovalState, 'open'>,
): Promise<void> {
  await tx.run("UPDATE approval SET state = ?, ended_at = ? WHERE id = ? AND state = 'open'", [
    state,
    toDatetime(now),
    approval.id,
  ]);
  for (const { id } of approval.people) await takeOffToday(tx, 'approval', approvalItem(approval.id, id));
}

/** Ends what was asked for where the rule has gone another way since; rehearsing what waits is no other way. */
export async function overtakeApproval(
  tx: Queries,
  now: Date,
  object: string,
  key: Key,
  act: Act,
): Promise<void> {
  const approval = await latestApproval(tx, object, key, true);
  if (approval?.state !== 'open' || act.act === 'end rehearsal') return;
  if (act.act === 'rehearse' && act.version === approval.version) return;
  await endApproval(tx, now, approval, 'overtaken');
}
