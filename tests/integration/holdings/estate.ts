import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { z } from 'zod';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY, type SurveyContent } from '../../../src/core/holdings/surveys/survey.ts';
import type { Context } from '../../../src/server/context.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { ANY_SURVEY } from '../../../src/server/holdings/surveys/survey-run.ts';
import { addSurvey, estimateSurvey } from '../../../src/server/holdings/surveys/surveys.ts';
import { Runner } from '../../../src/server/jobs/runner.ts';
import type { RunKind } from '../../../src/server/runs/run-kind.ts';
import { findRun, listResults, type Run } from '../../../src/server/runs/run-store.ts';
import { moveRun } from '../../../src/server/runs/runs.ts';
import { runJobs } from '../../../src/server/runs/run-work.ts';
import { everyRow } from '../../../src/server/store/page.ts';
import { unique } from '../context.ts';

export const RUN = ANY_SURVEY;

export function tempFolder(): { readonly path: string; remove(): void } {
  const path = mkdtempSync(join(tmpdir(), 'yare-estate-'));
  return { path, remove: () => rmSync(path, { recursive: true, force: true }) };
}

export function writeFiles(root: string, files: Readonly<Record<string, string | Buffer>>): void {
  for (const [path, content] of Object.entries(files)) {
    mkdirSync(dirname(join(root, path)), { recursive: true });
    writeFileSync(join(root, path), content);
  }
}

export function folderSource(ctx: Context, root: string, name = unique('share')): Promise<number> {
  return ctx.store.transaction((tx) =>
    insertSource(tx, ctx, null, {
      content: { ...USUAL_SOURCE, name },
      address: { kind: 'folder', root },
      secret: '',
    }),
  );
}

export function newSurvey(
  ctx: Context,
  sources: readonly number[],
  more: Partial<SurveyContent> = {},
): Promise<number> {
  return ctx.store.transaction((tx) =>
    addSurvey(tx, ctx.now(), null, {
      ...USUAL_SURVEY,
      name: unique('survey'),
      sources: sources.map(String),
      ...more,
    }),
  );
}

/** Workers that do nothing but survey, or what else is said. */
export async function withWorkers<T>(
  ctx: Context,
  workers: number,
  work: () => Promise<T>,
  kinds: readonly RunKind<unknown>[] = [RUN],
): Promise<T> {
  const runners = Array.from(
    { length: workers },
    () => new Runner(ctx, kinds.flatMap(runJobs), { quick: 1, browser: 1, long: 1 }, 20),
  );
  for (const r of runners) r.start();
  try {
    return await work();
  } finally {
    await Promise.all(runners.map((r) => r.stop()));
  }
}

export async function runUntil(ctx: Context, id: string, is: (run: Run) => boolean): Promise<Run> {
  for (let tries = 0; tries < 1200; tries++) {
    const run = await findRun(ctx.store, id);
    if (is(run)) return run;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(`The run is still ${(await findRun(ctx.store, id)).state}.`);
}

const isOver = (run: Run) => run.ended_at !== null;

/** Estimates, starts and waits for the end. */
export async function survey(ctx: Context, id: number, workers = 1): Promise<Run> {
  return runToEnd(ctx, RUN, () => estimateSurvey(ctx, null, id), workers);
}

/** The same, of a run of any kind that `propose` has estimated. */
export async function runToEnd(
  ctx: Context,
  kind: RunKind<unknown>,
  propose: () => Promise<string>,
  workers = 1,
): Promise<Run> {
  return withWorkers(
    ctx,
    workers,
    async () => {
      const run = await propose();
      await runUntil(ctx, run, (r) => r.state === 'estimated' || isOver(r));
      await ctx.store.transaction((tx) => moveRun(tx, ctx, kind, null, run, 'start'));
      return runUntil(ctx, run, isOver);
    },
    [kind],
  );
}

export async function results(ctx: Context, run: string): Promise<readonly Record<string, unknown>[]> {
  const all: Record<string, unknown>[] = [];
  for await (const r of everyRow((after) => listResults(ctx.store, run, after, 100)))
    all.push(r.content as Record<string, unknown>);
  return all;
}

/** Everything that is known of a source, without ids and times: for comparing. */
export async function known(ctx: Context, source: number) {
  const Any = z.record(z.string(), z.unknown());
  const items = await ctx.store.all(
    Any,
    `SELECT CONCAT(p.path, '/', i.name) AS path, i.size, i.state, i.problem, i.format, i.people, HEX(i.content_hash) AS hash,
       (SELECT GROUP_CONCAT(CONCAT(f.detector, ' ', f.rehearsed, ' ', f.matches, ' ', f.distinct_values) ORDER BY f.rehearsed, f.detector) FROM finding f WHERE f.item_id = i.id) AS findings,
       (SELECT GROUP_CONCAT(CONCAT(m.detector, m.rehearsed, m.number, m.masked, HEX(m.value_hash)) ORDER BY m.rehearsed, m.detector, m.number) FROM finding_match m WHERE m.item_id = i.id) AS matches,
       (SELECT HEX(n.hashes) FROM item_people n WHERE n.item_id = i.id) AS who
     FROM item i JOIN place p ON p.id = i.place_id WHERE i.source_id = ? ORDER BY 1`,
    [source],
  );
  return items;
}
