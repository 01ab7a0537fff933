import type { Action } from '../../core/accounts/action.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import { roleWords } from '../../core/accounts/roles/held-role.ts';
import { inScope } from '../../core/accounts/scope.ts';
import type { LetterTemplate } from '../../core/outbox/letter.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { ACCOUNT_SQL, AccountRow, findAccount } from '../accounts/account.ts';
import type { Context } from '../context.ts';
import { putOnToday, takeOffToday } from '../desk/today.ts';
import { record } from '../evidence/ledger.ts';
import { queueMail } from '../outbox/outbox.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { ASKED_TO_AGREE, REFUSED_TO_AGREE } from './approval-letters.ts';
import { approvalItem, endApproval, latestApproval, neededFor, type Approval } from './approval-store.ts';
import type { Key, RuleKind } from './rule-kind.ts';
import { freezeRule, moveLocked, refuseForce, wholeContent } from './rule-moves.ts';
import { readRule, refuseStale } from './rule-store.ts';
import { authorsOf, authorsSince, readRuleVersion } from './rule-versions.ts';

/** Somebody who could be asked to agree. */
export interface Candidate {
  readonly id: number;
  readonly name: string;
  readonly title: string;
  /** The names of theirs. */
  readonly role: string;
  readonly email: string;
  /** Why they cannot be asked; '' where they can. */
  readonly why: string;
}

/** The rule that somebody may be asked about, as its area tells of it. */
export interface Asked {
  readonly kind: RuleKind<unknown>;
  readonly force: Action;
  /** Kinds of what accounts can be kept to, of which it is about all. */
  readonly wholeOf?: readonly string[];
  readonly key: Key;
}

/** Who may put rules of the kind in force, and for each why they cannot agree to what these wrote. */
async function candidates(
  store: Queries,
  { kind, force, wholeOf = [], key }: Asked,
  authors: readonly number[],
  asker: number,
): Promise<readonly Candidate[]> {
  const within = (await kind.within?.(store, key)) ?? [];
  const people = await store.all(
    AccountRow,
    `SELECT ${ACCOUNT_SQL} FROM account a WHERE a.disabled_at IS NULL ORDER BY a.name, a.id LIMIT 2000`,
  );
  const able = people.filter((p) => may(p, force));
  return able.map(({ scope, roles, ...p }) => ({
    ...p,
    role: roleWords({ roles }),
    why:
      p.id === asker
        ? 'asks for it'
        : authors.includes(p.id)
          ? 'wrote part of it'
          : within.every((w) => inScope({ scope }, w.kind, w.id)) &&
              wholeOf.every((of) => scope?.[of] === undefined)
            ? ''
            : 'does not look after it',
  }));
}

/** Who could be asked to agree to the draft as it stands. */
export async function whoCouldAgree(store: Queries, of: Asked, asker: number): Promise<readonly Candidate[]> {
  const rule = await readRule(store, of.kind, of.key);
  return candidates(store, of, await authorsSince(store, of.kind.object, rule), asker);
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
  await refuseForce(ctx, kind, key);
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
    const people = pick(await candidates(tx, of, authors, by.id), asking.people, needed);
    const before = await latestApproval(tx, kind.object, key, true);
    if (before?.state === 'open') await endApproval(tx, now, before, 'overtaken');
    const { id } = await tx.run(
      'INSERT INTO approval (kind, rule_id, version, needed, asked_by, asked_at, reason) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [kind.object, String(key), version, needed, by.id, toDatetime(now), asking.reason],
    );
    await tx.run('INSERT INTO approval_person (approval_id, account_id) VALUES ?', [
      people.map((p) => [id, p.id]),
    ]);
    await tell(tx, ctx, of, people, {
      kind: 'approval',
      key: (p) => approvalItem(String(id), p.id),
      words: (what) => `${by.name} asks you to agree to ${what}`,
      version,
      reason: asking.reason,
      template: ASKED_TO_AGREE,
      by,
      dismissable: false,
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

interface Told {
  readonly kind: 'approval' | 'approval refused';
  /** Of its item on Today. */
  readonly key: (to: { readonly id: number }) => string;
  readonly words: (what: string) => string;
  readonly version: number;
  readonly reason: string;
  readonly template: LetterTemplate;
  readonly by: Account;
  readonly dismissable: boolean;
}

/** Tells people about a version of a rule: on Today, each their own item, and by mail. */
async function tell(
  tx: Queries,
  ctx: Context,
  { kind, key, force }: Asked,
  people: readonly { readonly id: number; readonly name: string; readonly email: string }[],
  told: Told,
): Promise<void> {
  const rule = await readRule(tx, kind, key);
  const name = await kind.name(tx, key, rule.content);
  const link = await kind.place(tx, key);
  const within = await kind.within?.(tx, key);
  const what = `version ${told.version} of the ${kind.object} ${name}`;
  for (const to of people) {
    await putOnToday(tx, {
      kind: told.kind,
      key: told.key(to),
      action: force,
      words: told.words(what),
      detail: told.reason,
      link,
      since: ctx.now(),
      assignedTo: to.id,
      dismissable: told.dismissable,
      ...(within ? { within } : {}),
    });
    await queueMail(tx, ctx, {
      key: `${told.kind} ${told.key(to)}`,
      about: { object: kind.object, id: key },
      to: to.email,
      template: told.template,
      values: {
        name: to.name,
        by: told.by.name,
        what,
        reason: told.reason,
        link: ctx.settings.WEB_ORIGIN + link,
      },
    });
  }
}

/** Whoever asked is told that somebody does not agree, as long as they have an account. */
async function tellRefused(
  tx: Queries,
  ctx: Context,
  of: Asked,
  approval: Approval,
  by: Account,
  reason: string,
): Promise<void> {
  const { account, disabledAt } = await findAccount(tx, approval.askedBy.id);
  if (disabledAt !== null) return;
  await tell(tx, ctx, of, [account], {
    kind: 'approval refused',
    key: () => approval.id,
    words: (what) => `${by.name} does not agree to ${what}`,
    version: approval.version,
    reason,
    template: REFUSED_TO_AGREE,
    by,
    dismissable: true,
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
