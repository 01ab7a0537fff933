import { z } from 'zod';
import type { Action } from '../../core/accounts/action.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import { ROLES } from '../../core/accounts/role.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { putOnToday, takeOffToday } from '../desk/today.ts';
import { record } from '../evidence/ledger.ts';
import { queueMail } from '../outbox/outbox.ts';
import { JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { ASKED_TO_AGREE, REFUSED_TO_AGREE } from './approval-letters.ts';
import { approvalItem, endApproval, latestApproval, neededFor, type Approval } from './approval-store.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { freezeRule, moveLocked, wholeContent } from './rule-moves.ts';
import { readRule, refuseStale } from './rule-store.ts';
import { authorsOf, readRuleVersion } from './rule-versions.ts';

/** Somebody who could be asked to agree. */
export interface Candidate {
  readonly id: number;
  readonly name: string;
  readonly title: string;
  readonly role: Account['role'];
  readonly email: string;
  /** Why they cannot be asked; '' where they can. */
  readonly why: string;
}

/** Who may put rules of a kind in force, and for each why they cannot agree to what these wrote. */
export async function candidates(
  store: Queries,
  force: Action,
  authors: readonly number[],
  asker: number,
): Promise<readonly Candidate[]> {
  const people = await store.all(
    z.object({
      id: z.number(),
      name: z.string(),
      title: z.string(),
      role: z.enum(ROLES),
      email: z.string(),
    }),
    'SELECT id, name, title, role, email FROM account WHERE disabled_at IS NULL AND role IN (?) ORDER BY name, id LIMIT 2000',
    [ROLES.filter((role) => may({ role }, force))],
  );
  return people.map((p) => ({
    ...p,
    why: p.id === asker ? 'asks for it' : authors.includes(p.id) ? 'wrote part of it' : '',
  }));
}

/** The rule that somebody may be asked about, as its area tells of it. */
export interface Asked {
  readonly kind: RuleKind<unknown>;
  readonly force: Action;
  readonly key: Key;
}

/** Those whose edits a version of the draft as it stands would hold. */
async function authorsOfDraft(store: Queries, { kind, key }: Asked): Promise<readonly number[]> {
  const row = await store.one(
    z.object({ authors: JsonColumn(z.array(z.number())), last_version: z.number() }),
    'SELECT authors, last_version FROM rule WHERE kind = ? AND id = ?',
    [kind.object, String(key)],
  );
  if (!row) return [];
  return row.authors.length > 0 ? row.authors : authorsOf(store, kind.object, key, row.last_version);
}

/** Who could be asked to agree to the draft as it stands. */
export async function whoCouldAgree(store: Queries, of: Asked, asker: number): Promise<readonly Candidate[]> {
  return candidates(store, of.force, await authorsOfDraft(store, of), asker);
}

export interface Asking {
  readonly revision: number;
  /** Accounts that are asked. */
  readonly people: readonly number[];
  /** Why it is to be in force. */
  readonly reason: string;
}

/**
 * Freezes the draft and asks people to agree to it; enough of them put it in force. What was asked for before is
 * overtaken. Throws a RefusedError that names what is missing, or (409) that someone edited since or nobody has to agree.
 */
export async function askToAgree(ctx: Context, by: Account, of: Asked, asking: Asking): Promise<Approval> {
  const { kind, key } = of;
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const rule = await readRule(tx, kind, key, true);
    refuseStale(rule, asking.revision, kind.object);
    const needed = await neededFor(tx, kind.object);
    if (needed === 0)
      throw new RefusedError(
        'Nobody else has to agree.',
        [{ field: 'act', message: 'Put it in force.' }],
        409,
      );
    const version = await freezeRule(tx, now, kind, by.id, rule);
    if (rule.stage.state === 'in force' && rule.stage.version === version)
      throw new RefusedError('This is in force already.', [], 409);
    const authors = await authorsOf(tx, kind.object, key, version);
    const people = pick(await candidates(tx, of.force, authors, by.id), asking.people, needed);
    const before = await latestApproval(tx, kind.object, key, true);
    if (before?.state === 'open') await endApproval(tx, now, before, 'overtaken');
    const { id } = await tx.run(
      'INSERT INTO approval (kind, rule_id, version, needed, asked_by, asked_at, reason) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [kind.object, String(key), version, needed, by.id, toDatetime(now), asking.reason],
    );
    await tx.run('INSERT INTO approval_person (approval_id, account_id) VALUES ?', [
      people.map((p) => [id, p.id]),
    ]);
    const name = await kind.name(tx, key, rule.content);
    const link = await kind.place(tx, key);
    const within = await kind.within?.(tx, key);
    await putOnToday(
      tx,
      ...people.map((p) => ({
        kind: 'approval' as const,
        key: approvalItem(String(id), p.id),
        action: of.force,
        words: `${by.name} asks you to agree to version ${version} of the ${kind.object} ${name}`,
        detail: asking.reason,
        link,
        since: now,
        assignedTo: p.id,
        ...(within ? { within } : {}),
      })),
    );
    for (const p of people)
      await queueMail(tx, ctx, {
        key: `approval ${id} ${p.id}`,
        about: { object: kind.object, id: key },
        to: p.email,
        template: ASKED_TO_AGREE,
        language: 'en',
        values: {
          name: p.name,
          asker: by.name,
          what: `version ${version} of the ${kind.object} “${name}”`,
          reason: asking.reason,
          link: ctx.settings.WEB_ORIGIN + link,
        },
      });
    await record(tx, now, {
      actor: by.id,
      action: `${kind.object}.ask`,
      object: kind.object,
      objectId: key,
      detail: {
        approval: String(id),
        version,
        needed,
        asked: people.map((p) => p.id),
        reason: asking.reason,
      },
    });
    return (await latestApproval(tx, kind.object, key)) as Approval;
  });
}

/** Those that were picked; throws a RefusedError that names who cannot be asked, or that there are too few. */
function pick(all: readonly Candidate[], ids: readonly number[], needed: number): readonly Candidate[] {
  const picked = [...new Set(ids)].map((id) => all.find((p) => p.id === id));
  const cannot = picked.find((p) => !p || p.why !== '');
  const fault =
    cannot !== undefined
      ? `${cannot.name} ${cannot.why}.`
      : picked.includes(undefined)
        ? 'One of them may not put it in force.'
        : picked.length < needed
          ? `Ask ${needed === 1 ? 'somebody' : `${needed} people`} at least.`
          : '';
  if (fault !== '') throw new RefusedError('They cannot be asked so.', [{ field: 'people', message: fault }]);
  return picked as readonly Candidate[];
}

export interface Saying {
  readonly approval: string;
  readonly agrees: boolean;
  readonly reason: string;
}

/**
 * Says yes or no to what one was asked. The last yes that is needed puts the version in force in the same transaction;
 * one no ends it, and is told to whoever asked. Throws a RefusedError (404, 403, 409) where it is not asked any more, not
 * of them, or answered.
 */
export async function sayAgreed(ctx: Context, by: Account, of: Asked, saying: Saying): Promise<Approval> {
  const { kind, key } = of;
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const rule = await readRule(tx, kind, key, true);
    const approval = await openApproval(tx, of, saying.approval);
    const mine = approval.people.find((p) => p.id === by.id);
    if (!mine) throw new RefusedError('You were not asked.', [], 403);
    if (mine.agrees !== null)
      throw new RefusedError(`You ${mine.agrees ? 'agreed' : 'refused'} already.`, [], 409);
    await tx.run(
      'UPDATE approval_person SET agrees = ?, reason = ?, at = ? WHERE approval_id = ? AND account_id = ?',
      [saying.agrees, saying.reason, toDatetime(now), approval.id, by.id],
    );
    await record(tx, now, {
      actor: by.id,
      action: `${kind.object}.${saying.agrees ? 'agree' : 'refuse'}`,
      object: kind.object,
      objectId: key,
      detail: { approval: approval.id, version: approval.version, reason: saying.reason },
    });
    const agreed = approval.people.filter((p) => p.agrees).length + (saying.agrees ? 1 : 0);
    if (!saying.agrees) {
      await endApproval(tx, now, approval, 'refused');
      await tellRefused(tx, ctx, of, approval, by, saying.reason);
    } else if (agreed >= approval.needed) {
      // What was whole when it was asked for may not be so now.
      await wholeContent(tx, kind, key, await readRuleVersion(tx, kind, key, approval.version));
      await endApproval(tx, now, approval, 'agreed');
      await moveLocked(tx, now, kind, by.id, rule, { act: 'put in force', version: approval.version });
    } else await takeOffToday(tx, 'approval', approvalItem(approval.id, by.id));
    return (await latestApproval(tx, kind.object, key)) as Approval;
  });
}

async function openApproval(tx: Queries, { kind, key }: Asked, id: string): Promise<Approval> {
  const approval = await latestApproval(tx, kind.object, key, true);
  if (!approval) throw notFound('approval');
  if (approval.id !== id || approval.state !== 'open')
    throw new RefusedError(
      approval.id === id
        ? `Nothing is asked any more: it was ${approval.state}.`
        : 'Something newer is asked by now. Look at it again first.',
      [],
      409,
    );
  return approval;
}

async function tellRefused(
  tx: Queries,
  ctx: Context,
  { kind, key, force }: Asked,
  approval: Approval,
  by: Account,
  reason: string,
): Promise<void> {
  const asker = await tx.one(
    z.object({ name: z.string(), email: z.string() }),
    'SELECT name, email FROM account WHERE id = ? AND disabled_at IS NULL',
    [approval.askedBy.id],
  );
  if (!asker) return;
  const name = await kind.name(tx, key, (await readRule(tx, kind, key)).content);
  const link = await kind.place(tx, key);
  const within = await kind.within?.(tx, key);
  await putOnToday(tx, {
    kind: 'approval refused',
    key: approval.id,
    action: force,
    words: `${by.name} does not agree to version ${approval.version} of the ${kind.object} ${name}`,
    detail: reason,
    link,
    since: ctx.now(),
    assignedTo: approval.askedBy.id,
    dismissable: true,
    ...(within ? { within } : {}),
  });
  await queueMail(tx, ctx, {
    key: `approval refused ${approval.id}`,
    about: { object: kind.object, id: key },
    to: asker.email,
    template: REFUSED_TO_AGREE,
    language: 'en',
    values: {
      name: asker.name,
      who: by.name,
      what: `version ${approval.version} of the ${kind.object} “${name}”`,
      reason,
      link: ctx.settings.WEB_ORIGIN + link,
    },
  });
}

/** Takes back what was asked for. */
export async function withdrawApproval(ctx: Context, by: Account, of: Asked, id: string): Promise<Approval> {
  const { kind, key } = of;
  return ctx.store.transaction(async (tx) => {
    await readRule(tx, kind, key, true);
    const approval = await openApproval(tx, of, id);
    await endApproval(tx, ctx.now(), approval, 'withdrawn');
    await record(tx, ctx.now(), {
      actor: by.id,
      action: `${kind.object}.withdraw`,
      object: kind.object,
      objectId: key,
      detail: { approval: approval.id, version: approval.version },
    });
    return (await latestApproval(tx, kind.object, key)) as Approval;
  });
}
