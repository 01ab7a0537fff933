import { z } from 'zod';
import { readSetBy } from '../../../core/protection/rules/verdict-words.ts';
import type { Json } from '../../../core/rules/change.ts';
import { asSentence } from '../../../core/text/as-sentence.ts';
import type { Context } from '../../context.ts';
import {
  connectSource,
  findItem,
  findSource,
  ItemError,
  itemNames,
  type ListedItem,
  fetchWhole,
  readCopy,
  replaceWhole,
} from '../../holdings/offers.ts';
import type { LookedPart, RunKind, Step, Stepping } from '../../runs/run-kind.ts';
import { countResults } from '../../runs/run-store.ts';
import { BigId, Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { stepsOf, writeLevels, writeListed, writeStep, type LevelStep } from './level-step.ts';

const Plan = z.strictObject({ run: z.string() });
type Plan = z.infer<typeof Plan>;

const STEP_MS = 3000;
const STEP_ITEMS = 40;

interface Undone {
  readonly step: LevelStep;
  readonly name: string;
  /** Why it stays as it is; '' where it is as it was. */
  readonly why: string;
  readonly written?: { readonly listed: ListedItem; readonly hash: Buffer };
}

interface UndoStep extends Step {
  readonly undone: readonly Undone[];
}

/** Putting back what a run of levels changed, as long as the documents are kept. */
export const LEVEL_UNDO: RunKind<Plan, UndoStep> = {
  kind: 'level-undo',
  lane: 'long',
  see: 'protection.read',
  start: 'protection.run',
  wholeOf: ['source'],
  plan: Plan,
  place: ({ object_id }) => `/protection/runs/${object_id}`,
  guess: { perItem: 0.03, perByte: 1e-7 },
  async look(ctx, { run }) {
    const names = await itemNames(ctx.store);
    const rows = await ctx.store.all(
      z.object({ source_id: BigId, items: Count, bytes: Count }),
      `SELECT i.source_id, COUNT(*) AS items, COALESCE(SUM(c.size), 0) AS bytes
       FROM level_step s JOIN item i ON i.id = s.item_id LEFT JOIN kept_copy c ON c.id = s.copy_id
       WHERE s.run_id = ? AND s.state IN ('stamped', 'noted', 'refused') GROUP BY i.source_id ORDER BY i.source_id`,
      [run],
    );
    return rows.map((r): LookedPart => ({
      part: r.source_id,
      words: names.sources.get(r.source_id) ?? r.source_id,
      items: r.items,
      bytes: r.bytes,
    }));
  },
  step: undoSome,
  keep: keepUndone,
  outcome: (tx, _ctx, run) => countResults(tx, run.id),
};

export const ANY_LEVEL_UNDO = LEVEL_UNDO as unknown as RunKind<unknown>;

async function undoSome(ctx: Context, stepping: Stepping<Plan>): Promise<UndoStep> {
  const { plan, part: source, signal } = stepping;
  const after = stepping.place === null ? 0 : z.number().parse(stepping.place);
  const steps = await stepsOf(
    ctx.store,
    plan.run,
    source,
    ['stamped', 'noted', 'refused'],
    after,
    STEP_ITEMS + 1,
  );
  const connector = await connectSource(ctx, await findSource(ctx.store, Number(source)));
  const undone: Undone[] = [];
  const begun = Date.now();
  let last = after;
  try {
    for (const step of steps.slice(0, STEP_ITEMS)) {
      if (signal.aborted || Date.now() - begun > STEP_MS) break;
      last = step.item_id;
      const item = await findItem(ctx.store, step.item_id);
      undone.push(await undoOne(item.title ?? item.name, step));

      async function undoOne(name: string, of: LevelStep): Promise<Undone> {
        if (of.copy_id === null) return { step: of, name, why: '' };
        try {
          const now = await fetchWhole(connector, item);
          // A worker that died may have put it back already.
          if (of.hash_before?.equals(now.hash))
            return { step: of, name, why: '', written: { listed: now.listed, hash: now.hash } };
          if (!of.hash_after?.equals(now.hash))
            return { step: of, name, why: 'Somebody changed it since; it keeps its marking.' };
          const copy = await readCopy(ctx, of.copy_id);
          if (!copy) return { step: of, name, why: 'What it was before is not kept any more.' };
          const { listed, hash } = await replaceWhole(connector, item, now, copy);
          return { step: of, name, why: '', written: { listed, hash } };
        } catch (error) {
          if (!(error instanceof ItemError)) throw error;
          return { step: of, name, why: asSentence(error.message) };
        }
      }
    }
  } finally {
    await connector.close();
  }
  const isEnd = steps.length <= STEP_ITEMS && last === (steps.at(-1)?.item_id ?? last);
  return {
    items: undone.length,
    bytes: 0,
    results: undone.map(({ step, name, why }): Json => ({
      is: why === '' ? 'undone' : 'left',
      item: step.item_id,
      name: name.slice(0, 300),
      why,
    })),
    place: isEnd ? null : last,
    share: isEnd ? 1 : null,
    undone,
  };
}

async function keepUndone(
  tx: Queries,
  ctx: Context,
  { plan }: Stepping<Plan>,
  { undone }: UndoStep,
): Promise<void> {
  const now = ctx.now();
  for (const { step, why, written } of undone) {
    if (why !== '') continue;
    await writeStep(tx, now, plan.run, { ...step, state: 'undone' });
    if (written) await writeListed(tx, step.item_id, written.listed, written.hash);
  }
  const back = undone.filter((u) => u.why === '');
  if (back.length === 0) return;
  // Where somebody set another level since, that stands.
  const still = await tx.all(
    z.object({ item_id: BigId.transform(Number), level: z.string() }),
    'SELECT item_id, level FROM item_level WHERE item_id IN (?) FOR UPDATE',
    [back.map((u) => u.step.item_id)],
  );
  await writeLevels(
    tx,
    now,
    back
      .filter((u) => (still.find((s) => s.item_id === u.step.item_id)?.level ?? null) === u.step.level_after)
      .map(({ step }) => ({
        item: step.item_id,
        level: step.level_before ?? undefined,
        by: readSetBy(step.before_set_by ?? ''),
        unstamped: null,
        hash: null,
      })),
  );
}
