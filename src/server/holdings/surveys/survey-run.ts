import { group } from 'd3-array';
import { z } from 'zod';
import { leavesOut, SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { mergedReading } from '../../../core/holdings/surveys/reading.ts';
import type { EndState } from '../../../core/runs/run.ts';
import type { Json } from '../../../core/rules/change.ts';
import type { Context } from '../../context.ts';
import type { LookedPart, RunKind, Step, Stepping } from '../../runs/run-kind.ts';
import type { Run } from '../../runs/run-store.ts';
import { BigId, Count, toDatetime } from '../../store/columns.ts';
import { putOnToday, takeOffToday } from '../../desk/today.ts';
import { pause } from '../../processes/pause.ts';
import { several } from '../../processes/several.ts';
import type { Queries } from '../../store/pool.ts';
import { touchBlocks } from '../items/item-blocks.ts';
import { findSource, writeHealth, type Source } from '../sources/sources.ts';
import type { KnownItem, KnownPlace } from './known-items.ts';
import { sortBatches } from './sort-batches.ts';
import {
  detectorsInUse,
  keepReading,
  latestReadings,
  narrowedVersions,
  readingSetting,
  type ReadingSetting,
} from './reading-setting.ts';
import { keepFound, type StepFound } from './survey-keep.ts';
import { lookAtSource } from './survey-look.ts';
import { openReading, type OpenReading } from './open-readings.ts';
import { itemPath, problemOf, readItem, type ReadItem, type Sorting, type ToRead } from './survey-step.ts';
import { partName, readPartName } from './part-name.ts';
import { BEGINNING, placeBehind, ReaderPlace, type Batch } from './survey-reader.ts';
import { withSurveyThreads } from './survey-threads.ts';
import { changedFindings } from './changed-findings.ts';

const Plan = SurveyContent.extend({ survey: z.int() });
type Plan = z.infer<typeof Plan>;

/** A step reads for so long, and then keeps what it has. */
const STEP_MS = 3000;
/** Items that one step reads at the most. */
const STEP_ITEMS = 400;
const STEP_UNCHANGED = 50_000;

interface SurveyStep extends Step {
  readonly found: StepFound;
}

/** Reading sources to find personal data. */
export const SURVEY_RUN: RunKind<Plan, SurveyStep> = {
  kind: 'survey',
  lane: 'long',
  see: 'holdings.read',
  start: 'holdings.survey',
  plan: Plan,
  place: ({ object_id }) => `/holdings/surveys/${object_id}`,
  // Of small office files on one core, before anything was measured.
  guess: { perItem: 0.02, perByte: 3e-7 },
  async look(ctx, plan, signal) {
    const { sorting } = await setUp(ctx, plan);
    const looked = await Promise.all(
      plan.sources.map(async (id): Promise<readonly LookedPart[]> => {
        const source = await findSource(ctx.store, id);
        try {
          return await lookAtSource(ctx, source, plan, sorting, signal);
        } catch (error) {
          // Reading it will fail, and say so; the others are read.
          const words = (error as Error).message;
          await writeHealth(ctx.store, ctx.now(), source.id, { ok: false, words });
          return [{ part: partName(source.id), words: `${source.name}: ${words}`, items: 0, bytes: 0 }];
        }
      }),
    );
    return looked.flat();
  },
  async step(ctx, stepping) {
    const { id, shard } = readPartName(stepping.part);
    const source = await findSource(ctx.store, id);
    const open = await openReading(ctx, source, stepping, shard);
    try {
      return await readSome(ctx, source, stepping, open);
    } catch (error) {
      await open.close();
      throw error;
    }
  },
  keep: (tx, _ctx, _stepping, { found }) => keepFound(tx, found),
  outcome: (tx, ctx, run, state) => endSurvey(tx, ctx, run, state),
};

/** The same, for what moves and shows runs of any kind. */
export const ANY_SURVEY = SURVEY_RUN as unknown as RunKind<unknown>;

/** What it reads with, and what tells whether an item has to be read. */
async function setUp(
  ctx: Context,
  plan: Plan,
): Promise<{ readonly reading: ReadingSetting; readonly sorting: Sorting }> {
  const reading = await readingSetting(ctx, plan.detectors);
  const readings = await latestReadings(ctx.store);
  const whole = new Set([...reading.force.likeness, ...reading.force.learned].map((d) => d.id));
  return {
    reading,
    sorting: {
      survey: plan,
      now: ctx.now(),
      reading: reading.id,
      detectors: reading.detectors,
      inUse: (await detectorsInUse(ctx.store)).length,
      readings,
      narrowed: await narrowedVersions(ctx.store, reading.detectors, readings),
      wholeDocument: (d) => whole.has(d),
    },
  };
}

/** Reads on for some seconds, or to the end of the part. */
async function readSome(
  ctx: Context,
  source: Source,
  { plan, run, signal, place: from }: Stepping<Plan>,
  open: OpenReading,
): Promise<SurveyStep> {
  const { sorting } = await open.kept('set up', () => setUp(ctx, plan));
  const found = { places: [], read: [], dropped: [], back: [], gone: [] } as {
    -readonly [K in 'places' | 'read' | 'dropped' | 'back' | 'gone']: StepFound[K][number][];
  };
  let [items, bytes] = [0, 0];
  let place = from === null ? BEGINNING : ReaderPlace.parse(from);
  let share = 0;
  let ended = false;
  let names = FIRST_NAMES;
  const begun = Date.now();
  while (
    !signal.aborted &&
    Date.now() - begun < STEP_MS &&
    found.read.length < STEP_ITEMS &&
    items < STEP_UNCHANGED
  ) {
    const batchBegun = Date.now();
    const batches = await open.take(names);
    const last = batches.at(-1);
    if (!last) {
      ended = true;
      break;
    }
    const toRead: ToRead[] = [];
    for (const s of await sortBatches(ctx.store, source.id, open.connector, batches, sorting)) {
      found.places.push({ path: s.batch.path, problem: s.batch.problem });
      for (const { known, dropped } of s.toDrop)
        found.dropped.push({ known, dropped, reading: await readingAfter(ctx, open, plan, known) });
      found.back.push(...s.back.map((k) => k.id));
      found.gone.push(...(await goneFrom(ctx.store, s.batch, s.known)));
      toRead.push(...s.toRead);
      items += s.items;
    }
    const read = await readAll(ctx, open, plan, toRead, source.content.itemsPerSecond);
    found.read.push(...read);
    bytes += read.reduce((n, r) => n + r.item.size, 0);
    place = placeBehind(last);
    share = last.share;
    names = nextBatch(names, Date.now() - batchBegun);
  }
  const next = ended ? null : place;
  open.stands(next);
  if (ended) await open.close();
  return {
    // What was passed over cost next to nothing; time is reckoned by what was read.
    items: found.read.length,
    bytes,
    results: [...unreadables(found.read), ...(await changedFindings(ctx.store, found.read))],
    place: next,
    share: ended ? 1 : share,
    found: { ...found, source: source.id, run: run.id, at: ctx.now() },
  };
}

/** What an item counts as read with, once some detectors were asked of it again and others left as they were. */
async function readingAfter(
  ctx: Context,
  open: OpenReading,
  plan: Plan,
  known: KnownItem | undefined,
): Promise<number> {
  const { reading, sorting } = await open.kept('set up', () => setUp(ctx, plan));
  const before = known?.reading;
  if (plan.detectors.length === 0 || before === null || before === undefined) return reading.id;
  return open.kept(`after ${before}`, () =>
    keepReading(ctx, mergedReading(sorting.readings.get(before) ?? [], reading.detectors, plan.detectors)),
  );
}

/** Names that are looked at together: many where nothing changed, few where each is read, so that a step ends in time. */
const FIRST_NAMES = 100;

function nextBatch(names: number, ms: number): number {
  if (ms > 1500) return Math.max(20, Math.round(names / 2));
  return ms < 300 ? Math.min(4000, names * 2) : names;
}

/** Those that were in the place and are not any more, once all of its names are known. */
async function goneFrom(
  store: Queries,
  batch: Batch,
  known: KnownPlace | undefined,
): Promise<readonly number[]> {
  if (!batch.all || known?.id === undefined) return [];
  const there = new Set(batch.all);
  if (batch.whole)
    return [...known.items.values()].filter((k) => k.state !== 'gone' && !there.has(k.name)).map((k) => k.id);
  const rows = await store.all(
    z.object({ id: BigId.transform(Number), name: z.string() }),
    "SELECT id, name FROM item WHERE place_id = ? AND state <> 'gone'",
    [known.id],
  );
  return rows.filter((r) => !there.has(r.name)).map((r) => r.id);
}

/** Items that are fetched at once, so that the threads have the next one at hand. */
const TOGETHER = 6;

/** Reads items with what each is to be read with. */
async function readAll(
  ctx: Context,
  open: OpenReading,
  plan: Plan,
  toRead: readonly ToRead[],
  perSecond: number | null,
): Promise<readonly ReadItem[]> {
  const read: ReadItem[] = [];
  const { reading } = await open.kept('set up', () => setUp(ctx, plan));
  for (const [name, alike] of group(toRead, (r) =>
    'detectors' in r.by ? r.by.detectors.join(' ') : r.by.read,
  )) {
    const { by } = alike[0] as ToRead;
    const asked = by.read === 'asked' || (by.read === 'all' && plan.detectors.length === 0);
    const setting = asked
      ? reading
      : await open.kept(`with ${name}`, () => readingSetting(ctx, by.read === 'some' ? by.detectors : []));
    read.push(
      ...(await withSurveyThreads(setting.force, setting.rehearsed, (pool) =>
        several(
          alike,
          TOGETHER,
          paced(perSecond, async (r) => {
            const id = by.read === 'some' ? await readingAfter(ctx, open, plan, r.known) : setting.id;
            return readItem(open.connector, pool, id, r);
          }),
        ),
      )),
    );
  }
  return read;
}

/** The work, begun for each in its turn at so many a second; as it comes where nobody set a pace. */
function paced<T, R>(perSecond: number | null, work: (one: T) => Promise<R>) {
  const begun = Date.now();
  return async (one: T, index: number): Promise<R> => {
    const due = perSecond === null ? 0 : begun + (index / perSecond) * 1000 - Date.now();
    if (due > 0) await pause(due);
    return work(one);
  };
}

/** Nothing that could not be read is passed over in silence. */
function unreadables(read: readonly ReadItem[]): readonly Json[] {
  return read.flatMap(({ place, item, title, outcome }): Json[] =>
    problemOf(outcome).unreadable
      ? [
          {
            is: 'unreadable',
            path: itemPath(place, title ?? item.name).slice(0, 1000),
            why: (problemOf(outcome).words ?? '').slice(0, 500),
          },
        ]
      : [],
  );
}

/** Marks what was not seen as gone, where all of a source was walked; and tells what the survey came to. */
async function endSurvey(tx: Queries, ctx: Context, run: Run, state: EndState): Promise<Json> {
  const plan = Plan.parse(run.plan);
  const parts = await tx.all(
    z.object({ part: z.string(), state: z.string(), error: z.string().nullable() }),
    'SELECT part, state, error FROM run_part WHERE run_id = ?',
    [run.id],
  );
  let gone = 0;
  for (const id of plan.sources) {
    const mine = parts.filter((p) => readPartName(p.part).id === Number(id));
    if (state !== 'done' || mine.length === 0 || mine.some((p) => p.state !== 'done')) continue;
    const lost = await loseUnseen(tx, Number(id), run.id, plan);
    if (lost === 'all') {
      await tellFailed(tx, ctx, Number(id), EMPTIED);
      continue;
    }
    gone += lost;
    await tx.run('UPDATE source SET read_at = ? WHERE id = ?', [toDatetime(ctx.now()), id]);
    await writeHealth(tx, ctx.now(), Number(id), { ok: true, words: 'It was read to the end.' });
    await takeOffToday(tx, 'source failed', id);
  }
  for (const p of parts.filter((each) => each.state === 'failed'))
    await tellFailed(tx, ctx, readPartName(p.part).id, p.error ?? 'It could not be read.');
  return { gone };
}

/** A share that is not mounted looks like one that is empty. */
const EMPTIED =
  'Nothing is in it, though it held items before. They are kept as they were: is it there, and mounted?';

/** Puts a source that could not be read where somebody sees it. */
async function tellFailed(tx: Queries, ctx: Context, id: number, words: string): Promise<void> {
  await writeHealth(tx, ctx.now(), id, { ok: false, words });
  const { name } = await findSource(tx, id);
  await putOnToday(tx, {
    kind: 'source failed',
    key: String(id),
    action: 'holdings.sources',
    words: `${name} could not be read`,
    detail: words.slice(0, 300),
    link: `/holdings/sources/${id}`,
    since: ctx.now(),
    within: [{ kind: 'source', id: String(id) }],
  });
}

const Unseen = z.object({ id: BigId.transform(Number), path: z.string(), n: Count });

/** How many items were lost with the places they were in; `all` where no place was seen at all, and nothing is touched. */
async function loseUnseen(tx: Queries, source: number, run: string, plan: Plan): Promise<number | 'all'> {
  const excluded = leavesOut(plan);
  // What lies below a place that could not be listed is not known to be gone.
  const shut = (
    await tx.all(
      z.object({ path: z.string() }),
      'SELECT path FROM place WHERE source_id = ? AND seen_run >= ? AND problem IS NOT NULL',
      [source, run],
    )
  ).map((p) => p.path);
  const isShut = (path: string) => shut.some((s) => s === '' || path === s || path.startsWith(`${s}/`));
  const unseen = await tx.all(
    Unseen,
    "SELECT p.id, p.path, COUNT(*) AS n FROM place p JOIN item i ON i.place_id = p.id AND i.state <> 'gone' WHERE p.source_id = ? AND p.seen_run < ? GROUP BY p.id, p.path",
    [source, run],
  );
  // Another survey that began later may have seen it since.
  const seen = await tx.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM place WHERE source_id = ? AND seen_run >= ?',
    [source, run],
  );
  if (seen?.n === 0 && unseen.length > 0) return 'all';
  const lost = unseen.filter((p) => !excluded(p.path) && !isShut(p.path));
  for (const p of lost) {
    const items = await tx.all(
      z.object({ id: BigId.transform(Number) }),
      "SELECT id FROM item WHERE place_id = ? AND state <> 'gone'",
      [p.id],
    );
    await tx.run("UPDATE item SET state = 'gone' WHERE place_id = ?", [p.id]);
    await touchBlocks(
      tx,
      items.map((i) => i.id),
    );
  }
  return lost.reduce((n, p) => n + p.n, 0);
}
