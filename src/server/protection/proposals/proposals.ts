import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import type { Context } from '../../context.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { findSource, itemNames, sourceNames } from '../../holdings/offers.ts';
import { BigId, Count, Instant, toDatetime } from '../../store/columns.ts';
import { decodeCursor, toPage } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { levelRanks, levelsInForce } from '../levels/levels.ts';
import { putLevel } from '../levels/set-level.ts';
import { weighing } from '../rules/level-outlook.ts';

/** A level that an owner is asked about. */
export interface Proposal {
  readonly item: number;
  readonly name: string;
  readonly place: string;
  /** When it was changed last, as its source says. */
  readonly changed: string | null;
  readonly rule: string;
  readonly ruleName: string;
  readonly level: string;
  readonly levelName: string;
  readonly has: string | null;
  /** What the rule found, as a sentence goes on after “because”. */
  readonly because: string;
  readonly owner: string | null;
  readonly since: string;
}

const Row = z.object({
  item: BigId.transform(Number),
  name: z.string(),
  title: z.string().nullable(),
  place: z.string(),
  source: z.number(),
  rule: z.string(),
  level: z.string(),
  has: z.string().nullable(),
  owner: z.string().nullable(),
  changed: Instant.nullable(),
  made: Instant,
});

/** What is open, in the order of the items: of one owner, of one item, or all that an account may see; and how many there are. */
export async function openProposals(
  ctx: Context,
  of: { readonly staff: number } | { readonly item: number } | { readonly account: Pick<Account, 'scope'> },
  { after, size = 50 }: { readonly after?: string | undefined; readonly size?: number } = {},
): Promise<{
  readonly proposals: readonly Proposal[];
  readonly total: number;
  readonly next: string | null;
}> {
  const base = new Where().and("p.state = 'open'").and("i.state <> 'gone'");
  const where =
    'staff' in of
      ? base.and('p.staff_id = ?', of.staff)
      : 'item' in of
        ? base.and('p.item_id = ?', of.item)
        : keepToScope(base, of.account, 'source', 'i.source_id');
  const from = `FROM level_proposal p JOIN item i ON i.id = p.item_id JOIN place c ON c.id = i.place_id
    LEFT JOIN staff s ON s.id = p.staff_id LEFT JOIN item_level l ON l.item_id = p.item_id WHERE`;
  const key = after === undefined ? undefined : decodeCursor(after, z.tuple([z.number(), z.string()]));
  const all = { sql: where.sql, params: [...where.params] };
  const paged = key ? where.and('(p.item_id, p.rule_id) > (?, ?)', ...key) : where;
  const page = (found: readonly z.infer<typeof Row>[]) => toPage(found, size, (r) => [r.item, r.rule]);
  const [found, count, names, sources, weighed] = await Promise.all([
    ctx.store.all(
      Row,
      `SELECT p.item_id AS item, i.name, i.title, c.path AS place, i.source_id AS source, p.rule_id AS rule, p.level,
         l.level AS has, s.name AS owner, i.changed_at AS changed, p.made_at AS made ${from} ${paged.sql} ORDER BY p.item_id, p.rule_id LIMIT ?`,
      [...paged.params, size + 1],
    ),
    ctx.store.one(z.object({ n: Count }), `SELECT COUNT(*) AS n ${from} ${all.sql}`, all.params),
    itemNames(ctx.store),
    sourceNames(ctx.store),
    weighing(ctx),
  ]);
  const sourceOf = new Map(sources.map((s) => [Number(s.id), s.name]));
  const { rows, next } = page(found);
  return {
    total: count?.n ?? 0,
    next,
    proposals: rows.map((r) => ({
      item: r.item,
      name: r.title ?? r.name,
      place: [sourceOf.get(r.source) ?? '', ...r.place.split('/').filter(Boolean)].join(' › '),
      changed: r.changed,
      rule: r.rule,
      ruleName: weighed.names.rule(r.rule),
      level: r.level,
      levelName: names.levels.get(r.level) ?? r.level,
      has: r.has === null ? null : (names.levels.get(r.has) ?? r.has),
      because: weighed.names.condition(r.rule),
      owner: r.owner,
      since: r.made,
    })),
  };
}

export interface Said {
  readonly item: number;
  readonly rule: string;
  readonly agree: boolean;
  readonly reason: string;
}

/** An account, or the owner themselves by their link or program. */
export type Sayer = { readonly account: Account } | { readonly staff: number };

/**
 * What an owner, or somebody for them, says to a proposal: the item gets the level, and is stamped; or it stays, and that
 * rule does not ask again. Throws a RefusedError (409) for one that is not open any more, or is somebody else's (403).
 */
export async function sayToProposal(
  ctx: Context,
  by: Sayer,
  { item, rule, agree, reason }: Said,
): Promise<{ readonly unstamped: string | null }> {
  const open = await ctx.store.one(
    z.object({
      level: z.string(),
      has: z.string().nullable(),
      staff_id: z.number().nullable(),
      source_id: z.number(),
    }),
    `SELECT p.level, l.level AS has, p.staff_id, i.source_id FROM level_proposal p JOIN item i ON i.id = p.item_id
     LEFT JOIN item_level l ON l.item_id = p.item_id
     WHERE p.item_id = ? AND p.rule_id = ? AND p.state = 'open'`,
    [item, rule],
  );
  if (!open) throw new RefusedError('This is not asked any more.', [], 409);
  if ('staff' in by && open.staff_id !== by.staff)
    throw new RefusedError('Somebody else is asked this.', [], 403);
  const account = 'account' in by ? by.account.id : null;
  const settle = async (tx: Queries, now: Date) => {
    const { changed } = await tx.run(
      "UPDATE level_proposal SET state = ?, said_at = ?, said_by = ?, reason = ? WHERE item_id = ? AND rule_id = ? AND state = 'open'",
      [agree ? 'agreed' : 'declined', toDatetime(now), account, reason, item, rule],
    );
    if (changed === 0) throw new RefusedError('Somebody has answered it meanwhile.', [], 409);
    await showProposed(tx, ctx, open.source_id);
  };
  const entry = {
    actor: account ?? ('system' as const),
    action: agree ? 'level.agree' : 'level.decline',
    object: 'item',
    objectId: item,
    detail: { level: open.level, rule, owner: open.staff_id, reason },
  };
  if (!agree) {
    await ctx.store.transaction(async (tx) => {
      await settle(tx, ctx.now());
      await record(tx, ctx.now(), entry);
    });
    return { unstamped: null };
  }
  const content = (await levelsInForce(ctx)).get(open.level);
  if (!content)
    throw new RefusedError('That level is not in force any more.', [
      { field: 'level', message: 'It is not asked once it is looked at next.' },
    ]);
  const ranks = await levelRanks(ctx.store);
  if (open.has !== null && (ranks.get(open.has) ?? -1) >= (ranks.get(open.level) ?? -1))
    throw new RefusedError('It has a level by now that is as strong.', [], 409);
  return putLevel(
    ctx,
    item,
    { id: open.level, content },
    { account: account ?? undefined, reason, entry, also: settle },
  );
}

/** The same to many; what could not be done is told, and does not keep the others. */
export async function sayToMany(
  ctx: Context,
  by: Sayer,
  all: readonly { readonly item: number; readonly rule: string }[],
  said: Pick<Said, 'agree' | 'reason'>,
): Promise<{ readonly done: number; readonly unstamped: number; readonly failed: readonly string[] }> {
  let [done, unstamped] = [0, 0];
  const failed: string[] = [];
  for (const one of all)
    try {
      const { unstamped: why } = await sayToProposal(ctx, by, { ...one, ...said });
      done++;
      if (why !== null) unstamped++;
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      failed.push(error.message);
    }
  return { done, unstamped, failed };
}

/** Tells on Today how many documents of a source wait for their owners; in the transaction that changed that. */
export async function showProposed(tx: Queries, ctx: Context, source: number): Promise<void> {
  const open = await tx.one(
    z.object({ n: Count, first: Instant.nullable() }),
    `SELECT COUNT(*) AS n, MIN(p.made_at) AS first FROM level_proposal p JOIN item i ON i.id = p.item_id
     WHERE p.state = 'open' AND i.source_id = ? AND i.state <> 'gone'`,
    [source],
  );
  if (!open || open.n === 0) return takeOffToday(tx, 'level proposed', String(source));
  const { name } = await findSource(tx, source);
  await putOnToday(tx, {
    kind: 'level proposed',
    key: String(source),
    action: 'protection.set',
    words: `${open.n === 1 ? '1 item waits' : `${open.n} items wait`} in ${name} for the owner’s word on a level`,
    detail: 'Whoever looks after the system may answer for the owner.',
    link: '/protection/rules/proposed',
    since: open.first ? new Date(open.first) : ctx.now(),
    within: [{ kind: 'source', id: String(source) }],
  });
}
