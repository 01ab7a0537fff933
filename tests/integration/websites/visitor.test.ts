import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { moveNotice } from '../notice.ts';
import { rehearsalToken } from '../../../src/server/websites/visitor/rehearsal-token.ts';
import { countConsents } from '../../../src/server/websites/consents/consents.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { RunningVisitor } from './running-visitor.ts';

const ctx = testContext();
let visitor: RunningVisitor;
let site: Awaited<ReturnType<typeof testSite>>;
const choice = (over: object = {}) => visitor.choice(site.siteKey, over);
const send = (body: unknown, headers: Record<string, string> = {}) => visitor.send(site, body, headers);

beforeAll(async () => {
  const account = await testAccount(ctx);
  site = await testSite(ctx);
  visitor = await RunningVisitor.start(ctx);
  await moveNotice(ctx, account.id, site.host, 'put in force', 1);
});
afterAll(async () => {
  visitor.stop();
  await ctx.store.close();
});

describe('the visitor service', () => {
  it('serves the script with the notice in force, and spares what is known already', async () => {
    const first = await fetch(`${visitor.origin}/${site.siteKey}.js`);
    const text = await first.text();
    expect(text).toContain('"version":1');
    expect(text).toContain('SCRIPT');
    expect(text).not.toContain('</');
    const again = await fetch(`${visitor.origin}/${site.siteKey}.js`, {
      headers: { 'if-none-match': first.headers.get('etag')! },
    });
    expect(again.status).toBe(304);
    expect((await fetch(`${visitor.origin}/${'0'.repeat(20)}.js`)).status).toBe(404);
    expect((await fetch(`${visitor.origin}/../etc/passwd`)).status).toBe(404);
  });

  it('takes a choice from the site’s own pages and gives a receipt anyone can check', async () => {
    const answer = await send(choice());
    expect(answer.status).toBe(201);
    const receipt = await visitor.receiptOf(answer);
    expect(receipt).toMatchObject({ choice: 'allowed some', region: 'ZZ', allowed: ['measurement'] });
    const copy = await (await fetch(`${visitor.origin}/${site.siteKey}/receipts/${receipt.id}`)).json();
    expect(copy).toMatchObject({ receipt });
  });

  it.each([
    ['another site', {}, { origin: 'https://evil.example' }, 403],
    ['no JSON', '{', {}, 400],
    ['a broken key', { visitorKey: 'x' }, {}, 400],
    ['an unknown version', { version: 99 }, {}, 400],
    ['too much', { language: 'x'.repeat(9000) }, {}, 413],
  ])('refuses %s', async (_, over, headers, status) => {
    const before = await countConsents(ctx.store, site.host, {});
    const answer = await send(
      typeof over === 'string' ? over : choice(over),
      headers as Record<string, string>,
    );
    expect(answer.status).toBe(status);
    expect(((await answer.json()) as { error: string }).error).not.toBe('');
    expect(await countConsents(ctx.store, site.host, {})).toBe(before);
  });

  it('records nothing of a sweep', async () => {
    const before = await countConsents(ctx.store, site.host, {});
    const token = rehearsalToken(ctx.settings.SECRET_KEY, site.siteKey, ctx.now());
    expect(await (await send(choice({ shown: '' }), { 'x-yare-rehearsal': token })).json()).toMatchObject({
      rehearsal: true,
    });
    expect(await countConsents(ctx.store, site.host, {})).toBe(before);
    expect((await send(choice(), { 'x-yare-rehearsal': 'f'.repeat(64) })).status).toBe(201);
  });
});
