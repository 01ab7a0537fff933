import { z } from 'zod';
import { change, inWords, same, type Json } from '../../core/rules/change.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { refuseConflict, type Edit } from './edit-conflict.ts';
import { shapeOf } from './rule-content.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { keepReferences } from './rule-references.ts';
import { readRule, refuseStale, type Rule } from './rule-store.ts';
import { readRuleVersion } from './rule-versions.ts';
import { withoutEdit } from './undo.ts';

/** Saves the draft; see `refuseConflict` for what it throws where somebody else did meanwhile. */
export async function saveRuleDraft<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  edit: Edit<T>,
): Promise<{ revision: number }> {
  const rule = await readRule(tx, kind, key, true);
  refuseConflict(kind.object, rule, edit, await kind.vocabulary(tx));
  return saveLocked(tx, now, kind, accountId, rule, edit.content);
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
  refuseStale(rule, revision, kind.object);
  const older = await readRuleVersion(tx, kind, key, version);
  await kind.check?.({ store: tx, by: accountId, key, saved: rule.content, content: older });
  await saveLocked(tx, now, kind, accountId, rule, older);
}

/** Saves what somebody sent as the draft. Throws a ZodError or RefusedError for what will not do. */
export async function editRule<T>(
  ctx: Context,
  kind: RuleKind<T>,
  by: number,
  key: Key,
  edit: Edit<unknown>,
): Promise<{ revision: number }> {
  const shape = kind.draft ?? kind.content;
  const { base, content } = z.object({ base: shape, content: shape }).parse(edit);
  const { content: saved } = await readRule(ctx.store, kind, key);
  await kind.check?.({ store: ctx.store, by, key, saved, content });
  return ctx.store.transaction((tx) =>
    saveRuleDraft(tx, ctx.now(), kind, by, key, { revision: edit.revision, base, content }),
  );
}

/** Takes the edit that made `revision` out of the draft; see `withoutEdit` for what it throws. */
export async function undoRuleEdit<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  key: Key,
  revision: number,
): Promise<{ revision: number }> {
  const rule = await readRule(tx, kind, key, true);
  const content = await withoutEdit(
    tx,
    { object: kind.object, key, revision },
    rule.content as Json,
    await kind.vocabulary(tx),
  );
  const { content: saved } = rule;
  await kind.check?.({ store: tx, by: accountId, key, saved, content: content as T });
  return saveLocked(tx, now, kind, accountId, rule, content as T);
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
    `UPDATE rule SET name = ?, content = ?, shape = ?, revision = ?, edited_by = ?, edited_at = ?,
       authors = IF(JSON_CONTAINS(authors, ?), authors, JSON_ARRAY_APPEND(authors, '$', CAST(? AS INT)))
     WHERE kind = ? AND id = ?`,
    [
      (await kind.name(tx, rule.key, content)).slice(0, 200),
      JSON.stringify(content),
      shapeOf(kind),
      revision,
      accountId,
      toDatetime(now),
      String(accountId),
      accountId,
      kind.object,
      String(rule.key),
    ],
  );
  await keepReferences(tx, kind, rule.key, content);
  const redacted = !same(told as unknown as Json, difference as unknown as Json);
  await record(tx, now, {
    actor: accountId,
    action: `${kind.object}.edit`,
    object: kind.object,
    objectId: rule.key,
    detail: {
      revision,
      words: inWords(told, await kind.vocabulary(tx)),
      change: told as unknown as Json,
      ...(redacted ? { redacted } : {}),
    },
  });
  return { revision };
}
