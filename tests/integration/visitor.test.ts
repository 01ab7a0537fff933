import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { VisitorService } from '../../src/server/visitor.ts';
import { moveNotice } from '../../src/server/websites/notices.ts';
import { rehearsalToken } from '../../src/server/websites/rehearsal-token.ts';
import { countConsents } from '../../src/server/websites/consents.ts';
import { testAccount, testContext, testSite } from './context.ts';

const ctx = testContext();
let server: Server;
let origin = '';
let site: Awaited<ReturnType<typeof testSite>>;
const choice = { version: 1, allowed: ['measurement'], language: 'en', visitorKey: 'ef'.repeat(16) };

beforeAll(async () => {
  const account = await testAccount(ctx);
  site = await testSite(ctx);
  const service = new VisitorService(ctx, 'SCRIPT', 'PREVIEW');
  server = createServer((request, response) => void service.answer(request, response));
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  await moveNotice(ctx, account.id, site.host, 'put in force', 1);
});
afterAll(async () => {
  server.close();
  await ctx.store.close();
});

const send = (body: unknown, headers: Record<string, string> = {}) =>
  fetch(`${origin}/${site.siteKey}/choices`, {
    method: 'POST',
    body: typeof body === 'string' ? body : JSON.stringify(body),
    headers: { origin: `https://${site.host}`, ...headers },
  });

describe('the visitor service', () => {
  it('serves the script with the notice in force, and spares what is known already', async () => {
    const first = await fetch(`${origin}/${site.siteKey}.js`);
    const text = await first.text();
    expect(text).toContain('"version":1');
    expect(text).toContain('SCRIPT');
    expect(text).not.toContain('</');
    const again = await fetch(`${origin}/${site.siteKey}.js`, {
      headers: { 'if-none-match': first.headers.get('etag')! },
    });
    expect(again.status).toBe(304);
    expect((await fetch(`${origin}/${'0'.repeat(20)}.js`)).status).toBe(404);
    expect((await fetch(`${origin}/../etc/passwd`)).status).toBe(404);
  });

  it('takes a choice from the site’s own pages and gives a receipt anyone can check', async () => {
    const answer = await send(choice, { 'x-yare-region': 'us-ca' });
    expect(answer.status).toBe(201);
    const { receipt } = (await answer.json()) as { receipt: { id: string } };
    expect(receipt).toMatchObject({ choice: 'allowed some', region: 'US-CA', allowed: ['measurement'] });
    const copy = await (await fetch(`${origin}/${site.siteKey}/receipts/${receipt.id}`)).json();
    expect(copy).toMatchObject({ receipt });
  });

  it.each([
    ['another site', choice, { origin: 'https://evil.example' }, 403],
    ['no JSON', '{', {}, 400],
    ['a broken key', { ...choice, visitorKey: 'x' }, {}, 400],
    ['an unknown version', { ...choice, version: 99 }, {}, 400],
    ['too much', { ...choice, language: 'x'.repeat(9000) }, {}, 413],
  ])('refuses %s', async (_, body, headers, status) => {
    const before = await countConsents(ctx.store, site.host, {});
    const answer = await send(body, headers as Record<string, string>);
    expect(answer.status).toBe(status);
    expect(((await answer.json()) as { error: string }).error).not.toBe('');
    expect(await countConsents(ctx.store, site.host, {})).toBe(before);
  });

  it('records nothing of a sweep', async () => {
    const before = await countConsents(ctx.store, site.host, {});
    const token = rehearsalToken(ctx.settings.SECRET_KEY, site.siteKey, ctx.now());
    expect(await (await send(choice, { 'x-yare-rehearsal': token })).json()).toMatchObject({
      rehearsal: true,
    });
    expect(await countConsents(ctx.store, site.host, {})).toBe(before);
    expect((await send(choice, { 'x-yare-rehearsal': 'f'.repeat(64) })).status).toBe(201);
  });

  it('answers that it cannot when the database is gone, and loses no acknowledged choice', async () => {
    const broken = new VisitorService(
      { ...ctx, store: { ...ctx.store, one: () => Promise.reject(new Error('gone')) } as typeof ctx.store },
      '',
      '',
    );
    const down = createServer((request, response) => void broken.answer(request, response));
    await new Promise<void>((ready) => down.listen(0, '127.0.0.1', ready));
    const answer = await fetch(`http://127.0.0.1:${(down.address() as AddressInfo).port}/${site.siteKey}.js`);
    expect(answer.status).toBe(503);
    down.close();
  });

  it('holds back one address that floods it', async () => {
    const statuses = new Set<number>();
    for (let i = 0; i < 130; i++) statuses.add((await send({ ...choice, visitorKey: 'x' })).status);
    expect([...statuses]).toEqual([400, 429]);
  });
});
