import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { RefusedError } from '../../../core/refusal.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** What a program may do; each is one interface. */
export const PROGRAM_SCOPES = {
  levels: 'reads which levels people are offered, and sets them',
  activity: 'tells what people and programs do',
  requests: 'hands in what people ask about their data',
} as const;
export type ProgramScope = keyof typeof PROGRAM_SCOPES;

/** A program that speaks to the desk with a token of its own. */
export interface Program {
  readonly id: number;
  readonly name: string;
  readonly scope: string;
}

const USED_EVERY_MS = 60_000;
const hashOf = (token: string) => createHash('sha256').update(token).digest();

/** Lets a program in; its token, which is shown once and kept nowhere. */
export async function addProgram(
  tx: Queries,
  now: Date,
  by: number | null,
  { name, scope }: { readonly name: string; readonly scope: ProgramScope },
  token = `yw_${randomBytes(32).toString('base64url')}`,
): Promise<{ readonly id: number; readonly token: string }> {
  const { id } = await tx.run('INSERT INTO program (name, token_hash, scope, made_at, made_by) VALUES (?)', [
    [name, hashOf(token), scope, toDatetime(now), by],
  ]);
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'program.add',
    object: 'program',
    objectId: id,
    detail: { name, scope },
  });
  return { id, token };
}

/** Its token opens nothing any more. */
export async function endProgram(tx: Queries, now: Date, by: number, id: number): Promise<void> {
  const { changed } = await tx.run('UPDATE program SET ended_at = ? WHERE id = ? AND ended_at IS NULL', [
    toDatetime(now),
    id,
  ]);
  if (changed === 0) throw new RefusedError('This program is ended already.', [], 409);
  await record(tx, now, { actor: by, action: 'program.end', object: 'program', objectId: id, detail: {} });
}

const Row = z.object({
  id: z.number(),
  name: z.string(),
  scope: z.string(),
  made_at: Instant,
  used_at: Instant.nullable(),
  ended_at: Instant.nullable(),
});

export async function listPrograms(store: Queries) {
  const rows = await store.all(
    Row,
    'SELECT id, name, scope, made_at, used_at, ended_at FROM program ORDER BY ended_at IS NOT NULL, name',
  );
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    scope: r.scope,
    madeAt: r.made_at,
    usedAt: r.used_at,
    endedAt: r.ended_at,
  }));
}

/** The program whose token this is. Throws a RefusedError (401), or (403) where it is for something else. */
export async function programOf(
  store: Queries,
  now: Date,
  authorization: string | null,
  scope: ProgramScope,
): Promise<Program> {
  const [, token] = /^Bearer ([\w-]{20,100})$/.exec(authorization ?? '') ?? [];
  const row =
    token === undefined
      ? undefined
      : await store.one(
          Row,
          'SELECT id, name, scope, made_at, used_at, ended_at FROM program WHERE token_hash = ? AND ended_at IS NULL',
          [hashOf(token)],
        );
  if (!row) throw new RefusedError('Send a token that is in force: Authorization: Bearer …', [], 401);
  if (row.scope !== scope) throw new RefusedError('This token is for something else.', [], 403);
  if (!row.used_at || now.getTime() - new Date(row.used_at).getTime() > USED_EVERY_MS)
    await store.run('UPDATE program SET used_at = ? WHERE id = ?', [toDatetime(now), row.id]);
  return { id: row.id, name: row.name, scope: row.scope };
}
