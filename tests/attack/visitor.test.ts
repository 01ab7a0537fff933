import { request } from 'node:http';
import { connect } from 'node:net';
import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { seal } from '../../src/server/evidence/ledger.ts';
import { Count } from '../../src/server/store/columns.ts';
import { forgetOldTurns } from '../../src/server/websites/consents/consent-intake.ts';
import { countConsents, listConsents } from '../../src/server/websites/consents/consents.ts';
import { findNotice } from '../../src/server/websites/notices/notices.ts';
import { publishStatement } from '../../src/server/websites/statements/statements.ts';
import { moveNotice, saveDraft } from '../integration/notice.ts';
import { testAccount, testContext, testSite } from '../integration/context.ts';
import { RunningVisitor } from '../integration/websites/running-visitor.ts';

const ctx = testContext();
const proxied = { ...ctx, settings: { ...ctx.settings, TRUST_PROXY: 'yes' as const } };
let visitor: RunningVisitor;
let behindProxy: RunningVisitor;
let site: Awaited<ReturnType<typeof testSite>>;
const choice = (over: object = {}) => visitor.choice(site.siteKey, over);
/** Each from a network of its own, so that none is held back. */
let network = 0;
const send = (body: unknown, headers: Record<string, string> = {}) =>
  behindProxy.send(site, body, {
    'x-forwarded-for': `100.${Math.floor(++network / 250)}.${network % 250}.9`,
    ...headers,
  });
const count = () => countConsents(ctx.store, site.host, {});

beforeAll(async () => {
  visitor = await RunningVisitor.start(ctx);
  behindProxy = await RunningVisitor.start(proxied);
});
beforeEach(async () => {
  const account = await testAccount(ctx);
  site = await testSite(ctx);
  await moveNotice(ctx, account.id, site.host, 'put in force', 1);
  // A key that is new is known within a quarter of a second.
  await new Promise((done) => setTimeout(done, 260));
});
afterAll(async () => {
  visitor.stop();
  behindProxy.stop();
  await ctx.store.close();
});

/** What comes back for bytes as they are. */
function raw(bytes: string, waitMs = 4000): Promise<string> {
  return new Promise((resolve) => {
    const socket = connect(visitor.port, '127.0.0.1', () => socket.write(bytes));
    let text = '';
    const end = () => (socket.destroy(), resolve(text));
    const late = setTimeout(end, waitMs);
    socket.on('data', (c) => (text += c.toString()));
    socket.on('error', () => {});
    socket.on('close', () => (clearTimeout(late), resolve(text)));
  });
}

describe('what a stranger sends', () => {
  it.each(['//', '///', '/\\', '//evil.example/', 'http://[', '*', '/%', '/?', '/%00'])(
    'GET %s is answered, and the next visitor too',
    async (path) => {
      const answer = await raw(`GET ${path} HTTP/1.1\r\nhost: x\r\nconnection: close\r\n\r\n`);
      expect(answer).toMatch(/^HTTP\/1\.1 40\d/);
      expect((await fetch(`${visitor.origin}/${site.siteKey}.js`)).status).toBe(200);
    },
  );

  it('is cut when it comes slowly, body or head', async () => {
    const begun = Date.now();
    const head = raw('GET /x HTTP/1.1\r\nhost: x\r\n', 15_000);
    const body = raw(
      `POST /${site.siteKey}/choices HTTP/1.1\r\nhost: x\r\ncontent-length: 900\r\n\r\n{`,
      15_000,
    );
    await Promise.all([head, body]);
    expect(Date.now() - begun).toBeLessThan(8000);
  });

  it('counts by network, not by address, and says how long to wait', async () => {
    const statuses = new Map<number, number>();
    let retry = '';
    for (let i = 0; i < 130; i++) {
      const answer = await behindProxy.send(site, '{', { 'x-forwarded-for': `198.51.100.${i}` });
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
      retry = answer.headers.get('retry-after') ?? retry;
    }
    // The minute may turn in between.
    expect(statuses.get(400)).toBeLessThanOrEqual(240);
    expect([...statuses.keys()].sort()).toEqual(retry ? [400, 429] : [400]);
    if (retry) expect(Number(retry)).toBeGreaterThan(0);
  });

  it('names a region only behind a proxy of ours', async () => {
    const region = { 'x-yare-region': 'us-ca' };
    const direct = await visitor.receiptOf(await visitor.send(site, choice(), region));
    const through = await visitor.receiptOf(await send(choice(), region));
    expect([direct.region, through.region]).toEqual(['ZZ', 'US-CA']);
  });

  it.each([
    ['language', { language: 'en-abcdefgh-abcdefgh-abcdefgh' }],
    ['language', { language: '<script>' }],
    ['choiceKey', { choiceKey: '' }],
    ['visitorKey', { visitorKey: 7 }],
    ['version', { version: 1e300 }],
    ['allowed', { allowed: Array.from({ length: 50 }, () => 'measurement') }],
  ])('is refused by its field, %s', async (field, over) => {
    const answer = await send(choice(over));
    expect(answer.status).toBe(400);
    const { fields } = (await answer.json()) as { fields: { field: string }[] };
    expect(fields[0]?.field).toContain(field);
    expect(await count()).toBe(0);
  });

  it('is refused where its bytes are no text', async () => {
    const answer = await fetch(`${visitor.origin}/${site.siteKey}/choices`, {
      method: 'POST',
      body: Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x7d]),
    });
    expect(answer.status).toBe(400);
  });
});

describe('what a script asks for besides', () => {
  const shown = { version: 1, language: 'en', device: 'phone', page: 'offers' };
  const tell = (body: unknown, from = `100.99.${++network % 250}.9`) =>
    fetch(`${behindProxy.origin}/${site.siteKey}/shown`, {
      method: 'POST',
      body: typeof body === 'string' ? body : JSON.stringify(body),
      headers: { 'x-forwarded-for': from },
    });
  const counted = async () => {
    await behindProxy.service.shown.flush();
    const row = await ctx.store.one(
      z.object({ n: Count, kinds: Count }),
      'SELECT COALESCE(SUM(n), 0) AS n, COUNT(*) AS kinds FROM notice_shown WHERE site_id = (SELECT id FROM site WHERE host = ?)',
      [site.host],
    );
    return [row?.n, row?.kinds];
  };

  it.each([
    ['more than it takes', 'x'.repeat(5000), 413],
    ['no JSON', '{', 400],
    ['an odd page', { ...shown, page: '<script>' }, 400],
    ['more than it has', { ...shown, visitorKey: 'a' }, 400],
    ['an odd device', { ...shown, device: 'toaster' }, 400],
  ])('is refused where it is %s, and counts nothing', async (_, body, status) => {
    expect((await tell(body)).status).toBe(status);
    expect(await counted()).toEqual([0, 0]);
  });

  it('counts no version that is not shown, holds back a flood, and lets nobody fill the table', async () => {
    await tell({ ...shown, version: 99 });
    expect(await counted()).toEqual([0, 0]);
    for (let i = 0; i < 230; i++) await tell({ ...shown, page: `p${i.toString(36)}` }, `100.98.${i}.9`);
    const [n, kinds] = await counted();
    expect(n).toBe(230);
    expect(kinds).toBeLessThanOrEqual(201);
    const answers = await Promise.all(Array.from({ length: 620 }, () => tell(shown, '100.97.1.9')));
    const late = answers.find((a) => a.status === 429);
    expect(Number(late?.headers.get('retry-after'))).toBeGreaterThan(0);
  }, 60_000);

  it.each(['__proto__', 'constructor', 'xx', '../en', ''])(
    'gives nothing for the language %o',
    async (language) => {
      for (const what of ['texts', 'trackers'])
        expect(
          (
            await fetch(
              `${visitor.origin}/${site.siteKey}/${what}?version=1&language=${encodeURIComponent(language)}`,
            )
          ).status,
          what,
        ).toBe(404);
    },
  );

  it('is a statement in a language of the site, whatever is asked for', async () => {
    const account = await testAccount(ctx);
    await publishStatement(ctx, account.id, site.host);
    for (const language of ['__proto__', 'constructor', '"><script>'])
      for (const what of ['statement', 'inventory']) {
        const answer = await fetch(
          `${behindProxy.origin}/${site.siteKey}/${what}?language=${encodeURIComponent(language)}`,
          {
            headers: { 'x-forwarded-for': `100.96.${++network % 250}.9` },
          },
        );
        expect(answer.status, what).toBe(200);
        expect(await answer.text()).toContain('<html lang="en">');
      }
  });
});

describe('a choice', () => {
  it('sent again is the same choice, also at the same time', async () => {
    const mine = choice();
    const answers = await Promise.all(Array.from({ length: 12 }, () => send(mine)));
    expect(answers.map((a) => a.status)).toEqual(Array(12).fill(201));
    const receipts = await Promise.all(answers.map((a) => behindProxy.receiptOf(a)));
    expect(new Set(receipts.map((r) => JSON.stringify(r))).size).toBe(1);
    expect(await count()).toBe(1);
  });

  it('with the key of another is refused, and tells nothing of it', async () => {
    const mine = choice();
    await send(mine);
    const others = await Promise.all([
      send({ ...mine, allowed: [] }),
      send({ ...mine, visitorKey: randomBytes(16).toString('hex') }),
    ]);
    for (const answer of others) {
      expect(answer.status).toBe(409);
      expect(JSON.stringify(await answer.json())).not.toContain('receipt');
    }
    expect(await count()).toBe(1);
  });

  it('that was late does not come after the one that was made after it', async () => {
    const visitorKey = randomBytes(16).toString('hex');
    const allowed = choice({ visitorKey });
    const withdrawn = choice({ visitorKey, allowed: [] });
    await send(allowed);
    expect(await behindProxy.receiptOf(await send(withdrawn))).toMatchObject({ act: 'withdrawn' });
    // The first one arrives once more, out of a tab that was closed.
    await send(allowed);
    const { rows } = await listConsents(ctx.store, site.host, {}, undefined, 9);
    expect(rows.map((r) => r.act)).toEqual(['withdrawn', 'first']);
  });

  it('of one visitor waits for the one before: the second knows the first', async () => {
    const visitorKey = randomBytes(16).toString('hex');
    const acts = await Promise.all(
      Array.from({ length: 8 }, async () =>
        behindProxy.receiptOf(await send(choice({ visitorKey }))).then((r) => r.act),
      ),
    );
    expect(acts.filter((a) => a === 'first')).toHaveLength(1);
    expect(acts.filter((a) => a === 'repeated')).toHaveLength(7);
  });

  it('on a version that was never shown here is refused', async () => {
    const account = await testAccount(ctx);
    const notice = await findNotice(ctx.store, site.host);
    await saveDraft(ctx, account.id, site.host, notice.revision, notice.content, {
      ...notice.content,
      askAgainMonths: 3,
    });
    await moveNotice(ctx, account.id, site.host, 'rehearse', 2);
    const other = await testSite(ctx);
    for (const over of [
      { version: 2, shown: choice().shown },
      { shown: visitor.choice(other.siteKey).shown },
      { shown: '' },
      { shown: 'zz.forged' },
    ]) {
      const answer = await send(choice(over));
      expect(answer.status, JSON.stringify(over)).toBe(400);
      expect(await answer.json()).toMatchObject({ fields: [{ field: 'shown' }] });
    }
    expect(await count()).toBe(0);
  });

  it('made while its notice was in force is taken after that was paused, for as long as a browser keeps it', async () => {
    const account = await testAccount(ctx);
    const shown = choice().shown;
    await moveNotice(ctx, account.id, site.host, 'pause', 1);
    await new Promise((done) => setTimeout(done, 2100));
    expect((await send(choice({ shown }))).status).toBe(201);
    const later = await RunningVisitor.start({
      ...proxied,
      now: () => new Date(Date.now() + 36 * 86_400_000),
    });
    expect((await later.send(site, choice({ shown }))).status).toBe(400);
    later.stop();
  });

  it('leaves nothing behind that is only of use while it is sent', async () => {
    await send(choice());
    await forgetOldTurns({ ...ctx, now: () => new Date(Date.now() + 50 * 86_400_000) });
    const left = await ctx.store.one(
      z.object({ n: Count }),
      'SELECT (SELECT COUNT(*) FROM consent_turn WHERE site_id = ?) + (SELECT COUNT(*) FROM consent_sent WHERE site_id = ?) AS n',
      [site.id, site.id],
    );
    expect(left?.n).toBe(0);
  });
});

describe('without a database', () => {
  /** The service on a database that can be taken away. */
  const onLoan = async () => {
    let gone = false;
    const lost = () =>
      Promise.reject(Object.assign(new Error('gone'), { code: 'ECONNREFUSED', fatal: true }));
    const store = new Proxy(ctx.store, {
      get: (target, name, receiver) =>
        gone && name !== 'close' ? lost : (Reflect.get(target, name, receiver) as unknown),
    });
    return {
      running: await RunningVisitor.start({ ...ctx, store }),
      take: () => (gone = true),
      giveBack: () => (gone = false),
    };
  };

  it('the script is served from memory, a choice is told to come again, and health says so', async () => {
    const { running, take, giveBack } = await onLoan();
    const script = () => fetch(`${running.origin}/${site.siteKey}.js`);
    const health = () => fetch(`${running.origin}/healthz`).then((r) => r.status);
    const before = await (await script()).text();
    expect(await health()).toBe(200);
    take();
    await new Promise((done) => setTimeout(done, 2200));
    for (let i = 0; i < 3; i++) expect(await (await script()).text()).toBe(before);
    expect(await health()).toBe(503);
    const mine = choice();
    const refused = await running.send(site, mine);
    expect(refused.status).toBe(503);
    giveBack();
    await new Promise((done) => setTimeout(done, 600));
    expect((await running.send(site, mine)).status).toBe(201);
    expect(await count()).toBe(1);
    running.stop();
  });

  it('an error of ours is never told as the visitor’s', async () => {
    const { running, take } = await onLoan();
    await fetch(`${running.origin}/${site.siteKey}.js`);
    take();
    // A version other than the one in memory has to be read.
    const answer = await running.send(site, choice({ version: 2 }));
    expect(answer.status).toBe(503);
    running.stop();
  });

  it('a flood of keys that no site has pushes nothing out of memory', async () => {
    const { running, take } = await onLoan();
    const known = `${running.origin}/${site.siteKey}.js`;
    await fetch(known);
    for (let i = 0; i < 300; i++)
      expect((await fetch(`${running.origin}/${randomBytes(10).toString('hex')}.js`)).status).toBe(404);
    take();
    await new Promise((done) => setTimeout(done, 2200));
    expect((await fetch(known)).status).toBe(200);
    running.stop();
  });
});

describe('a receipt', () => {
  it('is shown under its own site only, proved by a path that was kept, and held back when asked for too often', async () => {
    const receipts: string[] = [];
    for (let i = 0; i < 20; i++) receipts.push((await behindProxy.receiptOf(await send(choice()))).id);
    await seal(ctx.store, ctx.now());
    const ask = (key: string, id: string, from = '203.0.113.1') =>
      fetch(`${behindProxy.origin}/${key}/receipts/${id}`, { headers: { 'x-forwarded-for': from } });
    const answer = (await (await ask(site.siteKey, receipts[3]!)).json()) as {
      matches: boolean;
      proof: { path: string[] };
    };
    expect(answer.matches).toBe(true);
    expect(answer.proof.path.length).toBeGreaterThanOrEqual(5);
    const other = await testSite(ctx);
    await new Promise((done) => setTimeout(done, 2100));
    expect((await ask(other.siteKey, receipts[3]!)).status).toBe(404);
    const statuses = new Set<number>();
    for (let i = 0; i < 140; i++)
      statuses.add((await ask(site.siteKey, receipts[i % 20]!, `203.0.113.${i}`)).status);
    expect(statuses).toEqual(new Set([200, 429]));
  });
});

it('is not brought down by a reader that leaves in the middle', async () => {
  for (let i = 0; i < 50; i++)
    await new Promise<void>((done) => {
      const asking = request(
        {
          port: visitor.port,
          path: `/${site.siteKey}/choices`,
          method: 'POST',
          headers: { 'content-length': 50 },
        },
        () => {},
      );
      asking.on('error', () => done());
      asking.write('{');
      setTimeout(() => asking.destroy(), i % 5);
    });
  expect((await fetch(`${visitor.origin}/healthz`)).status).toBe(200);
});
