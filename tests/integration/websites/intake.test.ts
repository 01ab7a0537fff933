import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { firstNotice } from '../../../src/core/websites/notice/notice.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import {
  recordConsent,
  recordConsents,
  type Intake,
} from '../../../src/server/websites/consents/consent-intake.ts';
import { openConsent } from '../../../src/server/websites/consents/consent-record.ts';
import { IntakeQueue } from '../../../src/server/websites/consents/intake-queue.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { moveNotice } from '../notice.ts';

const ctx = testContext();
const hex = () => randomBytes(16).toString('hex');
let sites: readonly Awaited<ReturnType<typeof testSite>>[] = [];

beforeAll(async () => {
  const account = await testAccount(ctx);
  sites = [await testSite(ctx), await testSite(ctx)];
  for (const site of sites) await moveNotice(ctx, account.id, site.host, 'put in force', 1);
});
afterAll(() => ctx.store.close());

function choice(over: Partial<Intake['sent']> = {}, site = sites[0]): Intake {
  if (!site) throw new Error('no site');
  return {
    ...{ siteId: site.id, host: site.host, region: 'DK', address: '198.18.7.99' },
    notice: { ...{ siteId: site.id, host: site.host, version: 1, asksSince: 1 }, content: firstNotice() },
    sent: {
      ...{ version: 1, allowed: ['measurement'], language: 'en', visitorKey: hex(), choiceKey: hex() },
      ...{ shown: '', tc: '', device: 'desktop', page: '' },
      ...over,
    },
  };
}
const receiptOf = (settled: PromiseSettledResult<{ id: string; act: string }> | undefined) => {
  if (settled?.status !== 'fulfilled') throw settled?.reason;
  return settled.value;
};

describe('choices that are written together', () => {
  it('are what they would be one by one: of many visitors and sites, each with its own place in the ledger', async () => {
    const many = Array.from({ length: 40 }, (_, i) => choice({}, sites[i % 2]));
    const settled = await recordConsents(ctx, many);
    const ids = settled.map((s) => receiptOf(s).id);
    expect(new Set(ids).size).toBe(40);
    await seal(ctx.store, ctx.now());
    for (const [i, id] of ids.entries())
      expect((await openConsent(ctx.store, many[i]!.siteId, id)).matches).toBe(true);
  });

  it('of one visitor follow each other as they were sent', async () => {
    const visitorKey = hex();
    const [first, changed, withdrawn, other] = await recordConsents(ctx, [
      choice({ visitorKey }),
      choice({ visitorKey, allowed: ['advertising'] }),
      choice({ visitorKey, allowed: [] }),
      // At another site the same key is another visitor.
      choice({ visitorKey }, sites[1]),
    ]);
    expect([first, changed, withdrawn, other].map((s) => receiptOf(s).act)).toEqual([
      ...['first', 'changed', 'withdrawn', 'first'],
    ]);
    expect((await recordConsent(ctx, choice({ visitorKey, allowed: [] }))).act).toBe('repeated');
  });

  it('that were sent before have the receipt they had, in one batch and later', async () => {
    const one = choice();
    const [a, b] = await recordConsents(ctx, [one, { ...one }]);
    expect(receiptOf(b)).toEqual(receiptOf(a));
    expect(await recordConsent(ctx, one)).toEqual(receiptOf(a));
  });

  it('hold up no others: what cannot be taken is refused alone', async () => {
    const taken = choice();
    await recordConsent(ctx, taken);
    const settled = await recordConsents(ctx, [
      choice(),
      choice({ choiceKey: taken.sent.choiceKey }),
      choice({ version: 77 }),
      choice(),
    ]);
    expect(settled.map((s) => s.status)).toEqual(['fulfilled', 'rejected', 'rejected', 'fulfilled']);
    expect(settled[1]).toMatchObject({ reason: { status: 409 } });
    expect(settled[2]).toMatchObject({ reason: { fields: [{ field: 'version' }] } });
  });

  it('are all on record once each, however many come at once and how often', async () => {
    const queues = [new IntakeQueue(ctx), new IntakeQueue(ctx)];
    const visitors = Array.from({ length: 12 }, hex);
    const all = Array.from({ length: 150 }, (_, i) =>
      choice({ visitorKey: visitors[i % 12]!, allowed: i % 3 ? ['measurement'] : [] }, sites[i % 2]),
    );
    // Each twice, by two services that write at the same time.
    const receipts = await Promise.all(
      all.flatMap((c) => queues.map((q) => q.record(c).catch((e: unknown) => e))),
    );
    const ids = receipts.map((r) => (r as { id?: string }).id);
    expect(ids.every((id) => typeof id === 'string')).toBe(true);
    expect(new Set(ids).size).toBe(150);
    for (let i = 0; i < ids.length; i += 2) expect(ids[i]).toBe(ids[i + 1]);
    await seal(ctx.store, ctx.now());
    for (const [i, c] of all.entries())
      expect((await openConsent(ctx.store, c.siteId, ids[i * 2] as string)).matches).toBe(true);
  });
});

describe('the queue', () => {
  it('answers nothing before it is written, and every one where writing fails', async () => {
    let write = () => {};
    const held = new IntakeQueue(ctx, async (_ctx, intakes) => {
      await new Promise<void>((done) => (write = done));
      return intakes.map((i) => ({ status: 'rejected' as const, reason: i.sent.choiceKey }));
    });
    let answered = 0;
    const one = choice();
    const asked = held.record(one).catch((e: unknown) => {
      answered++;
      return e;
    });
    await new Promise((done) => setTimeout(done, 30));
    expect(answered).toBe(0);
    write();
    expect(await asked).toBe(one.sent.choiceKey);
    const broken = new IntakeQueue(ctx, () => Promise.reject(new Error('down')));
    await expect(broken.record(choice())).rejects.toThrow('down');
    await expect(broken.record(choice())).rejects.toThrow('down');
  });

  it('refuses what it cannot hold, so that nobody waits for ever', async () => {
    const writes: (() => void)[] = [];
    const held = new IntakeQueue(ctx, async (_ctx, intakes) => {
      await new Promise<void>((done) => writes.push(done));
      return intakes.map(() => ({ status: 'rejected' as const, reason: 'late' }));
    });
    const one = choice();
    const asked = Array.from({ length: 5200 }, () => held.record(one).catch((e: unknown) => e));
    const refused = await asked.at(-1);
    expect(refused).toMatchObject({ status: 429, detail: { retryAfter: 5 } });
    const all = Promise.all(asked);
    let isOver = false;
    void all.then(() => (isOver = true));
    while (!isOver) {
      for (const write of writes.splice(0)) write();
      await new Promise((next) => setImmediate(next));
    }
    const answers = await all;
    expect(answers.filter((a) => a === 'late').length).toBeGreaterThan(5000);
  });

  it('fails all of a batch at once where the database is away, and asks it no further', async () => {
    let asked = 0;
    const away = {
      ...ctx,
      store: {
        ...ctx.store,
        transaction: () => {
          asked++;
          return Promise.reject(Object.assign(new Error('gone'), { code: 'ECONNREFUSED', fatal: true }));
        },
      },
    };
    const settled = await recordConsents(
      away,
      Array.from({ length: 20 }, () => choice()),
    );
    expect(settled.every((r) => r.status === 'rejected')).toBe(true);
    expect(asked).toBe(1);
  });
});
