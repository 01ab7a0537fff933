import { same, type Json } from '../../core/rules/change.ts';
import { move, type Act, type Stage } from '../../core/rules/rule.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import type { Queries } from '../store/pool.ts';
import { isAgreed, neededFor, overtakeApproval } from './approval-store.ts';
import { countMove } from './rule-counts.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { readRule, refuseStale, type Rule } from './rule-store.ts';
import { authorsSince, insertRuleVersion, readRuleVersion } from './rule-versions.ts';

/**
 * Moves a rule to another state. Rehearsing and putting in force freeze the draft as a version; the draft must then be
 * whole. Throws a RefusedError that names what is missing, or (409) that someone edited since, or that others have to
 * agree first.
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
  if (act !== 'rehearse' && act !== 'put in force')
    return moveLocked(tx, now, kind, accountId, rule, { act });
  refuseStale(rule, revision, kind.object);
  const version = await freezeRule(tx, now, kind, accountId, rule);
  if (act === 'put in force' && !stands(rule.stage, act, version)) {
    const needed = await neededFor(tx, kind.object);
    if (needed > 0 && !(await isAgreed(tx, kind.object, key, version)))
      throw new RefusedError(
        `${needed === 1 ? 'Somebody else has' : `${needed} others have`} to agree before a ${kind.object} is in force.`,
        [{ field: 'act', message: 'Ask for it first.' }],
        409,
      );
  }
  return moveLocked(tx, now, kind, accountId, rule, { act, version });
}

/** Throws a RefusedError for what keeps the draft as it stands from being put in force, besides what it lacks. */
export async function refuseForce<T>(ctx: Context, kind: RuleKind<T>, key: Key): Promise<void> {
  if (kind.beforeForce) await kind.beforeForce(ctx, key, (await readRule(ctx.store, kind, key)).content);
}

/** Moves a rule that is locked; one that stands there already stays as it is. */
export async function moveLocked<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  rule: Rule<T>,
  act: Act,
): Promise<Stage> {
  if ('version' in act && stands(rule.stage, act.act, act.version)) return rule.stage;
  await kind.mayMove?.(tx, rule.key, act.act);
  const result = move(rule.stage, act, now.toISOString());
  if (!result.ok) throw new RefusedError(result.why, [], 409);
  await tx.run('UPDATE rule SET stage = ? WHERE kind = ? AND id = ?', [
    JSON.stringify(result.stage),
    kind.object,
    String(rule.key),
  ]);
  await countMove(tx, kind.object, rule.stage, result.stage);
  await kind.moved?.(tx, rule.key, result.stage);
  await record(tx, now, {
    actor: accountId,
    action: `${kind.object}.${act.act.replaceAll(' ', '-')}`,
    object: kind.object,
    objectId: rule.key,
    detail: { before: rule.stage as unknown as Json, after: result.stage as unknown as Json },
  });
  await overtakeApproval(tx, now, kind.object, rule.key, act);
  return result.stage;
}

/** Whether this very version is in force, or rehearsed, already. */
function stands(stage: Stage, act: 'rehearse' | 'put in force', version: number): boolean {
  const state = act === 'put in force' ? 'in force' : 'rehearsing';
  return stage.state === state && stage.version === version;
}

/**
 * The version of a locked rule's draft as it stands: the newest if nothing changed since, else a new one. Throws a
 * RefusedError that names what the draft still lacks.
 */
export async function freezeRule<T>(
  tx: Queries,
  now: Date,
  kind: RuleKind<T>,
  accountId: number,
  rule: Rule<T>,
): Promise<number> {
  const content = await wholeContent(tx, kind, rule.key, rule.content);
  if (
    rule.lastVersion > 0 &&
    same((await readRuleVersion(tx, kind, rule.key, rule.lastVersion)) as Json, content as Json)
  )
    return rule.lastVersion;
  const version = rule.lastVersion + 1;
  const authors = await authorsSince(tx, kind.object, rule);
  await insertRuleVersion(tx, now, kind, rule.key, version, content, accountId, authors);
  await tx.run("UPDATE rule SET last_version = ?, authors = '[]' WHERE kind = ? AND id = ?", [
    version,
    kind.object,
    String(rule.key),
  ]);
  return version;
}

/** A content that may be rehearsed or in force now. Throws a RefusedError that names what keeps it. */
export async function wholeContent<T>(
  tx: Queries,
  kind: RuleKind<T>,
  key: Key,
  content: unknown,
): Promise<T> {
  const parsed = kind.content.safeParse(content);
  if (!parsed.success)
    throw new RefusedError(
      `The ${kind.object} is not ready.`,
      parsed.error.issues.map((i) => ({ field: i.path.join('.'), message: i.message })),
    );
  const blocks = (await kind.blocks?.(tx, key, parsed.data)) ?? [];
  if (blocks.length > 0) throw new RefusedError(`The ${kind.object} is not ready.`, blocks);
  return parsed.data;
}
