import { createHash } from 'node:crypto';
import { z } from 'zod';
import { group } from 'd3-array';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { levelProposals } from '../../../core/protection/rules/level-proposal.ts';
import { staffLink } from '../../accounts/staff/staff-link.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { ItemOwners } from '../../holdings/offers.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { BigId, Count, Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { declinedItems } from '../rules/declined-items.ts';
import { weighing, weighSets, type Weighing } from '../rules/level-outlook.ts';
import { PROPOSED } from './proposal-letter.ts';
import { showProposed } from './proposals.ts';

const AT_ONCE = 500;

/** Where rules, levels or what is held changed since, has owners asked what the rules that propose say now; and told. */
export async function makeProposals(ctx: Context): Promise<void> {
  await propose(ctx);
  await tellOwners(ctx);
}

async function propose(ctx: Context): Promise<void> {
  const weighed = await weighing(ctx);
  const from = await weighedFrom(ctx.store, weighed);
  const row = await ctx.store.one(
    z.object({ proposed_from: z.string().nullable() }),
    'SELECT proposed_from FROM level_policy WHERE id = 1',
  );
  if (row?.proposed_from === from) return;
  const { sets, presents, plan } = await weighSets(ctx, weighed, null);
  const proposals = levelProposals(
    sets,
    plan,
    presents,
    weighed.ranks,
    await declinedItems(ctx.store, weighed.rules),
  );
  // Those of a level that its rule proposes no more are asked anew.
  for (const { rule } of proposals)
    await ctx.store.run("DELETE FROM level_proposal WHERE state = 'open' AND rule_id = ? AND level <> ?", [
      rule.id,
      rule.level,
    ]);
  const open = await openItems(ctx.store);
  const sources = new Set<number>();
  const changed = new Map<string, { asked: number; takenBack: number }>();
  const count = (rule: string, of: 'asked' | 'takenBack', n: number) => {
    const at = changed.get(rule) ?? { asked: 0, takenBack: 0 };
    at[of] += n;
    changed.set(rule, at);
  };
  for (const [rule, items] of open) {
    const still = proposals.find((p) => p.rule.id === rule)?.items ?? Bitmap.EMPTY;
    for (const chunk of chunks(items.without(still))) {
      count(rule, 'takenBack', chunk.length);
      for (const id of await takeBack(ctx.store, rule, chunk)) sources.add(id);
    }
  }
  for (const { rule, items } of proposals)
    for (const chunk of chunks(items.without(open.get(rule.id) ?? Bitmap.EMPTY)))
      for (const source of await ask(ctx, rule, chunk)) {
        sources.add(source);
        count(rule.id, 'asked', 1);
      }
  await ctx.store.transaction(async (tx) => {
    // Those too that a worker had asked about before it was killed.
    for (const source of await openSources(tx)) sources.add(source);
    for (const source of sources) await showProposed(tx, ctx, source);
    for (const [rule, detail] of changed)
      await record(tx, ctx.now(), {
        actor: 'worker',
        action: 'level.propose',
        object: 'level rule',
        objectId: rule,
        detail,
      });
    await tx.run('UPDATE level_policy SET proposed_from = ? WHERE id = 1', [from]);
  });
}

/** Differs once anything that proposals come from has changed; without a rule that proposes, nothing that is held does. */
async function weighedFrom(store: Queries, { rules, ranks }: Weighing): Promise<string> {
  const held = rules.some((r) => r.how === 'propose')
    ? await store.one(
        z.object({ at: Instant.nullable(), set: Instant.nullable() }),
        `SELECT (SELECT MAX(ended_at) FROM run WHERE kind IN ('survey', 'level-run', 'level-undo')) AS at,
           (SELECT MAX(set_at) FROM item_level) AS \`set\``,
      )
    : null;
  const said = [rules.map((r) => [r.id, r.version, r.level]), [...ranks], held];
  return createHash('sha256').update(JSON.stringify(said)).digest('hex');
}

async function openItems(store: Queries): Promise<ReadonlyMap<string, Bitmap>> {
  const rows = await store.all(
    z.object({ rule: z.string(), item: BigId.transform(Number) }),
    "SELECT rule_id AS rule, item_id AS item FROM level_proposal WHERE state = 'open'",
  );
  return new Map(
    [...group(rows, (r) => r.rule)].map(([rule, of]) => [rule, Bitmap.of(of.map((r) => r.item))]),
  );
}

function* chunks(items: Bitmap): Generator<readonly number[]> {
  for (let from = 0; ;) {
    const some = items.first(AT_ONCE, from);
    const last = some.at(-1);
    if (last === undefined) return;
    yield some;
    from = last + 1;
  }
}

/** What does not hold any more is not asked; the sources it was about. */
async function takeBack(store: Queries, rule: string, items: readonly number[]): Promise<readonly number[]> {
  const rows = await store.all(
    z.object({ source_id: z.number() }),
    'SELECT DISTINCT source_id FROM item WHERE id IN (?)',
    [items],
  );
  await store.run("DELETE FROM level_proposal WHERE state = 'open' AND rule_id = ? AND item_id IN (?)", [
    rule,
    items,
  ]);
  return rows.map((r) => r.source_id);
}

const Owned = z.object({ id: BigId.transform(Number), owner: z.string(), source_id: z.number() });

/** Asks the owner of each; of those that nobody known owns, whoever looks after their system. */
async function ask(
  ctx: Context,
  { id: rule, level }: { readonly id: string; readonly level: string },
  items: readonly number[],
): Promise<readonly number[]> {
  return ctx.store.transaction(async (tx) => {
    const owned = await tx.all(
      Owned,
      "SELECT id, owner, source_id FROM item WHERE id IN (?) AND state <> 'gone'",
      [items],
    );
    if (owned.length === 0) return [];
    const staff = await new ItemOwners(tx, ctx.now()).staffOf(owned);
    const made = owned.map((o, i) => ({ item: o.id, source: o.source_id, staff: staff[i] ?? null }));
    const now = toDatetime(ctx.now());
    await tx.run(
      `INSERT INTO level_proposal (item_id, rule_id, level, staff_id, state, made_at) VALUES ?
       ON DUPLICATE KEY UPDATE level = VALUES(level), staff_id = VALUES(staff_id), state = 'open', made_at = VALUES(made_at), told = 0`,
      [made.map((m) => [m.item, rule, level, m.staff, 'open', now])],
    );
    return made.map((m) => m.source);
  });
}

async function openSources(store: Queries): Promise<readonly number[]> {
  const rows = await store.all(
    z.object({ id: z.number() }),
    "SELECT DISTINCT i.source_id AS id FROM level_proposal p JOIN item i ON i.id = p.item_id WHERE p.state = 'open'",
  );
  return rows.map((r) => r.id);
}

const Untold = z.object({ staff: z.number(), address: z.string(), name: z.string(), open: Count });

/** Writes to owners who were not told of all they are asked; to each at most once a day, however often something changes. */
async function tellOwners(ctx: Context): Promise<void> {
  const day = ctx.now().toISOString().slice(0, 10);
  const keyOf = (staff: number) => `level proposals, ${staff}, ${day}`;
  const untold = await ctx.store.all(
    Untold,
    `SELECT s.id AS staff, s.address, s.name,
       (SELECT COUNT(*) FROM level_proposal o WHERE o.staff_id = s.id AND o.state = 'open') AS open
     FROM staff s JOIN (SELECT DISTINCT staff_id FROM level_proposal WHERE state = 'open' AND told = 0 AND staff_id IS NOT NULL) p
       ON p.staff_id = s.id`,
  );
  for (const { staff, address, name, open } of untold)
    await ctx.store.transaction(async (tx) => {
      const written = await tx.one(
        z.object({ n: Count }),
        "SELECT COUNT(*) AS n FROM outgoing_message WHERE channel = 'mail' AND message_key = ?",
        [keyOf(staff)],
      );
      if ((written?.n ?? 0) > 0) return;
      await queueMail(tx, ctx, {
        key: keyOf(staff),
        about: { object: 'level rule', id: '' },
        to: address,
        template: PROPOSED,
        values: { name, count: open, link: staffLink(ctx, 'proposed', staff) },
      });
      await tx.run("UPDATE level_proposal SET told = 1 WHERE staff_id = ? AND state = 'open'", [staff]);
    });
}
