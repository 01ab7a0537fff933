import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { cancelJob } from '../../../src/server/desk/job-authority.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import {
  addJob,
  claimJob,
  findJob,
  heartbeat,
  LEASE_MS,
  type Claim,
  type JobEnd,
} from '../../../src/server/jobs/job.ts';
import { endJob, FinalError, Runner, type JobKind, type Lane } from '../../../src/server/jobs/runner.ts';
import { OFFICER, testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
let kind = '';
beforeEach(() => {
  kind = unique('kind');
  ctx.at(new Date().toISOString());
});
const add = (more: { kind?: string; about?: string; maxAttempts?: number; runAt?: Date } = {}) =>
  ctx.store.transaction((tx) =>
    addJob(tx, ctx.now(), {
      kind,
      title: `Work of ${kind}`,
      payload: { a: 1 },
      createdBy: null,
      ...more,
      about: { object: 'thing', id: more.about ?? unique('thing') },
    }),
  );

async function until(id: string, state: string): Promise<NonNullable<Awaited<ReturnType<typeof findJob>>>> {
  for (let i = 0; i < 150; i++) {
    const job = await findJob(ctx.store, id);
    if (job?.state === state) return job;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(`never ${state}: ${JSON.stringify(await findJob(ctx.store, id))}`);
}

type Over = Partial<Pick<JobKind, 'kind' | 'lane' | 'ended'>>;
const kindOf = (work: JobKind['work'], over: Over = {}): JobKind => ({
  kind,
  lane: 'quick',
  see: 'today.read',
  start: 'jobs.cancel',
  work,
  ...over,
});

function runner(kinds: readonly JobKind[], lanes: Partial<Record<Lane, number>> = {}): Runner {
  const r = new Runner(ctx, kinds, { quick: 2, browser: 1, long: 1, ...lanes }, 20);
  r.start();
  return r;
}

const untilAborted: JobKind['work'] = (_ctx, run) =>
  new Promise((done) => run.signal.addEventListener('abort', () => done({ kept: true })));
const failures = async () =>
  (await todayItems(ctx, OFFICER)).filter((i) => i.words === `Work of ${kind} failed`);

describe('a job', () => {
  it('is claimed by one worker only, oldest first', async () => {
    const ids = [await add(), await add(), await add()];
    const claims = await Promise.all(['a', 'b', 'c', 'd'].map((owner) => claimJob(ctx, owner, [kind])));
    expect(claims.flatMap((c: Claim | undefined) => c?.claimed?.id ?? []).sort()).toEqual(ids.sort());
  });

  it('runs with progress to a result', async () => {
    const id = await add();
    const r = runner([
      kindOf(async (_ctx, run) => {
        run.progress({ words: 'half', share: 0.5, secondsLeft: 1 });
        await new Promise((done) => setTimeout(done, 1200));
        return { found: 3 };
      }),
    ]);
    const job = await until(id, 'done');
    await r.stop();
    expect(job.progress).toMatchObject({ words: 'half', share: 0.5 });
    expect(job.result).toEqual({ found: 3 });
  });

  it('is taken up by another when its worker is silent, and the first may not end it', async () => {
    const id = await add();
    const first = await claimJob(ctx, 'killed', [kind]);
    expect(await claimJob(ctx, 'other', [kind])).toBeUndefined();
    ctx.at(new Date(Date.now() + LEASE_MS + 1000).toISOString());
    const again = await claimJob(ctx, 'other', [kind]);
    expect(again?.claimed).toMatchObject({ id: first?.claimed?.id, attempts: 2 });
    expect(await heartbeat(ctx, id, 'killed', undefined)).toBe('lost');
    expect(await heartbeat(ctx, id, 'other', undefined)).toBe('go on');
    const end = (owner: string) =>
      ctx.store.transaction((tx) =>
        endJob(tx, ctx, kindOf(untilAborted), first!.claimed!, { how: 'done', result: {} }, owner),
      );
    expect([await end('killed'), await end('other'), await end('other')]).toEqual([false, true, false]);
  });

  it('is tried again later after an error', async () => {
    const id = await add();
    const r = runner([kindOf(() => Promise.reject(new Error('the disk is full')))]);
    await expect
      .poll(() => findJob(ctx.store, id))
      .toMatchObject({ state: 'waiting', attempts: 1, error: 'the disk is full' });
    await r.stop();
    expect(await failures()).toEqual([]);
  });

  it('goes back to the queue at once when its worker is stopped, without counting as tried', async () => {
    const id = await add();
    const r = runner([kindOf(untilAborted)]);
    await until(id, 'running');
    await r.stop();
    expect(await findJob(ctx.store, id)).toMatchObject({ state: 'waiting', attempts: 0 });
  });

  it('stops with its worker also where it was claimed the moment the word came', async () => {
    for (let i = 0; i < 15; i++) {
      const id = await add();
      const r = new Runner(ctx, [kindOf(untilAborted)], { quick: 1, browser: 0, long: 0 }, 5);
      r.start();
      // Anywhere between asking for work and having begun it.
      await new Promise((done) => setTimeout(done, i));
      await r.stop();
      expect(await findJob(ctx.store, id)).toMatchObject({ state: 'waiting', attempts: 0 });
      await cancelJob(ctx, OFFICER, id);
    }
  });

  it('waits for those of its own lane alone', async () => {
    const begun: string[] = [];
    const work =
      (name: string): JobKind['work'] =>
      (c, run) => {
        begun.push(name);
        return untilAborted(c, run);
      };
    const long = kindOf(work('long'), { kind: `${kind}-long`, lane: 'long' });
    const quick = kindOf(work('quick'), { kind: `${kind}-quick` });
    for (const k of [long, long, long, quick]) await add({ kind: k.kind });
    const r = runner([long, quick]);
    await expect.poll(() => begun.toSorted()).toEqual(['long', 'quick']);
    await new Promise((done) => setTimeout(done, 200));
    await r.stop();
    expect(begun).toHaveLength(2);
  });
});

/** What the object of a job is told, with the state of the job as that transaction sees it. */
async function toldOf(
  work: JobKind['work'],
  act: (id: string) => Promise<unknown>,
  state: string,
): Promise<JobEnd[]> {
  const told: JobEnd[] = [];
  const ended: JobKind['ended'] = async (tx, _ctx, job, end) => {
    told.push(end);
    expect((await findJob(tx, job.id))?.state).toBe(state);
  };
  const id = await add({ maxAttempts: 1 });
  await act(id);
  const r = runner([kindOf(work, { ended })]);
  if (state === 'cancelled') {
    await until(id, 'running');
    await cancelJob(ctx, await testAccount(ctx), id);
  }
  await until(id, state);
  await r.stop();
  return told;
}

describe('the object of a job is told once, in the transaction that ends it', () => {
  const nothing = async () => undefined;

  it('done', async () => {
    expect(await toldOf(async () => ({ found: 3 }), nothing, 'done')).toEqual([
      { how: 'done', result: { found: 3 } },
    ]);
  });

  it('failed', async () => {
    const fail = () => Promise.reject(new FinalError('no page'));
    expect(await toldOf(fail, nothing, 'failed')).toEqual([{ how: 'failed', error: 'no page' }]);
    expect(await failures()).toMatchObject([{ kind: 'failure', detail: 'no page' }]);
  });

  it('cancelled, with what it had', async () => {
    expect(await toldOf(untilAborted, nothing, 'cancelled')).toEqual([
      { how: 'cancelled', result: { kept: true } },
    ]);
  });

  it('lost, when it keeps losing its worker', async () => {
    const lose = async () => {
      await claimJob(ctx, 'killed', [kind]);
      ctx.at(new Date(ctx.now().getTime() + LEASE_MS + 1000).toISOString());
    };
    expect(await toldOf(untilAborted, lose, 'failed')).toMatchObject([{ how: 'lost' }]);
    expect(await failures()).toMatchObject([{ detail: 'Its worker stopped without a word once.' }]);
  });

  it('and where that cannot be written, the job is not over', async () => {
    let tries = 0;
    const id = await add();
    const r = runner([
      kindOf(async () => ({}), {
        ended: async () => {
          if (++tries === 1) throw new Error('no room for it');
        },
      }),
    ]);
    await expect
      .poll(() => findJob(ctx.store, id))
      .toMatchObject({ state: 'waiting', error: 'no room for it' });
    ctx.at(new Date(ctx.now().getTime() + 6000).toISOString());
    await until(id, 'done');
    await r.stop();
    expect(tries).toBe(2);
  });
});

it('a failure leaves Today when the same work about the same thing succeeds', async () => {
  const about = unique('thing');
  for (const [title, how] of [
    ['a', 'failed'],
    ['b', 'done'],
  ]) {
    const job = (await findJob(ctx.store, await add({ about })))!;
    const end: JobEnd = how === 'done' ? { how, result: {} } : { how: 'failed', error: 'x' };
    await ctx.store.transaction((tx) => endJob(tx, ctx, kindOf(untilAborted), job, end));
    expect(await failures(), title).toHaveLength(how === 'done' ? 0 : 1);
  }
});

it('somebody cancels a job that is over, or unknown: told so', async () => {
  const account = await testAccount(ctx);
  const id = await add();
  await cancelJob(ctx, account, id);
  expect((await findJob(ctx.store, id))?.state).toBe('cancelled');
  await expect(cancelJob(ctx, account, id)).rejects.toMatchObject({ status: 409 });
  await expect(cancelJob(ctx, account, '999999999')).rejects.toMatchObject({ status: 404 });
});
