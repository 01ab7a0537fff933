import { afterAll, beforeEach, expect, it } from 'vitest';
import { addJob, cancelJob, claimJob, findJob, heartbeat, LEASE_MS } from '../../src/server/jobs/job.ts';
import { FinalError, Runner, type JobKind } from '../../src/server/jobs/runner.ts';
import { testAccount, testContext, unique } from './context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
let kind = '';
beforeEach(() => (kind = unique('kind')));
const add = (more: { maxAttempts?: number; runAt?: Date } = {}) =>
  ctx.store.transaction((tx) =>
    addJob(tx, ctx.now(), { kind, title: 'T', payload: { a: 1 }, createdBy: null, ...more }),
  );

async function until(id: string, state: string): Promise<NonNullable<Awaited<ReturnType<typeof findJob>>>> {
  for (let i = 0; i < 150; i++) {
    const job = await findJob(ctx.store, id);
    if (job?.state === state) return job;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(`never ${state}: ${JSON.stringify(await findJob(ctx.store, id))}`);
}

function runner(work: JobKind['work'], failed?: JobKind['failed']): Runner {
  const r = new Runner(ctx, [{ kind, work, ...(failed ? { failed } : {}) }], 2, 20);
  r.start();
  return r;
}

it('is claimed by one worker only, oldest first', async () => {
  const ids = [await add(), await add(), await add()];
  const claimed = await Promise.all(['a', 'b', 'c', 'd'].map((owner) => claimJob(ctx, owner, [kind])));
  expect(claimed.flatMap((j) => (j ? [j.id] : [])).sort()).toEqual(ids.sort());
});

it('runs with progress to a result', async () => {
  const id = await add();
  const r = runner(async (_ctx, run) => {
    run.progress({ words: 'half', share: 0.5, secondsLeft: 1 });
    await new Promise((done) => setTimeout(done, 1200));
    return { found: 3 };
  });
  const job = await until(id, 'done');
  await r.stop();
  expect(job.progress).toMatchObject({ words: 'half', share: 0.5 });
  expect(job.result).toEqual({ found: 3 });
});

it('is taken up by another when its worker is silent, and the first may not finish it', async () => {
  const id = await add();
  const lost = await claimJob(ctx, 'killed', [kind]);
  expect(await claimJob(ctx, 'other', [kind])).toBeUndefined();
  ctx.at(new Date(Date.now() + LEASE_MS + 1000).toISOString());
  const again = await claimJob(ctx, 'other', [kind]);
  expect(again).toMatchObject({ id: lost?.id, attempts: 2 });
  expect(await heartbeat(ctx, id, 'killed', undefined)).toBe('lost');
  expect(await heartbeat(ctx, id, 'other', undefined)).toBe('go on');
});

it('is failed, not tried for ever, when it keeps losing its worker', async () => {
  const id = await add({ maxAttempts: 1 });
  await claimJob(ctx, 'killed', [kind]);
  ctx.at(new Date(ctx.now().getTime() + LEASE_MS + 1000).toISOString());
  expect(await claimJob(ctx, 'other', [kind])).toBeUndefined();
  expect((await findJob(ctx.store, id))?.state).toBe('failed');
});

it('is tried again later after an error, and tells when it failed for good', async () => {
  ctx.at(new Date().toISOString());
  const retried = await add();
  const r = runner(async () => {
    throw new Error('the disk is full');
  });
  const waiting = await until(retried, 'waiting')
    .then(() => new Promise((d) => setTimeout(d, 300)))
    .then(() => findJob(ctx.store, retried));
  await r.stop();
  expect(waiting).toMatchObject({ state: 'waiting', attempts: 1, error: 'the disk is full' });
  const final = await add();
  let told = '';
  const s = runner(
    async () => Promise.reject(new FinalError('no page')),
    async (_c, _j, error) => void (told = error),
  );
  await until(final, 'failed');
  await s.stop();
  expect(told).toBe('no page');
});

it('stops when somebody cancels it, and keeps its result', async () => {
  const account = await testAccount(ctx);
  const id = await add();
  const r = runner(
    (_ctx, run) => new Promise((done) => run.signal.addEventListener('abort', () => done({ kept: true }))),
  );
  await until(id, 'running');
  await cancelJob(ctx, account, id);
  expect((await until(id, 'cancelled')).result).toEqual({ kept: true });
  await r.stop();
  await expect(cancelJob(ctx, account, id)).rejects.toMatchObject({ status: 409 });
});

it('goes back to the queue at once when its worker is stopped', async () => {
  const id = await add();
  const r = runner(
    (_ctx, run) => new Promise((done) => run.signal.addEventListener('abort', () => done({}))),
  );
  await until(id, 'running');
  await r.stop();
  expect((await findJob(ctx.store, id))?.state).toBe('waiting');
});
