import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { RunAct } from '../../../src/core/runs/run.ts';
import { Runner } from '../../../src/server/jobs/runner.ts';
import { complaintOf } from '../../../src/core/evidence/witness.ts';
import { listEntries } from '../../../src/server/evidence/ledger.ts';
import type { RunKind, Step, Stepping } from '../../../src/server/runs/run-kind.ts';
import { findRun, listResults, partsOf } from '../../../src/server/runs/run-store.ts';
import { RUN_WITNESS } from '../../../src/server/runs/run-witness.ts';
import { moveRun, proposeRun, viewRun } from '../../../src/server/runs/runs.ts';
import { runJobs } from '../../../src/server/runs/run-work.ts';
import { everyRow } from '../../../src/server/store/page.ts';
import { testContext, unique } from '../context.ts';

const ctx = testContext();
let runners: Runner[] = [];
afterEach(async () => {
  await Promise.all(runners.map((r) => r.stop()));
  runners = [];
});
afterAll(() => ctx.store.close());

/** Counts the numbers of its parts; each step a few of them. */
const Plan = z.object({ parts: z.array(z.number()), step: z.number() });
type Plan = z.infer<typeof Plan>;
let kind: RunKind<Plan>;
let hold: (stepping: Stepping<Plan>, from: number) => Promise<void>;
beforeEach(() => {
  hold = async () => {};
  kind = {
    kind: unique('count'),
    lane: 'long',
    see: 'jobs.read',
    start: 'jobs.cancel',
    plan: Plan,
    place: ({ id }) => `/count/${id}`,
    guess: { perItem: 0.01, perByte: 0 },
    look: async (_ctx, { parts }) =>
      parts.map((items, i) => ({
        part: String(i),
        words: `Part ${i}`,
        items,
        bytes: items * 10,
        leftOut: { items: 1, bytes: 1, why: 'unchanged' },
      })),
    step: async (_ctx, stepping): Promise<Step> => {
      const { plan, part, place } = stepping;
      const from = z.number().catch(0).parse(place);
      await hold(stepping, from);
      const most = plan.parts[Number(part)] ?? 0;
      const to = Math.min(most, from + plan.step);
      return {
        results: Array.from({ length: to - from }, (_, i) => ({ part, n: from + i })),
        items: to - from,
        bytes: (to - from) * 10,
        place: to === most ? null : to,
        share: to / most,
      };
    },
    outcome: async () => ({ counted: true }),
  };
});

const any = () => kind as RunKind<unknown>;
function work(workers = 1): void {
  for (let i = 0; i < workers; i++) {
    const runner = new Runner(ctx, runJobs(any()), { quick: 2, browser: 1, long: 1 }, 20);
    runner.start();
    runners.push(runner);
  }
}
const propose = (plan: Plan) =>
  ctx.store.transaction((tx) =>
    proposeRun(tx, ctx, kind, { title: 'Count', about: { object: 'test', id: kind.kind }, plan, by: null }),
  );
const act = (id: string, one: RunAct) =>
  ctx.store.transaction((tx) => moveRun(tx, ctx, any(), null, id, one));
const state = async (id: string) => (await findRun(ctx.store, id)).state;
const becomes = (id: string, wanted: string) =>
  expect.poll(() => state(id), { timeout: 20_000, interval: 20 }).toBe(wanted);
async function results(id: string): Promise<unknown[]> {
  const all: unknown[] = [];
  for await (const r of everyRow((after) => listResults(ctx.store, id, after, 7))) all.push(r.content);
  return all;
}
const expected = (parts: readonly number[]) =>
  parts.flatMap((n, p) => Array.from({ length: n }, (_, i) => ({ part: String(p), n: i })));

describe('a run', () => {
  it('is estimated first, and nothing is done before somebody starts it', async () => {
    work();
    const id = await propose({ parts: [5, 20], step: 3 });
    await becomes(id, 'estimated');
    const view = await viewRun(ctx.store, any(), id);
    expect(view).toMatchObject({
      amount: { items: 25, bytes: 250 },
      leftOut: { items: 2, bytes: 2 },
      time: { seconds: 0.25, measured: 0 },
    });
    expect(await results(id)).toEqual([]);
    await expect(act(id, 'pause')).rejects.toMatchObject({ status: 409 });
    await act(id, 'start');
    await becomes(id, 'done');
    expect(await results(id)).toEqual(expected([5, 20]));
    expect(await findRun(ctx.store, id)).toMatchObject({
      outcome: { items: 25, bytes: 250, results: 25, failed: 0, counted: true },
    });
  });

  it('is cancelled also where it was nearly estimated when somebody did', async () => {
    let release: () => void = () => {};
    const held = new Promise<void>((done) => (release = done));
    let reached: () => void = () => {};
    const looking = new Promise<void>((done) => (reached = done));
    const { look } = kind;
    kind = {
      ...kind,
      look: async (...args) => {
        reached();
        await held;
        return look(...args);
      },
    };
    work();
    const id = await propose({ parts: [5], step: 3 });
    await looking;
    await act(id, 'cancel');
    expect(await state(id)).toBe('stopping');
    // Over before its worker has heard of it.
    release();
    await becomes(id, 'cancelled');
    expect(await partsOf(ctx.store, id)).toEqual([]);
  });

  it('tells from what was measured how long the next takes', async () => {
    work(2);
    const id = await propose({ parts: [5, 20, 50, 10], step: 3 });
    await becomes(id, 'estimated');
    await act(id, 'start');
    await becomes(id, 'done');
    const next = await propose({ parts: [30], step: 3 });
    await becomes(next, 'estimated');
    const { time } = await viewRun(ctx.store, any(), next);
    expect(time.measured).toBe(4);
    expect(time.high).toBeGreaterThan(time.low);
  });

  it('is paused at the end of a step, goes on from there, and doubles nothing', async () => {
    work();
    let reached: () => void = () => {};
    const middle = new Promise<void>((done) => (reached = done));
    let release: () => void = () => {};
    const held = new Promise<void>((done) => (release = done));
    hold = async (_, from) => {
      if (from !== 6) return;
      reached();
      await held;
    };
    const id = await propose({ parts: [12, 9], step: 3 });
    await becomes(id, 'estimated');
    await act(id, 'start');
    await middle;
    await act(id, 'pause');
    expect(await state(id)).toBe('pausing');
    // The worker hears of it with its next sign of life; what it has by then is kept.
    setTimeout(release, 1500);
    await becomes(id, 'paused');
    const before = await results(id);
    expect(before.length).toBeLessThan(21);
    expect((await partsOf(ctx.store, id)).map((p) => p.state)).toContain('waiting');
    hold = async () => {};
    await act(id, 'go on');
    await becomes(id, 'done');
    expect(await results(id)).toEqual(expected([12, 9]));
  });

  it('keeps what it has where it is cancelled, and its outcome is sealed', async () => {
    work();
    let release: () => void = () => {};
    const held = new Promise<void>((done) => (release = done));
    hold = async (_, from) => {
      if (from >= 4) await held;
    };
    const id = await propose({ parts: [100, 8], step: 4 });
    await becomes(id, 'estimated');
    await act(id, 'start');
    await expect.poll(async () => (await results(id)).length).toBeGreaterThan(3);
    await act(id, 'cancel');
    setTimeout(release, 1500);
    await becomes(id, 'cancelled');
    const kept = await results(id);
    expect(kept.length).toBeLessThan(108);
    const { rows } = await listEntries(ctx.store, { object: 'run', objectId: id }, undefined, 20);
    const sealed = rows.find((r) => r.action === 'run.end');
    expect(sealed?.detail).toMatchObject({ state: 'cancelled', outcome: { results: kept.length } });
    const complaint = async () =>
      complaintOf({
        what: 'results of run',
        id,
        digest: (sealed?.detail as { digest: string }).digest,
        value: (await RUN_WITNESS.values(ctx.store, [id])).get(id),
      });
    expect(await complaint()).toBeUndefined();
    await ctx.store.run('UPDATE run_result SET content = ? WHERE run_id = ? AND number = 0 LIMIT 1', [
      '{"part":"0","n":99}',
      id,
    ]);
    expect(await complaint()).toContain('not as it was');
  });

  it('goes on with its other parts where one cannot be done, and says which', async () => {
    const step = kind.step;
    kind = {
      ...kind,
      step: (c, s) => (s.part === '1' ? Promise.reject(new Error('The share is gone.')) : step(c, s)),
    };
    runners = [new Runner(ctx, runJobs(any()), { quick: 1, browser: 1, long: 2 }, 20)];
    runners[0]?.start();
    const id = await propose({ parts: [4, 4, 4], step: 2 });
    await becomes(id, 'estimated');
    await act(id, 'start');
    // Tried again as often as any work, sooner than the clock would have it.
    const hurry = setInterval(
      () =>
        void ctx.store.run(
          "UPDATE job SET run_at = NOW(3) - INTERVAL 1 DAY WHERE kind = ? AND state = 'waiting'",
          [kind.kind],
        ),
      50,
    );
    await becomes(id, 'done');
    clearInterval(hurry);
    expect((await partsOf(ctx.store, id)).map((p) => [p.state, p.error])).toEqual([
      ['done', null],
      ['failed', 'The share is gone.'],
      ['done', null],
    ]);
    expect(await findRun(ctx.store, id)).toMatchObject({ outcome: { failed: 1, results: 8 } });
  });

  it('is shared by workers, and what a dead one had begun is done once', async () => {
    const id = await propose({ parts: [60, 60, 60], step: 1 });
    work();
    await becomes(id, 'estimated');
    await runners[0]?.stop();
    runners = [];
    await act(id, 'start');
    for (let death = 0; death < 5; death++) {
      // A worker that takes a part, does some steps, and is heard of no more: its writes after that are refused.
      const dying = new Runner(ctx, runJobs(any()), { quick: 0, browser: 0, long: 1 }, 10);
      let steps = 0;
      let freeze: () => void = () => {};
      const frozen = new Promise<void>((done) => (freeze = done));
      let thaw: () => void = () => {};
      const thawed = new Promise<void>((done) => (thaw = done));
      hold = async () => {
        if (++steps < 3) return;
        freeze();
        await thawed;
      };
      dying.start();
      await frozen;
      hold = async () => {};
      await ctx.store.run(
        "UPDATE job SET lease_until = NOW(3) - INTERVAL 1 HOUR, attempts = 1 WHERE kind = ? AND state = 'running'",
        [kind.kind],
      );
      const other = new Runner(ctx, runJobs(any()), { quick: 0, browser: 0, long: 1 }, 10);
      hold = async () => {
        await new Promise((wait) => setTimeout(wait, 5));
      };
      other.start();
      await new Promise((wait) => setTimeout(wait, 60));
      thaw();
      await Promise.all([dying.stop(), other.stop()]);
    }
    hold = async () => {};
    work(3);
    await becomes(id, 'done');
    expect(await results(id)).toEqual(expected([60, 60, 60]));
  }, 60_000);
});
