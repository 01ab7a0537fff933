import { z } from 'zod';
import { change, inWords, merge, same, type Json } from '../../core/rules/change.ts';
import { move, type Act, type Stage } from '../../core/rules/rule.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
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

/** Of a kind, what does not depend on its contents. */
type AnyKind = Pick<RuleKind<unknown>, 'object' | 'upgrades'>;

/** The shape in which a kind writes contents now. */
function shapeOf(kind: AnyKind): number {
  return 1 + (kind.upgrades?.length ?? 0);
}

/** A content that was written in an older shape, as it is written now. */
function upgraded(kind: AnyKind, content: Json, shape: number): Json {
  return (kind.upgrades ?? []).slice(shape - 1).reduce((c, step) => step(c), content);
}

const Content = JsonColumn(z.json());

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

export async function readRuleVersion<T>(
  store: Queries,
  kind: RuleKind<T>,
  key: Key,
  version: number,
): Promise<T> {
  const row = await store.one(
    z.object({ content: Content, shape: z.number() }),
    'SELECT content, shape FROM rule_version WHERE kind = ? AND id = ? AND version = ?',
    [kind.object, String(key), version],
  );
  if (!row) throw notFound(`version of the ${kind.object}`);
  return kind.content.parse(upgraded(kind, row.content, row.shape));
}

/** The newest versions up to one, the newest first. */
export async function versionsUpTo<T>(
  store: Queries,
  kind: RuleKind<T>,
  key: Key,
  version: number,
  most: number,
): Promise<readonly { readonly version: number; readonly content: T }[]> {
  const rows = await store.all(
    z.object({ version: z.number(), content: Content, shape: z.number() }),
    'SELECT version, content, shape FROM rule_version WHERE kind = ? AND id = ? AND version <= ? ORDER BY version DESC LIMIT ?',
    [kind.object, String(key), version, most],
  );
  return rows.map((r) => ({
    version: r.version,
    content: kind.content.parse(upgraded(kind, r.content, r.shape)),
  }));
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
  await tx.run(
    'INSERT INTO rule (kind, id, name, content, shape, revision, stage, edited_by, edited_at) VALUES (?, ?, ?, ?, ?, 1, ?, ?, ?)',
    [
      kind.object,
      String(key),
      (await kind.name(tx, key, content)).slice(0, 200),
      JSON.stringify(content),
      shapeOf(kind),
      JSON.stringify({ state: 'draft' } satisfies Stage),
      by,
      toDatetime(now),
    ],
  );
}

/** Removes a rule with its versions. */
export async function removeRule(tx: Queries, kind: AnyKind, key: Key): Promise<void> {
  await tx.run('DELETE FROM rule WHERE kind = ? AND id = ?', [kind.object, String(key)]);
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
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  edit: { readonly revision: number; readonly base: T; readonly content: T },
): Promise<{ revision: number }> {
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
  return saveLocked(tx, now, kind, accountId, rule, edit.content);
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
    'UPDATE rule SET name = ?, content = ?, shape = ?, revision = ?, edited_by = ?, edited_at = ? WHERE kind = ? AND id = ?',
    [
      (await kind.name(tx, rule.key, content)).slice(0, 200),
      JSON.stringify(content),
      shapeOf(kind),
      revision,
      accountId,
      toDatetime(now),
      kind.object,
      String(rule.key),
    ],
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
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  act: Act['act'],
  revision: number,
): Promise<Stage> {
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
    'UPDATE rule SET stage = ?, last_version = GREATEST(last_version, ?) WHERE kind = ? AND id = ?',
    [JSON.stringify(result.stage), version, kind.object, String(key)],
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
    'INSERT INTO rule_version (kind, id, version, content, shape, made_by, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [kind.object, String(key), version, JSON.stringify(content), shapeOf(kind), by, toDatetime(at)],
  );
}

/**
 * Puts the content of an older version back into the draft; it can then be rehearsed or put in force as a new one. Throws
 * a RefusedError (409) where someone saved the draft since `revision`.
 */
export async function takeRuleBack<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  version: number,
  revision: number,
): Promise<void> {
  const rule = await readRule(tx, kind, key, true);
  if (rule.revision !== revision)
    throw new RefusedError(
      `${rule.editedBy ?? 'Someone'} changed this ${kind.object} a moment ago. Look at it again first.`,
      [],
      409,
    );
  const older = await readRuleVersion(tx, kind, key, version);
  await saveLocked(tx, now, kind, accountId, rule, older);
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
      content: Content,
      shape: z.number(),
    }),
    'SELECT v.version, v.made_at, a.name AS made_by, v.content, v.shape FROM rule_version v LEFT JOIN account a ON a.id = v.made_by WHERE v.kind = ? AND v.id = ? ORDER BY v.version DESC LIMIT 100',
    [kind.object, String(key)],
  );
  const contents = rows.map((r) => upgraded(kind, r.content, r.shape));
  const vocabulary = await kind.vocabulary(store);
  return rows.map((row, i) => {
    const before = contents[i + 1];
    return {
      version: row.version,
      madeAt: row.made_at,
      madeBy: row.made_by,
      changes: before === undefined ? [] : inWords(change(before, contents[i] as Json), vocabulary),
    };
  });
}
