import { z } from 'zod';
import type { Stage } from '../../core/rules/rule.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { record } from '../evidence/ledger.ts';
import { withinColumns } from '../accounts/scope-condition.ts';
import { Instant, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { Content, shapeOf, upgraded, type AnyKind } from './rule-content.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { keepReferences } from './rule-references.ts';
import { StageColumn } from './stage-column.ts';

export interface Rule<T> {
  readonly key: Key;
  readonly content: T;
  /** Counts saved edits. */
  readonly revision: number;
  readonly stage: Stage;
  readonly lastVersion: number;
  readonly editedAt: string;
  readonly editedBy: string | null;
}

export async function readRule<T>(
  store: Queries,
  kind: RuleKind<T>,
  key: Key,
  lock = false,
): Promise<Rule<T>> {
  const row = await store.one(
    z.object({
      content: Content,
      shape: z.number(),
      revision: z.number(),
      stage: StageColumn,
      last_version: z.number(),
      edited_at: Instant,
      edited_by: z.string().nullable(),
    }),
    `SELECT r.content, r.shape, r.revision, r.stage, r.last_version, r.edited_at, a.name AS edited_by FROM rule r LEFT JOIN account a ON a.id = r.edited_by WHERE r.kind = ? AND r.id = ?${lock ? ' FOR UPDATE' : ''}`,
    [kind.object, String(key)],
  );
  if (!row) throw notFound(kind.object);
  return {
    key,
    content: upgraded(kind, row.content, row.shape) as T,
    revision: row.revision,
    stage: row.stage,
    lastVersion: row.last_version,
    editedAt: row.edited_at,
    editedBy: row.edited_by,
  };
}

/** A rule as a list shows it. */
export interface ListedRule<T> {
  readonly id: string;
  readonly name: string;
  /** Its draft. */
  readonly content: T;
  readonly stage: Stage;
}

/** Of a kind, by name; those in some states, where that is said. */
export async function listRules<T>(
  store: Queries,
  kind: RuleKind<T>,
  states?: readonly Stage['state'][],
): Promise<readonly ListedRule<T>[]> {
  const rows = await store.all(
    z.object({ id: z.string(), name: z.string(), content: Content, shape: z.number(), stage: StageColumn }),
    `SELECT id, name, content, shape, stage FROM rule WHERE kind = ?${states ? ' AND state IN (?)' : ''} ORDER BY name, id`,
    [kind.object, ...(states ? [states] : [])],
  );
  return rows.map(({ shape, content, ...rest }) => ({
    ...rest,
    content: upgraded(kind, content, shape) as T,
  }));
}

/** Adds a rule as a draft of revision 1. Throws the database's error where its key is taken. */
export async function insertRule<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  key: Key,
  content: T,
  by: number | null,
): Promise<void> {
  const within = withinColumns(await kind.within?.(tx, key));
  await tx.run(
    'INSERT INTO rule (kind, id, name, content, shape, revision, stage, edited_by, edited_at, authors, within_object, within_id) VALUES (?, ?, ?, ?, ?, 1, ?, ?, ?, ?, ?, ?)',
    [
      kind.object,
      String(key),
      (await kind.name(tx, key, content)).slice(0, 200),
      JSON.stringify(content),
      shapeOf(kind),
      JSON.stringify({ state: 'draft' } satisfies Stage),
      by,
      toDatetime(now),
      JSON.stringify(by === null ? [] : [by]),
      within.within_object,
      within.within_id,
    ],
  );
  await keepReferences(tx, kind, key, content);
}

/** Removes a rule with its versions. */
export async function removeRule(tx: Queries, kind: AnyKind, key: Key): Promise<void> {
  await tx.run('DELETE FROM rule WHERE kind = ? AND id = ?', [kind.object, String(key)]);
}

/** Throws a RefusedError (409) where somebody saved since `revision`. */
export function refuseStale(rule: Rule<unknown>, revision: number, object: string): void {
  if (rule.revision !== revision)
    throw new RefusedError(
      `${rule.editedBy ?? 'Someone'} changed this ${object} a moment ago. Look at it again first.`,
      [],
      409,
    );
}

/** Adds a rule as a draft, of a kind whose rules are numbered from 1; its number. Whoever adds one meanwhile waits. */
export async function addNumberedRule<T extends { readonly name: string }>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  by: number | null,
  content: T,
): Promise<string> {
  const last = await tx.one(
    z.object({ n: z.number() }),
    'SELECT COALESCE(MAX(CAST(id AS UNSIGNED)), 0) AS n FROM rule WHERE kind = ? FOR UPDATE',
    [kind.object],
  );
  const id = String((last?.n ?? 0) + 1);
  await insertRule(tx, now, kind, id, content, by);
  await record(tx, now, {
    actor: by ?? 'system',
    action: `${kind.object.replaceAll(' ', '-')}.add`,
    object: kind.object,
    objectId: id,
    detail: { name: content.name },
  });
  return id;
}
