import { z } from 'zod';
import { change, inWords, type Json } from '../../core/rules/change.ts';
import { versionInForce } from '../../core/rules/rule.ts';
import { notFound } from '../../core/refusal.ts';
import { Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { Content, shapeOf, upgraded } from './rule-content.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import type { Rule } from './rule-store.ts';

export interface ListedVersion {
  readonly version: number;
  readonly madeAt: string;
  readonly madeBy: string | null;
  /** What it changed in the one before, in words. */
  readonly changes: readonly string[];
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

export async function insertRuleVersion<T>(
  tx: Queries,
  at: Date,
  kind: RuleKind<T>,
  key: Key,
  version: number,
  content: T,
  by: number | null,
  /** Whose edits it holds. */
  authors: readonly number[] = by === null ? [] : [by],
): Promise<void> {
  await tx.run(
    'INSERT INTO rule_version (kind, id, version, content, shape, made_by, made_at, authors) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
    [
      kind.object,
      String(key),
      version,
      JSON.stringify(content),
      shapeOf(kind),
      by,
      toDatetime(at),
      JSON.stringify(authors),
    ],
  );
}

/**
 * Accounts whose edits a version of the draft as it stands would hold that the version in force does not: also of versions
 * that were frozen between and never took effect.
 */
export async function authorsSince(
  store: Queries,
  object: string,
  rule: Pick<Rule<unknown>, 'key' | 'stage' | 'lastVersion'>,
): Promise<readonly number[]> {
  const row = await store.one(
    z.object({ authors: Authors }),
    'SELECT authors FROM rule WHERE kind = ? AND id = ?',
    [object, String(rule.key)],
  );
  const frozen =
    versionInForce(rule.stage) === rule.lastVersion
      ? []
      : await authorsOf(store, object, rule.key, rule.lastVersion);
  return [...new Set([...frozen, ...(row?.authors ?? [])])];
}

const Authors = JsonColumn(z.array(z.number()));

/** Accounts whose edits a version holds, back to the one that was in force when it was made. */
export async function authorsOf(
  store: Queries,
  object: string,
  key: Key,
  version: number,
): Promise<readonly number[]> {
  const row = await store.one(
    z.object({ authors: Authors }),
    'SELECT authors FROM rule_version WHERE kind = ? AND id = ? AND version = ?',
    [object, String(key), version],
  );
  return row?.authors ?? [];
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
