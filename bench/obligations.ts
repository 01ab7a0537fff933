import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { CONTROL_KINDS, DUTIES, type Control } from '../src/core/obligations/framework/framework.ts';
import type { FrameworkFile } from '../src/core/obligations/framework/framework-file.ts';
import { NEW_ASSESSMENT } from '../src/core/obligations/work/assessment-content.ts';
import { NEW_WORK, type MeasureWork } from '../src/core/obligations/work/measure-work.ts';
import type { Context } from '../src/server/context.ts';
import { listAssessments, viewAssessment } from '../src/server/obligations/assessments/assessment-view.ts';
import { keepOwnFramework } from '../src/server/obligations/library/own-frameworks.ts';
import { shippedLibrary } from '../src/server/obligations/library/shipped-library.ts';
import { assessAll, nextIn, readStanding } from '../src/server/obligations/standing.ts';
import { readSettings } from '../src/server/settings.ts';
import { toDatetime } from '../src/server/store/columns.ts';
import type { Store } from '../src/server/store/pool.ts';
import { figure, median } from './figure.ts';

const ASSESSMENTS = 40;
const CONTROLS = 20_000;
const CYCLES = 4;
const TIMES = 15;
const NOW = new Date('2026-11-30T10:00:00Z');

/** A made-up framework over the measures that ship. */
function madeUp(a: number, ids: readonly string[]): FrameworkFile {
  return {
    ...{ format: 'yare-framework-1', id: `x${a}`, version: '2026-01-01', name: `X${a}`, title: 'X' },
    ...{ issuer: 'X', regions: [], covers: 'All', whole: true },
    families: Array.from({ length: 12 }, (_, f) => ({ id: `f${f}`, name: `Family ${f}` })),
    controls: Array.from({ length: CONTROLS / ASSESSMENTS }, (_, i): Control => ({
      ...{
        id: `c${i}`,
        family: `f${i % 12}`,
        ref: `Art. ${i}`,
        name: `Control ${i}`,
        guidance: 'As it stands.',
      },
      duty: DUTIES[i % 2] ?? 'required',
      kind: CONTROL_KINDS[i % 3] ?? 'prevents',
      risk: 1 + (i % 5),
      measures: [
        ...new Set(
          Array.from({ length: 1 + (i % 6) }, (_m, m) => ids[(a * 31 + i * 7 + m * 13) % ids.length] ?? ''),
        ),
      ],
    })),
  };
}

/** Half of the work of each cycle is done and tested. */
async function fill(store: Store): Promise<void> {
  const ids = [...shippedLibrary().measures.keys()];
  const done: MeasureWork = { ...NEW_WORK, state: 'done', test: 'passed', how: 'As it should be.' };
  await store.transaction(async (tx) => {
    const cycles: number[] = [];
    for (let c = 0; c < CYCLES; c++)
      cycles.push(
        (
          await tx.run('INSERT INTO assessment_cycle (name, made_at) VALUES (?, ?)', [
            `cycle ${c}`,
            toDatetime(NOW),
          ])
        ).id,
      );
    for (let a = 0; a < ASSESSMENTS; a++) {
      const file = madeUp(a, ids);
      await keepOwnFramework(tx, NOW, null, file);
      await tx.run(
        'INSERT INTO assessment (cycle_id, framework, version, content, started_at) VALUES (?, ?, ?, ?, ?)',
        [
          ...[cycles[a % CYCLES] ?? 0, file.id, file.version, JSON.stringify(NEW_ASSESSMENT)],
          toDatetime(NOW),
        ],
      );
    }
    for (const cycle of cycles)
      await tx.run('INSERT INTO measure_work (cycle_id, measure, content) VALUES ?', [
        ids.map((id, i) => [cycle, id, JSON.stringify(i % 2 === 0 ? done : NEW_WORK)]),
      ]);
  });
}

async function timed(name: string, work: () => unknown): Promise<void> {
  const times: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const begun = performance.now();
    await work();
    times.push(performance.now() - begun);
  }
  figure('obligations', name, median(times), 'ms');
}

async function main(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    const { store } = await prepareDatabase(database.url);
    await fill(store);
    const ctx: Context = { store, settings: readSettings({ SECRET_KEY: 'ab'.repeat(32) }), now: () => NOW };
    const begun = performance.now();
    const all = await listAssessments(ctx);
    // Once after a start, and after a framework was taken in.
    figure('obligations', 'read_for_the_first_time', performance.now() - begun, 'ms');
    const standing = await readStanding(store, NOW);
    const assessed = assessAll(standing);
    figure(
      'obligations',
      'controls',
      assessed.reduce((n, a) => n + a.readiness.controls.length, 0),
      'controls',
    );
    await timed('standing_read', () => readStanding(store, NOW));
    await timed('all_numbers_counted', () => assessAll(standing));
    await timed('a_cycle_counted', () => assessAll(standing, all[0]?.cycleId));
    await timed('what_to_do_next', () => nextIn(standing, assessed));
    await timed('all_numbers_at_the_server', () => listAssessments(ctx));
    await timed('an_assessment_at_the_server', () => viewAssessment(ctx, all[0]?.id ?? 0));
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

await main();
