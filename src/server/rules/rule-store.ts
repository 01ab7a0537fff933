import { z } from 'zod';
import { change, inWords, merge, same, type Json } from '../../core/rules/change.ts';
import { move, type Act, type Stage } from '../../core/rules/rule.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { countMove } from './rule-counts.ts';
import type { Key, RuleKind } from './rule-kind.ts';
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

/** What the second of two editors is told. */
export interface EditConflict<T> {
  readonly revision: number;
  readonly editedBy: string | null;
  readonly theirs: T;
  readonly merged: Json;
  /** Places both changed, in words. */
  readonly collisions: readonly string[];
  /** What the other changed, in words. */
  readonly theirChanges: readonly string[];
}

export interface ListedVersion {
  readonly version: number;
  readonly madeAt: string;
  readonly madeBy: string | null;
  /** What it changed in the one before, in words. */
  readonly changes: readonly string[];
}

export async function readRule<T>(
  store: Queries,
  kind: RuleKind<T>,
  key: Key,
  lock = false,
): Promise<Rule<T>> {
  const Row = z.object({
    content: JsonColumn(z.custom<T>((v) => typeof v === 'object' && v !== null)),
    revision: z.number(),
    stage: StageColumn,
    last_version: z.number(),
    edited_at: Instant,
    edited_by: z.string().nullable(),
  });
  const row = await store.one(
    Row,
    `SELECT r.content, r.revision, r.stage, r.last_version, r.edited_at, a.name AS edited_by FROM ${kind.table} r LEFT JOIN account a ON a.id = r.edited_by WHERE r.${kind.key} = ?${lock ? ' FOR UPDATE' : ''}`,
    [key],
  );
  if (!row) throw notFound(kind.object);
  return {
    key,
    content: row.content,
    revision: row.revision,
    stage: row.stage,
    lastVersion: row.last_version,
    editedAt: row.edited_at,
    editedBy: row.edited_by,
  };
}

export async function readRuleVersion<T>(
  store: Queries,
  kind: RuleKind<T>,
  key: Key,
  version: number,
): Promise<T> {
  const row = await store.one(
    z.object({ content: JsonColumn(kind.content) }),
    `SELECT content FROM ${kind.versionTable} WHERE ${kind.versionKey} = ? AND version = ?`,
    [key, version],
  );
  if (!row) throw notFound(`version of the ${kind.object}`);
  return row.content;
}

/** What the draft changes in the newest version, in words; empty when nothing, or where there is no version. */
export async function draftChanges<T>(
  store: Queries,
  kind: RuleKind<T>,
  rule: Rule<T>,
): Promise<readonly string[]> {
  if (rule.lastVersion === 0) return [];
  const newest = await readRuleVersion(store, kind, rule.key, rule.lastVersion);
  return inWords(change(newest as Json, rule.content as Json), await kind.vocabulary(store));
}

/**
 * Saves the draft if nobody saved since `revision`. Otherwise throws a RefusedError (409) whose detail is an
 * EditConflict: both versions, the merge, and where they collide. `base` is what the editor began from.
 */
export async function saveRuleDraft<T>(
  ctx: Context,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  edit: { readonly revision: number; readonly base: T; readonly content: T },
): Promise<{ revision: number }> {
  return ctx.store.transaction(async (tx) => {
    const rule = await readRule(tx, kind, key, true);
    const vocabulary = await kind.vocabulary(tx);
    const [base, content] = [edit.base as Json, edit.content as Json];
    const saved = rule.content as Json;
    // What was sent twice is no conflict.
    if (rule.revision !== edit.revision && !same(saved, base) && !same(saved, content)) {
      const merged = merge(base, content, rule.content as Json);
      const detail: EditConflict<T> = {
        revision: rule.revision,
        editedBy: rule.editedBy,
        theirs: rule.content,
        merged: merged.value,
        collisions: merged.conflicts.map((c) => vocabulary.path?.(c.path) ?? c.path.join(', ')),
        theirChanges: inWords(change(base, rule.content as Json), vocabulary),
      };
      throw new RefusedError(
        `${rule.editedBy ?? 'Someone'} saved this ${kind.object} while you were editing.`,
        [],
        409,
        detail,
      );
    }
    return saveLocked(tx, ctx.now(), kind, accountId, rule, edit.content);
  });
}

/** Saves the draft of a rule that is locked, with what changed in the ledger; nothing where nothing did. */
async function saveLocked<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  rule: Rule<T>,
  content: T,
): Promise<{ revision: number }> {
  const difference = change(rule.content as Json, content as Json);
  if (difference.length === 0) return { revision: rule.revision };
  const revision = rule.revision + 1;
  const told = difference.map((d) => kind.redact?.(d) ?? d);
  await tx.run(
    `UPDATE ${kind.table} SET content = ?, revision = ?, edited_by = ?, edited_at = ? WHERE ${kind.key} = ?`,
    [JSON.stringify(content), revision, accountId, toDatetime(now), rule.key],
  );
  await record(tx, now, {
    actor: accountId,
    action: `${kind.object}.edit`,
    object: kind.object,
    objectId: rule.key,
    detail: {
      revision,
      words: inWords(told, await kind.vocabulary(tx)),
      change: told as unknown as Json,
    },
  });
  return { revision };
}

/**
 * Moves a rule to another state. Rehearsing and putting in force freeze the draft as a version; the draft must then be
 * whole. Throws a RefusedError that names what is missing, or (409) that someone edited since.
 */
export async function moveRule<T>(
  ctx: Context,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  act: Act['act'],
  revision: number,
): Promise<Stage> {
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const rule = await readRule(tx, kind, key, true);
    const freezes = act === 'rehearse' || act === 'put in force';
    if (freezes && rule.revision !== revision)
      throw new RefusedError(
        `${rule.editedBy ?? 'Someone'} changed this ${kind.object} a moment ago. Look at it again first.`,
        [],
        409,
      );
    const version = freezes ? await freeze(tx, now, kind, accountId, rule) : 0;
    if (freezes && stands(rule.stage, act, version)) return rule.stage;
    const result = move(rule.stage, freezes ? { act, version } : { act }, now.toISOString());
    if (!result.ok) throw new RefusedError(result.why, [], 409);
    await tx.run(
      `UPDATE ${kind.table} SET stage = ?, last_version = GREATEST(last_version, ?) WHERE ${kind.key} = ?`,
      [JSON.stringify(result.stage), version, key],
    );
    await countMove(tx, kind.object, rule.stage, result.stage);
    await kind.moved?.(tx, key, result.stage);
    await record(tx, now, {
      actor: accountId,
      action: `${kind.object}.${act.replaceAll(' ', '-')}`,
      object: kind.object,
      objectId: key,
      detail: { before: rule.stage as unknown as Json, after: result.stage as unknown as Json },
    });
    return result.stage;
  });
}

/** Whether this very version is in force, or rehearsed, already. */
function stands(stage: Stage, act: Act['act'], version: number): boolean {
  const state = act === 'put in force' ? 'in force' : 'rehearsing';
  return stage.state === state && stage.version === version;
}

/** The version of the draft as it stands: the newest if nothing changed since, else a new one. */
async function freeze<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  rule: Rule<T>,
): Promise<number> {
  const parsed = kind.content.safeParse(rule.content);
  if (!parsed.success)
    throw new RefusedError(
      `The ${kind.object} is not ready.`,
      parsed.error.issues.map((i) => ({ field: i.path.join('.'), message: i.message })),
    );
  const blocks = (await kind.blocks?.(tx, rule.key, parsed.data)) ?? [];
  if (blocks.length > 0) throw new RefusedError(`The ${kind.object} is not ready.`, blocks);
  if (
    rule.lastVersion > 0 &&
    same((await readRuleVersion(tx, kind, rule.key, rule.lastVersion)) as Json, parsed.data as Json)
  )
    return rule.lastVersion;
  const version = rule.lastVersion + 1;
  await insertRuleVersion(tx, now, kind, rule.key, version, parsed.data, accountId);
  return version;
}

export async function insertRuleVersion<T>(
  tx: Queries,
  at: Date,
  kind: RuleKind<T>,
  key: Key,
  version: number,
  content: T,
  by: number | null,
): Promise<void> {
  await tx.run(
    `INSERT INTO ${kind.versionTable} (${kind.versionKey}, version, content, made_by, made_at) VALUES (?, ?, ?, ?, ?)`,
    [key, version, JSON.stringify(content), by, toDatetime(at)],
  );
}

/**
 * Puts the content of an older version back into the draft; it can then be rehearsed or put in force as a new one. Throws
 * a RefusedError (409) where someone saved the draft since `revision`.
 */
export async function takeRuleBack<T>(
  ctx: Context,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  version: number,
  revision: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const rule = await readRule(tx, kind, key, true);
    if (rule.revision !== revision)
      throw new RefusedError(
        `${rule.editedBy ?? 'Someone'} changed this ${kind.object} a moment ago. Look at it again first.`,
        [],
        409,
      );
    const older = await readRuleVersion(tx, kind, key, version);
    await saveLocked(tx, ctx.now(), kind, accountId, rule, older);
  });
}

/** Newest first. */
export async function listRuleVersions<T>(
  store: Queries,
  kind: RuleKind<T>,
  key: Key,
): Promise<ListedVersion[]> {
  const rows = await store.all(
    z.object({
      version: z.number(),
      made_at: Instant,
      made_by: z.string().nullable(),
      content: JsonColumn(kind.content),
    }),
    `SELECT v.version, v.made_at, a.name AS made_by, v.content FROM ${kind.versionTable} v LEFT JOIN account a ON a.id = v.made_by WHERE v.${kind.versionKey} = ? ORDER BY v.version DESC LIMIT 100`,
    [key],
  );
  const vocabulary = await kind.vocabulary(store);
  return rows.map((row, i) => {
    const before = rows[i + 1];
    return {
      version: row.version,
      madeAt: row.made_at,
      madeBy: row.made_by,
      changes: before ? inWords(change(before.content as Json, row.content as Json), vocabulary) : [],
    };
  });
}
