import { z } from 'zod';
import { EVERYTHING } from '../../../core/lens/lens.ts';
import { LevelContent } from '../../../core/protection/levels/level-content.ts';
import { changedBy } from '../../../core/protection/rules/level-plan.ts';
import { LevelRuleContent } from '../../../core/protection/rules/level-rule.ts';
import type { LevelVerdict, PresentLevel } from '../../../core/protection/rules/level-verdict.ts';
import { setByText } from '../../../core/protection/rules/verdict-words.ts';
import { UnstampableError, type CarriedLevel } from '../../../core/protection/stamp/marking.ts';
import { carrierOf, readFileLevel } from '../../../core/protection/stamp/stamp-file.ts';
import { carriesNone, mayCarry } from '../../../core/protection/stamp/stamped-formats.ts';
import type { Json } from '../../../core/rules/change.ts';
import { asSentence } from '../../../core/text/as-sentence.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import type { Context } from '../../context.ts';
import {
  askLens,
  connectSource,
  findItem,
  findSource,
  itemNames,
  itemRows,
  FixedItemError,
  ItemError,
  type Connector,
  type ItemDetail,
  type ListedItem,
  fetchWhole,
  ItemOwners,
  keepCopy,
  removeCopy,
  sha256,
  replaceWhole,
} from '../../holdings/offers.ts';
import type { LookedPart, RunKind, Step, Stepping } from '../../runs/run-kind.ts';
import { countResults } from '../../runs/run-store.ts';
import { BigId, Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { lostOf, showLost } from '../levels/lost-markings.ts';
import { planOf, verdictOn, weighingOf, type Weighing } from '../rules/level-outlook.ts';
import {
  stepsOf,
  writeLevels,
  writeListed,
  writeStep,
  type LevelStep,
  type StepState,
} from './level-step.ts';
import { doesNotGo, markedBytes } from './stamped-item.ts';

/** What is set, by which rules, as they were when it was asked for. */
export const LevelRunPlan = z.strictObject({
  /** `rehearse` tries every document, and writes nothing. */
  mode: z.enum(['rehearse', 'set']),
  rules: z.array(LevelRuleContent.extend({ id: z.string(), version: z.number() })),
  levels: z.array(z.strictObject({ id: z.string(), content: LevelContent })),
  /** Of whoever asked; null for all. */
  sources: z.array(z.string()).nullable(),
  /** Days for which documents are kept as they were. */
  keepDays: z.int().min(0).max(3650),
});
export type LevelRunPlan = z.infer<typeof LevelRunPlan>;

const STEP_MS = 3000;
const STEP_ITEMS = 40;
const DAY = 86_400_000;

/** What became of one item, to be written. */
interface Done {
  readonly item: ItemDetail;
  readonly state: Exclude<StepState, 'begun' | 'undone'>;
  readonly why: string;
  readonly verdict: LevelVerdict;
  readonly present: PresentLevel | undefined;
  /** What sets the level that it has from now on. */
  readonly by: PresentLevel['by'];
  /** The digest of a document that says so already, and was not written. */
  readonly carries?: Buffer;
  /** As the source lists it, where its document was written. */
  readonly written?: { readonly listed: ListedItem; readonly hash: Buffer; readonly begun: LevelStep };
}

interface LevelRunStep extends Step {
  readonly done: readonly Done[];
}

/** Setting levels backwards over what is held; or trying to. */
export const LEVEL_RUN: RunKind<LevelRunPlan, LevelRunStep> = {
  kind: 'level-run',
  lane: 'long',
  see: 'protection.read',
  start: 'protection.run',
  wholeOf: ['source'],
  plan: LevelRunPlan,
  place: ({ id }) => `/protection/runs/${id}`,
  // Of small office files, before anything was measured.
  guess: { perItem: 0.04, perByte: 2e-7 },
  async look(ctx, plan) {
    const weighed = await weighingOf(ctx, plan.rules);
    const only = changedBy(await planOf(ctx, weighed, plan.sources)).toBytes();
    const about = { today: weighed.today, lens: EVERYTHING, only };
    const [sources, names] = await Promise.all([
      // Right below nothing: every source, however many there are.
      askLens(ctx, { ...about, sources: plan.sources, ask: { what: 'places', above: '' } }),
      itemNames(ctx.store),
    ]);
    const lost = await ctx.store.all(
      z.object({ source_id: BigId, items: Count, bytes: Count }),
      `SELECT i.source_id, COUNT(*) AS items, SUM(i.size) AS bytes FROM item_level l JOIN item i ON i.id = l.item_id
       WHERE l.lost = 1 AND i.state <> 'gone' GROUP BY i.source_id`,
    );
    const mine = lost.filter((l) => !plan.sources || plan.sources.includes(l.source_id));
    const parts = await Promise.all(
      sources.map(async ({ value, items: count }): Promise<LookedPart> => {
        const of = await askLens(ctx, { ...about, sources: [value], ask: { what: 'figures' } });
        const { items = 0, bytes = 0 } = mine.find((l) => l.source_id === value) ?? {};
        const words = names.sources.get(value) ?? value;
        return { part: value, words, items: count + items, bytes: of.bytes + bytes };
      }),
    );
    const alone = mine.filter((l) => !parts.some((p) => p.part === l.source_id));
    return [
      ...parts,
      ...alone.map(({ source_id: part, items, bytes }) => ({
        part,
        words: names.sources.get(part) ?? part,
        items,
        bytes,
      })),
    ];
  },
  step: setSome,
  keep: keepDone,
  outcome: (tx, _ctx, run) => countResults(tx, run.id),
};

/** The same, for what moves and shows runs of any kind. */
export const ANY_LEVEL_RUN = LEVEL_RUN as unknown as RunKind<unknown>;

async function setSome(ctx: Context, stepping: Stepping<LevelRunPlan>): Promise<LevelRunStep> {
  const { plan, part: source, run, signal } = stepping;
  const after = stepping.place === null ? 0 : z.number().parse(stepping.place);
  const weighed = await weighingOf(ctx, plan.rules);
  const changes = changedBy(await planOf(ctx, weighed, [source]));
  const lost = await lostOf(ctx.store, source, after, STEP_ITEMS + 1);
  const left = Bitmap.of([...changes.first(STEP_ITEMS + 1, after + 1), ...lost]).first(STEP_ITEMS + 1);
  const connector = await connectSource(ctx, await findSource(ctx.store, Number(source)));
  const owners = new ItemOwners(ctx.store, ctx.now());
  const done: Done[] = [];
  let [bytes, last] = [0, after];
  const begun = Date.now();
  try {
    for (const step of plan.mode === 'set' ? await stepsOf(ctx.store, run.id, source, ['begun']) : []) {
      const finished = await finish(ctx, connector, step, weighed);
      if (finished) done.push(finished);
    }
    const isDone = new Set(done.map((d) => Number(d.item.id)));
    for (const id of left.slice(0, STEP_ITEMS)) {
      if (signal.aborted || Date.now() - begun > STEP_MS) break;
      last = id;
      if (isDone.has(id)) continue;
      const one = await setOne(ctx, connector, stepping, weighed, owners, id, lost.includes(id));
      if (!one) continue;
      done.push(one);
      bytes += one.item.size;
    }
  } finally {
    await connector.close();
  }
  const ended = last === (left.at(-1) ?? last) && left.length <= STEP_ITEMS;
  const total = changes.size + done.length;
  const ahead = changes.size - changes.countAnd(Bitmap.upTo(last + 1));
  return {
    items: done.length,
    bytes,
    results: done.map((d) => resultOf(d, weighed)),
    place: ended ? null : last,
    share: ended ? 1 : total === 0 ? null : Math.min(0.99, 1 - ahead / total),
    done,
  };
}

/** What a worker that died had begun: the document is the old one still, the new one, or somebody's since. */
async function finish(
  ctx: Context,
  connector: Connector,
  step: LevelStep,
  weighed: Weighing,
): Promise<Done | undefined> {
  const row = (await itemRows(ctx.store, [step.item_id])).get(step.item_id);
  const item = await findItem(ctx.store, step.item_id);
  if (!row) return undefined;
  const found = verdictOn(row, weighed);
  const about = { item, ...found, by: setBy(found.verdict, found.present) };
  try {
    const { listed, hash } = await fetchWhole(connector, item);
    if (step.hash_after?.equals(hash))
      return { ...about, state: 'stamped', why: '', written: { listed, hash, begun: step } };
    if (step.hash_before?.equals(hash)) {
      await ctx.store.transaction(async (tx) => {
        await tx.run('DELETE FROM level_step WHERE run_id = ? AND item_id = ?', [step.run_id, step.item_id]);
        if (step.copy_id !== null) await removeCopy(tx, step.copy_id);
      });
      return undefined;
    }
    return { ...about, state: 'left', why: 'Somebody changed it while its level was set.' };
  } catch (error) {
    if (!(error instanceof ItemError)) throw error;
    return { ...about, state: 'left', why: asSentence(error.message) };
  }
}

/** Sets the level of one item, or tries to; `undefined` where it has it already. */
async function setOne(
  ctx: Context,
  connector: Connector,
  { plan, run }: Stepping<LevelRunPlan>,
  weighed: Weighing,
  owners: ItemOwners,
  id: number,
  isLost: boolean,
): Promise<Done | undefined> {
  const row = (await itemRows(ctx.store, [id])).get(id);
  if (!row) return undefined;
  const { verdict, present } = verdictOn(row, weighed);
  if (verdict.change === 'none' && !isLost) return undefined;
  const item = await findItem(ctx.store, id);
  let about = { item, verdict, present, by: setBy(verdict, present) };
  const level = plan.levels.find((l) => l.id === verdict.level);
  if (verdict.level !== undefined && !level)
    return { ...about, state: 'left', why: `${weighed.names.level(verdict.level)} is not in force.` };
  const noted = (why: string): Done => ({ ...about, state: 'noted', why });
  const kind = { format: item.format, name: item.title ?? item.name, unreadable: item.state !== 'read' };
  if (!mayCarry(kind)) return noted(carriesNone(kind));
  if (!connector.replace) return noted('Its source takes no changes.');
  try {
    const fetched = await fetchWhole(connector, item);
    const { listed, bytes, hash } = fetched;
    // Touched or moved, and still what was surveyed.
    if (listed.version !== item.version && !item.content_hash?.equals(hash))
      return { ...about, state: 'left', why: 'It was changed since it was surveyed: survey it again first.' };
    const brought = present ? undefined : await carriedLevel(bytes);
    if (brought && weighed.ranks.has(brought.id)) {
      // A copy of something that was stamped: what it says stands, as if somebody had chosen it.
      const has: PresentLevel = { level: brought.id, by: { is: 'document' } };
      const again = verdictOn({ ...row, level: { id: brought.id, by: 'document' } }, weighed).verdict;
      if (again.change === 'none')
        return { ...about, verdict: again, by: has.by, state: 'stamped', why: '', carries: hash };
      // Only a stronger rule gets here, and it is the same one: undoing it puts back what the copy said.
      about = { item, verdict: again, present: has, by: setBy(again, has) };
    }
    const why = level && doesNotGo(carrierOf(bytes), level.content);
    if (why !== undefined) return noted(why);
    const marked = { ...item, owner: await owners.nameOf(item) };
    const made = await markedBytes(bytes, marked, level, ctx.now());
    if (plan.mode === 'rehearse') return { ...about, state: 'stamped', why: '' };
    const begun = await begin(ctx, run.id, plan.keepDays, { ...about, item: id, bytes, hash, made });
    if (begun.hash_after?.equals(hash))
      return { ...about, state: 'stamped', why: '', written: { listed, hash, begun } };
    try {
      const now = await replaceWhole(connector, item, fetched, made);
      return { ...about, state: 'stamped', why: '', written: { listed: now.listed, hash: now.hash, begun } };
    } catch (error) {
      if (error instanceof ItemError) await forget(ctx, begun);
      throw error;
    }
  } catch (error) {
    // Its level is known all the same; the document says nothing of it.
    if (error instanceof UnstampableError) return { ...about, state: 'refused', why: error.message };
    if (error instanceof FixedItemError) return noted(asSentence(error.message));
    if (error instanceof ItemError) return { ...about, state: 'left', why: asSentence(error.message) };
    throw error;
  }
}

/** Puts down what is about to be written, with the document as it is, before it is. */
async function begin(
  ctx: Context,
  run: string,
  keepDays: number,
  of: {
    item: number;
    bytes: Uint8Array;
    hash: Buffer;
    made: Uint8Array;
    verdict: LevelVerdict;
    present: PresentLevel | undefined;
  },
): Promise<LevelStep> {
  const now = ctx.now();
  const hashAfter = sha256(of.made);
  return ctx.store.transaction(async (tx) => {
    const copy = hashAfter.equals(of.hash)
      ? null
      : await keepCopy(tx, ctx, of.bytes, new Date(now.getTime() + keepDays * DAY));
    const step = {
      item_id: of.item,
      state: 'begun' as const,
      level_before: of.present?.level ?? null,
      before_set_by: of.present ? setByText(of.present.by) : null,
      level_after: of.verdict.level ?? null,
      hash_before: of.hash,
      hash_after: hashAfter,
      copy_id: copy === null ? null : String(copy),
      why: '',
    };
    await writeStep(tx, now, run, step);
    return { ...step, run_id: run };
  });
}

async function forget(ctx: Context, begun: LevelStep): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await tx.run("DELETE FROM level_step WHERE run_id = ? AND item_id = ? AND state = 'begun'", [
      begun.run_id,
      begun.item_id,
    ]);
    if (begun.copy_id !== null) await removeCopy(tx, begun.copy_id);
  });
}

async function keepDone(
  tx: Queries,
  ctx: Context,
  { plan, run, part: source }: Stepping<LevelRunPlan>,
  { done }: LevelRunStep,
): Promise<void> {
  if (plan.mode === 'rehearse') return;
  const now = ctx.now();
  for (const d of done) {
    const id = Number(d.item.id);
    const begun = d.written?.begun;
    await writeStep(tx, now, run.id, {
      item_id: id,
      state: d.state,
      level_before: begun?.level_before ?? d.present?.level ?? null,
      before_set_by: begun?.before_set_by ?? (d.present ? setByText(d.present.by) : null),
      level_after: begun?.level_after ?? d.verdict.level ?? null,
      hash_before: begun?.hash_before ?? null,
      hash_after: begun?.hash_after ?? null,
      copy_id: begun?.copy_id ?? null,
      why: d.why,
    });
    if (d.written) await writeListed(tx, id, d.written.listed, d.written.hash);
  }
  await writeLevels(
    tx,
    now,
    done
      .filter((d) => d.state !== 'left')
      .map((d) => ({
        item: Number(d.item.id),
        level: d.written ? (d.written.begun.level_after ?? undefined) : d.verdict.level,
        by: d.by,
        unstamped: d.state === 'stamped' ? null : d.why,
        hash: d.written?.hash ?? d.carries ?? null,
      })),
  );
  if (done.length > 0) await showLost(tx, ctx, Number(source));
}

function setBy(verdict: LevelVerdict, present: PresentLevel | undefined): PresentLevel['by'] {
  if (verdict.by.is === 'rule') return { is: 'rule', rule: verdict.by.rule.id };
  return present?.by ?? { is: 'hand' };
}

/** What a document says itself; nothing where it cannot be told. */
async function carriedLevel(bytes: Uint8Array): Promise<CarriedLevel | undefined> {
  try {
    return await readFileLevel(bytes);
  } catch (error) {
    if (error instanceof UnstampableError) return undefined;
    throw error;
  }
}

function resultOf({ item, state, why, verdict, present }: Done, { names }: Weighing): Json {
  return {
    is: state,
    item: Number(item.id),
    name: (item.title ?? item.name).slice(0, 300),
    source: item.source_id,
    from: present ? names.level(present.level) : null,
    to: verdict.level === undefined ? null : names.level(verdict.level),
    level: verdict.level ?? null,
    change: verdict.change,
    rule: verdict.by.is === 'rule' ? names.rule(verdict.by.rule.id) : null,
    why,
  };
}
