import { z } from 'zod';
import { versionInForce } from '../../../core/rules/rule.ts';
import { dayIn, type Day } from '../../../core/retention/clock/period.ts';
import { reminderOf, reviewDue, type ReviewAnswer } from '../../../core/retention/review/review.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { listRules, readRule } from '../../rules/rule-store.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { readRetentionPolicy } from '../policy.ts';
import { LAW_BOUND } from '../rules/law-bounds.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';

type Named = { readonly name: string };
/** What is looked at once a year. */
const KINDS = [RETENTION_RULE, LAW_BOUND] as unknown as readonly RuleKind<Named>[];

const Said = z.object({
  kind: z.string(),
  rule_id: z.string(),
  answer: z.enum(['stands', 'change', 'ends']),
  reason: z.string(),
  name: z.string(),
  at: Instant,
});

/** A rule or a bound in force, and when somebody has to say again whether it stands. */
export interface Review {
  readonly kind: string;
  readonly id: string;
  readonly name: string;
  readonly version: number;
  readonly due: Day;
  /** Where the organisation is, its day has come; or a reminder of it was due. */
  readonly waits: 'late' | 'soon' | null;
  readonly last: {
    readonly answer: ReviewAnswer;
    readonly reason: string;
    readonly name: string;
    readonly at: string;
  } | null;
}

/** The one that is due first, first. */
export async function listReviews(store: Queries, now: Date): Promise<readonly Review[]> {
  const { zone } = await readRetentionPolicy(store);
  const today = dayIn(now.toISOString(), zone);
  const said = await store.all(
    Said,
    `SELECT r.kind, r.rule_id, r.answer, r.reason, r.name, r.at FROM retention_review r
     WHERE r.id = (SELECT MAX(l.id) FROM retention_review l WHERE l.kind = r.kind AND l.rule_id = r.rule_id)`,
  );
  const reviews: Review[] = [];
  for (const kind of KINDS)
    for (const { id, name, stage } of await listRules(store, kind, ['in force', 'rehearsing'])) {
      const version = versionInForce(stage);
      if (version === undefined || !('since' in stage)) continue;
      const last = said.find((s) => s.kind === kind.object && s.rule_id === id);
      const since = [stage.since, last?.at ?? ''].sort().at(-1) ?? stage.since;
      const due = reviewDue(dayIn(since, zone));
      reviews.push({
        ...{ kind: kind.object, id, name, version, due },
        waits: due <= today ? 'late' : reminderOf(due, today) === undefined ? null : 'soon',
        last: last ? { answer: last.answer, reason: last.reason, name: last.name, at: last.at } : null,
      });
    }
  return reviews.toSorted((a, b) => (a.due < b.due ? -1 : a.due > b.due ? 1 : a.name < b.name ? -1 : 1));
}

/** Says of a rule or bound in force whether it stands; on record, with the version that was looked at. Throws a RefusedError. */
export async function answerReview(
  ctx: Context,
  account: { readonly id: number; readonly name: string },
  of: { readonly kind: string; readonly id: string; readonly version: number },
  { answer, reason }: { readonly answer: ReviewAnswer; readonly reason: string },
): Promise<void> {
  const kind = KINDS.find((k) => k.object === of.kind);
  if (!kind) throw new RefusedError('There is no such rule.', [], 404);
  await ctx.store.transaction(async (tx) => {
    const { stage } = await readRule(tx, kind, of.id, true);
    if (versionInForce(stage) !== of.version)
      throw new RefusedError(
        'Another version of it is in force by now.',
        [{ field: 'version', message: 'Look at that one.' }],
        409,
      );
    const now = ctx.now();
    await tx.run(
      'INSERT INTO retention_review (kind, rule_id, version, answer, reason, account_id, name, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [of.kind, of.id, of.version, answer, reason, account.id, account.name.slice(0, 120), toDatetime(now)],
    );
    await record(tx, now, {
      actor: account.id,
      action: `${of.kind}.review`,
      object: of.kind,
      objectId: of.id,
      detail: { version: of.version, answer, reason },
    });
  });
}
