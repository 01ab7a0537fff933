import { createHash } from 'node:crypto';
import { group } from 'd3-array';
import { z } from 'zod';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { ExceptionContent } from '../../../core/retention/rules/exception.ts';
import type { RetentionRuleDraft } from '../../../core/retention/rules/retention-rule.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { ItemOwners } from '../../holdings/offers.ts';
import { BigId, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import { likeBelow } from '../../store/like-text.ts';
import type { Queries } from '../../store/pool.ts';
import { readRetentionPolicy } from '../policy.ts';
import { countSpecial } from '../special.ts';
import { askRetention, retentionWeighing, type RetentionWeighing } from '../weighing.ts';
import { itemDays } from './due-days.ts';
import { showDisposal } from './show-disposal.ts';
import { tellOwnersOfDue } from './tell-owners.ts';

/** More of one rule and owner are parted, so that somebody can look at them. */
const MOST_ITEMS = 5000;
/** What failed is tried again after so many days, what was kept for another reason the day after. */
const FAILED_DAYS = 7;

/** What decides that items go, and how that goes. */
type Decision = Pick<RetentionRuleDraft, 'answerDays' | 'silent' | 'agree' | 'undoDays'> & {
  /** An id of a rule, `item:` and that of an exception, or '' for a law alone. */
  readonly by: string;
  readonly version: number;
  readonly name: string;
  readonly follows: RetentionRuleDraft['then'];
};

/** Where nobody said otherwise: the owner is asked, and the officer where there is no answer. */
const USUAL = { answerDays: 14, silent: 'officer', agree: 'large', undoDays: 14 } as const;

/**
 * Once a day, and whenever rules, laws, holds or exceptions changed or something was surveyed: puts what is due by now into
 * disposals, one for each rule and owner, and has owners told where that is all that follows.
 */
export async function gatherDue(ctx: Context): Promise<void> {
  const { store } = ctx;
  const weighing = await retentionWeighing(ctx, 'in force');
  const from = await gatheredFrom(store, weighing);
  const row = await store.one(
    z.object({ gathered_from: z.string().nullable() }),
    'SELECT gathered_from FROM retention_policy WHERE id = 1',
  );
  if (row?.gathered_from === from) return;
  const owners = new ItemOwners(store, ctx.now());
  for (const [by, bytes] of await askRetention(ctx, 'the program', weighing, { what: 'due' })) {
    const decision = await decisionOf(store, weighing, by);
    if (!decision) continue;
    const due = Bitmap.fromBytes(bytes);
    if (decision.follows === 'tell') await tellOwnersOfDue(ctx, owners, weighing.today, decision, due);
    else if (decision.follows !== 'nothing') await gather(ctx, weighing, owners, decision, due);
  }
  await store.run('UPDATE retention_policy SET gathered_from = ? WHERE id = 1', [from]);
}

/** Differs once anything that decides what is due has changed, or the day. */
async function gatheredFrom(store: Queries, weighing: RetentionWeighing): Promise<string> {
  const held = await store.one(
    z.object({ at: Instant.nullable(), except: Count, ended: Count, clocks: z.string().nullable() }),
    `SELECT (SELECT MAX(ended_at) FROM run WHERE kind = 'survey') AS at,
       (SELECT MAX(id) FROM retention_exception) AS \`except\`,
       (SELECT COUNT(*) FROM retention_exception WHERE ended_at IS NOT NULL) AS ended,
       (SELECT GROUP_CONCAT(revision, ' ', clock_revision ORDER BY clock_id, block) FROM clock_block) AS clocks`,
  );
  const { today, rules, bounds, holds } = weighing;
  const versions = [...weighing.contents.values()].map((c) => [c.id, c.version]);
  return createHash('sha256')
    .update(JSON.stringify([today, versions, rules, bounds, holds, held]))
    .digest('hex');
}

async function decisionOf(
  store: Queries,
  { contents }: RetentionWeighing,
  by: string,
): Promise<Decision | undefined> {
  if (by === '') return { ...USUAL, by, version: 0, name: 'What the law asks', follows: 'ask' };
  if (by.startsWith('item:')) {
    const row = await store.one(
      z.object({ content: JsonColumn(ExceptionContent) }),
      'SELECT content FROM retention_exception WHERE id = ?',
      [by.slice('item:'.length)],
    );
    return row && { ...USUAL, by, version: 0, name: 'Set on the item by hand', follows: row.content.then };
  }
  const rule = contents.get(by);
  if (!rule) return undefined;
  const { version, name, then: follows, answerDays, silent, agree, undoDays } = rule;
  return { by, version, name, follows, answerDays, silent, agree, undoDays };
}

async function gather(
  ctx: Context,
  weighing: RetentionWeighing,
  owners: ItemOwners,
  decision: Decision,
  due: Bitmap,
): Promise<void> {
  const rows = await newItems(ctx, due, await archiveOf(ctx.store, decision));
  const staff = await owners.staffOf(rows);
  const owned = group(
    rows.map((r, i) => ({ ...r, staff: staff[i] ?? null })),
    (r) => r.staff ?? `unknown ${r.source_id}`,
  );
  for (const items of owned.values())
    for (let from = 0; from < items.length; from += MOST_ITEMS)
      await makeDisposal(ctx, weighing, decision, items.slice(from, from + MOST_ITEMS));
}

interface ArchivePlace {
  /** 0 for none. */
  readonly source: number;
  readonly place: string;
}

/** What lies in the archive is not moved there again. */
async function archiveOf(store: Queries, { follows }: Decision): Promise<ArchivePlace> {
  const { archive, archivePlace } = await readRetentionPolicy(store);
  return follows === 'archive' && archive !== ''
    ? { source: Number(archive), place: archivePlace }
    : { source: 0, place: '' };
}

const Due = z.object({
  id: BigId.transform(Number),
  owner: z.string(),
  source_id: z.number(),
  source: z.string(),
  size: Count,
});
type Due = z.infer<typeof Due> & { readonly staff: number | null };

/** Those that stand in no open disposal, and were not kept or failed lately. */
async function newItems(
  { store, now }: Context,
  due: Bitmap,
  { source, place }: ArchivePlace,
): Promise<z.infer<typeof Due>[]> {
  const found: z.infer<typeof Due>[] = [];
  const ago = (days: number) => toDatetime(new Date(now().getTime() - days * 86_400_000));
  for (let from = 0; ;) {
    const ids = due.first(1000, from);
    const last = ids.at(-1);
    if (last === undefined) return found;
    from = last + 1;
    found.push(
      ...(await store.all(
        Due,
        `SELECT i.id, i.owner, i.source_id, s.name AS source, i.size FROM item i JOIN source s ON s.id = i.source_id
         JOIN place p ON p.id = i.place_id
         WHERE i.id IN (?) AND i.state <> 'gone' AND NOT (i.source_id = ? AND (? = '' OR p.path = ? OR p.path LIKE ?)) AND NOT EXISTS (
           SELECT 1 FROM disposal_item d WHERE d.item_id = i.id AND (d.state IN ('waiting', 'begun')
             OR (d.state = 'failed' AND d.at > ?) OR (d.state = 'kept' AND d.at > ?)
             OR (d.state IN ('aside', 'gone') AND (i.content_hash IS NULL OR d.left_hash = i.content_hash))))
         ORDER BY i.id`,
        [ids, source, place, place, likeBelow(place), ago(FAILED_DAYS), ago(1)],
      )),
    );
  }
}

async function makeDisposal(
  ctx: Context,
  weighing: RetentionWeighing,
  { by, version, name, follows, answerDays, silent, agree, undoDays }: Decision,
  items: readonly Due[],
): Promise<void> {
  const { large } = await readRetentionPolicy(ctx.store);
  const special = await countSpecial(ctx, {}, Bitmap.of(items.map((i) => i.id)));
  const isLarge = items.length >= large;
  const two = agree === 'two' || (agree === 'large' && (isLarge || special > 0));
  const why = !two
    ? ''
    : agree === 'two'
      ? 'the rule asks for two'
      : special > 0
        ? `${special} with special data`
        : `${items.length} items`;
  const needed = two ? 2 : follows === 'ask' ? 1 : 0;
  const now = ctx.now();
  const staff = items[0]?.staff ?? null;
  const goes = await itemDays(
    ctx.store,
    weighing,
    items.map((i) => i.id),
  );
  await ctx.store.transaction(async (tx) => {
    const who =
      staff === null
        ? undefined
        : await tx.one(z.object({ name: z.string() }), 'SELECT name FROM staff WHERE id = ?', [staff]);
    const { id } = await tx.run(
      `INSERT INTO disposal (rule_id, rule_version, rule_name, follows, staff_id, owner, state, needed, why_needed, answer_by, silent, undo_days, items, made_at, agreed_at)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        ...[by, version, name, follows, staff],
        who?.name ?? `nobody known, in ${items[0]?.source ?? 'a source'}`,
        needed === 0 ? 'agreed' : 'asked',
        needed,
        why,
        needed === 0 ? null : toDatetime(new Date(now.getTime() + answerDays * 86_400_000)),
        ...[silent, undoDays, items.length, toDatetime(now)],
        needed === 0 ? toDatetime(now) : null,
      ],
    );
    await tx.run(
      'INSERT INTO disposal_item (disposal_id, item_id, source_id, state, goes, size, at) VALUES ?',
      [
        items.map((i) => [
          ...[id, i.id, i.source_id, 'waiting', goes.get(i.id) ?? weighing.today, i.size],
          toDatetime(now),
        ]),
      ],
    );
    await record(tx, now, {
      actor: 'worker',
      action: 'disposal.gather',
      object: 'disposal',
      objectId: id,
      detail: { rule: by, version, items: items.length, needed },
    });
    await showDisposal(tx, ctx, id);
  });
}
