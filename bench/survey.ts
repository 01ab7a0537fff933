import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { USUAL_SOURCE } from '../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../src/core/holdings/surveys/survey.ts';
import type { Context } from '../src/server/context.ts';
import { insertSource } from '../src/server/holdings/sources/sources.ts';
import { closeReadings } from '../src/server/holdings/surveys/open-readings.ts';
import { SURVEY_RUN } from '../src/server/holdings/surveys/survey-run.ts';
import { closeSurveyThreads } from '../src/server/holdings/surveys/survey-threads.ts';
import { findRun } from '../src/server/runs/run-store.ts';
import { readSettings } from '../src/server/settings.ts';
import { figure } from './figure.ts';

const FILES = Number(process.env['BENCH_FILES'] ?? 3000);
const UNCHANGED = Number(process.env['BENCH_UNCHANGED'] ?? 100_000);

function writeLetters(root: string, files: number, folders: number, words: number): void {
  for (let i = 0; i < files; i++) {
    const folder = join(root, `folder ${i % folders}`);
    if (i < folders) mkdirSync(folder, { recursive: true });
    const text = Array.from({ length: words }, (_, w) => `the quay at berth ${(i * w) % 97} was closed`).join(
      ' ',
    );
    writeFileSync(
      join(folder, `letter-${i}.txt`),
      `${text}\nWrite to person${i}@ferry.example or call +45 20 ${10 + (i % 89)} 30 40.\n`,
    );
  }
}

/** Reads a source from one end to the other, as a worker would; seconds. */
async function readSource(ctx: Context, source: number, survey: number): Promise<number> {
  const plan = SURVEY_RUN.plan.parse({ ...USUAL_SURVEY, name: 'Bench', sources: [String(source)], survey });
  await ctx.store.run(
    "INSERT INTO run (kind, title, object, object_id, plan, state, created_at) VALUES ('survey', 'Bench', 'survey', ?, ?, 'running', UTC_TIMESTAMP(3))",
    [survey, JSON.stringify(plan)],
  );
  const run = await findRun(ctx.store, String(survey));
  const begun = performance.now();
  let place: Awaited<ReturnType<typeof SURVEY_RUN.step>>['place'] = null;
  do {
    const stepping = { run, plan, part: String(source), place, signal: new AbortController().signal };
    const step = await SURVEY_RUN.step(ctx, stepping);
    await ctx.store.transaction(async (tx) => SURVEY_RUN.keep?.(tx, ctx, stepping, step));
    place = step.place;
  } while (place !== null);
  return (performance.now() - begun) / 1000;
}

async function main(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    const { store } = await prepareDatabase(database.url);
    const ctx: Context = {
      store,
      settings: readSettings({
        SECRET_KEY: 'ab'.repeat(32),
        DATABASE_URL: database.url,
        SOURCE_ROOTS: folder,
      }),
      now: () => new Date(),
    };
    const source = (name: string) =>
      store.transaction((tx) =>
        insertSource(tx, ctx, null, {
          content: { ...USUAL_SOURCE, name },
          address: { kind: 'folder', root: join(folder, name) },
          secret: '',
        }),
      );
    writeLetters(join(folder, 'letters'), FILES, 50, 200);
    const letters = await source('letters');
    // Once for the threads to start.
    await readSource(ctx, letters, 1);
    await store.run('DELETE FROM item');
    const survey = await readSource(ctx, letters, 2);
    const detectBegun = performance.now();
    execFileSync(
      process.execPath,
      [join(import.meta.dirname, 'detect.mjs'), '--json', '--threads', '2', join(folder, 'letters')],
      {
        stdio: ['ignore', 'ignore', 'inherit'],
        maxBuffer: 1e9,
      },
    );
    const detect = (performance.now() - detectBegun) / 1000;
    figure('survey', 'files_a_second', FILES / survey, '1/s');
    figure('survey', 'files_a_second_to_detect', detect / survey, 'ratio');
    writeLetters(join(folder, 'unchanged'), UNCHANGED, 1000, 1);
    const unchanged = await source('unchanged');
    await readSource(ctx, unchanged, 3);
    const before = process.memoryUsage().rss;
    const again = await readSource(ctx, unchanged, 4);
    figure('survey', 'memory_growth', (process.memoryUsage().rss - before) / 1e6, 'MB');
    const findBegun = performance.now();
    execFileSync('find', [join(folder, 'unchanged'), '-printf', '%p %s %T@ %u\n'], { stdio: 'ignore' });
    const find = (performance.now() - findBegun) / 1000;
    figure('survey', 'unchanged_seconds', again, 's');
    figure('survey', 'unchanged_to_find', find / again, 'ratio');
    await Promise.all([closeReadings(), closeSurveyThreads()]);
    await store.close();
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

void main();
