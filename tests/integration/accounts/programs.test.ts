import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import {
  addEventHook,
  callsOf,
  findEventHook,
  listEventHooks,
  sendAgain,
  stopEventHook,
  tryHook,
} from '../../../src/server/accounts/programs/event-hooks.ts';
import { tellHooks } from '../../../src/server/accounts/programs/tell-hooks.ts';
import {
  accountOfToken,
  addToken,
  endToken,
  listTokens,
} from '../../../src/server/accounts/programs/token.ts';
import { withChanges } from '../../../src/server/evidence/changes-made.ts';
import { record, recordAll, seal } from '../../../src/server/evidence/ledger.ts';
import { forgetAnswers, onceOnly } from '../../../src/server/http/repeated-request.ts';
import { sendMessages } from '../../../src/server/outbox/send.ts';
import { signedHeaders } from '../../../src/server/outbox/webhook-carrier.ts';
import { testAccount, testContext, unique } from '../context.ts';

const own = testContext();
let received: { headers: IncomingMessage['headers']; body: string }[] = [];
let answer = 200;
const receiver = createServer((request, response) => {
  const parts: Buffer[] = [];
  request.on('data', (part: Buffer) => parts.push(part));
  request.on('end', () => {
    received.push({ headers: request.headers, body: Buffer.concat(parts).toString() });
    response.writeHead(answer).end();
  });
});
await new Promise<void>((up) => receiver.listen(0, '127.0.0.1', up));
const port = (receiver.address() as AddressInfo).port;
const ctx = { ...own, settings: { ...own.settings, ALLOWED_PRIVATE: `localhost:${port}` } };
const at = (time: string) => own.at(time);
afterAll(async () => {
  receiver.close();
  await own.store.close();
});

let officer: Account;
beforeEach(async () => {
  at('2026-12-01T09:00:00Z');
  received = [];
  answer = 200;
  for (const table of ['answered_request', 'event_hook', 'outgoing_message', 'access_token'])
    await ctx.store.run(`DELETE FROM ${table}`);
  officer = await testAccount(ctx);
});

const give = (account: Account, actions: string[] = ['holdings.read'], days = 30) =>
  ctx.store.transaction((tx) =>
    addToken(tx, ctx.now(), account, { name: unique('token'), actions: actions as never, days }),
  );
const opened = (token: string) => accountOfToken(ctx.store, ctx.now(), `Bearer ${token}`);

describe('a token', () => {
  it('acts as its account until its end, its being ended, or the end of the account', async () => {
    const [one, other, third] = [
      await give(officer),
      await give(officer, ['today.read'], 1),
      await give(officer),
    ];
    expect(await opened(one.token)).toMatchObject({ id: officer.id, token: one.id });
    expect(await opened(other.token)).toMatchObject({ token: other.id });
    at('2026-12-02T09:00:01Z');
    await expect(opened(other.token)).rejects.toMatchObject({ status: 401 });
    await ctx.store.transaction((tx) => endToken(tx, ctx.now(), officer, one.id));
    await expect(opened(one.token)).rejects.toMatchObject({ status: 401 });
    await expect(
      ctx.store.transaction((tx) => endToken(tx, ctx.now(), officer, one.id)),
    ).rejects.toMatchObject({
      status: 409,
    });
    await ctx.store.run('UPDATE account SET disabled_at = NOW(3) WHERE id = ?', [officer.id]);
    await expect(opened(third.token)).rejects.toMatchObject({ status: 401 });
    for (const wrong of ['', 'yt_short', `yt_${'x'.repeat(43)}`, "yt_' OR 1=1 --"])
      await expect(opened(wrong)).rejects.toMatchObject({ status: 401 });
    await expect(accountOfToken(ctx.store, ctx.now(), null)).rejects.toMatchObject({ status: 401 });
  });

  it('is given no more than its account may, and loses what the account loses', async () => {
    const steward = await testAccount(ctx, 'data steward');
    await expect(give(steward, ['accounts.read'])).rejects.toMatchObject({
      fields: [expect.objectContaining({ field: 'actions' })],
    });
    const { token } = await give(steward, ['holdings.read', 'holdings.sources']);
    expect((await opened(token)).roles[0]?.actions).toEqual(['holdings.read', 'holdings.sources']);
    await ctx.store.run('DELETE FROM account_role WHERE account_id = ?', [steward.id]);
    expect((await opened(token)).roles[0]?.actions).toEqual([]);
  });

  it('is seen and ended by its owner and by whoever looks after programs, and kept as a digest', async () => {
    const [steward, other] = [await testAccount(ctx, 'data steward'), await testAccount(ctx, 'data steward')];
    const { id, token } = await give(steward);
    expect((await listTokens(ctx.store, steward)).map((t) => t.id)).toEqual([id]);
    expect(await listTokens(ctx.store, other)).toEqual([]);
    expect((await listTokens(ctx.store, officer)).map((t) => t.id)).toContain(id);
    await expect(ctx.store.transaction((tx) => endToken(tx, ctx.now(), other, id))).rejects.toMatchObject({
      status: 404,
    });
    await ctx.store.transaction((tx) => endToken(tx, ctx.now(), officer, id));
    const rows = await ctx.store.all(
      z.object({ all: z.string() }),
      'SELECT CONCAT_WS(" ", name, HEX(token_hash), actions) AS `all` FROM access_token',
    );
    expect(JSON.stringify(rows)).not.toContain(token);
  });

  it('stands in the ledger with what its program did', async () => {
    const { result: id } = await withChanges(
      () =>
        ctx.store.transaction(async (tx) => {
          await recordAll(tx, ctx.now(), [
            { actor: officer.id, action: 'thing.do', object: 'thing', objectId: 1, detail: { a: 1 } },
          ]);
          return record(tx, ctx.now(), {
            ...{ actor: officer.id, action: 'thing.do', object: 'thing', objectId: 2, detail: {} },
          });
        }),
      41,
    );
    const rows = await ctx.store.all(
      z.object({ detail: z.unknown() }),
      'SELECT detail FROM ledger_entry WHERE id >= ? - 1 AND action = ? ORDER BY id',
      [id, 'thing.do'],
    );
    expect(rows.map((r) => (typeof r.detail === 'string' ? JSON.parse(r.detail) : r.detail))).toEqual([
      { a: 1, token: 41 },
      { token: 41 },
    ]);
  });
});

describe('a request with a key', () => {
  const asked = async (more: object = {}) => ({
    ...{ token: (await give(officer)).id, key: 'k-1', method: 'POST', path: '/api/x' },
    ...{ body: Buffer.from('{}'), ...more },
  });
  const json = (value: unknown, status = 200) =>
    new Response(JSON.stringify(value), { status, headers: { 'content-type': 'application/json' } });

  it('is done once, however often it comes, and answered the same', async () => {
    const one = await asked();
    let done = 0;
    const work = () => Promise.resolve(json({ n: ++done }));
    expect(await (await onceOnly(ctx, one, work)).json()).toEqual({ n: 1 });
    const again = await onceOnly(ctx, one, work);
    expect(await again.json()).toEqual({ n: 1 });
    expect(again.headers.get('idempotency-replayed')).toBe('true');
    expect(done).toBe(1);
    // Refused for good is answered the same, too; another token's key is another.
    await onceOnly(ctx, { ...one, key: 'k-2' }, () => Promise.resolve(json({ error: 'no' }, 400)));
    expect((await onceOnly(ctx, { ...one, key: 'k-2' }, work)).status).toBe(400);
    expect(await (await onceOnly(ctx, await asked(), work)).json()).toEqual({ n: 2 });
  });

  it('is done once by many at the same moment', async () => {
    const one = await asked();
    let done = 0;
    const work = async () => {
      done += 1;
      await new Promise((on) => setTimeout(on, 50));
      return json({ n: done });
    };
    const all = await Promise.allSettled(Array.from({ length: 8 }, () => onceOnly(ctx, one, work)));
    expect(done).toBe(1);
    // Whoever came when it was done has the same answer; the others come again.
    for (const a of all)
      if (a.status === 'rejected') expect(a.reason).toMatchObject({ status: 409 });
      else expect(await a.value.json()).toEqual({ n: 1 });
  });

  it('refuses a key that was another request’s, one that is none, and says what it does not know', async () => {
    const one = await asked();
    const work = () => Promise.resolve(json({}));
    await onceOnly(ctx, one, work);
    for (const other of [{ body: Buffer.from('{"a":1}') }, { path: '/api/y' }, { method: 'PUT' }])
      await expect(onceOnly(ctx, { ...one, ...other }, work)).rejects.toMatchObject({ status: 422 });
    for (const key of ['', 'with space', 'x'.repeat(256), 'Ærø'])
      await expect(onceOnly(ctx, { ...one, key }, work)).rejects.toMatchObject({ status: 400 });
    // Killed in the middle: whether it was done is not known, and it is not done again.
    await ctx.store.run('UPDATE answered_request SET status = NULL, answer = NULL');
    await expect(onceOnly(ctx, one, work)).rejects.toMatchObject({
      status: 409,
      message: expect.stringContaining('look whether it was done'),
    });
  });

  it('is worked on again where it failed on our side, and after a day', async () => {
    const one = await asked();
    await onceOnly(ctx, one, () => Promise.resolve(json({}, 503)));
    await expect(onceOnly(ctx, one, () => Promise.reject(new Error('gone')))).rejects.toThrow('gone');
    expect((await onceOnly(ctx, one, () => Promise.resolve(json({ ok: 1 })))).status).toBe(200);
    await onceOnly(ctx, { ...one, key: 'large' }, () => Promise.resolve(json('x'.repeat(1_100_000))));
    await expect(
      onceOnly(ctx, { ...one, key: 'large' }, () => Promise.resolve(json({}))),
    ).rejects.toMatchObject({ status: 409, detail: { status: 200 } });
    at('2026-12-02T09:00:01Z');
    await forgetAnswers(ctx);
    expect(await (await onceOnly(ctx, one, () => Promise.resolve(json({ ok: 2 })))).json()).toEqual({
      ok: 2,
    });
  });
});

describe('a webhook of events', () => {
  const happen = (action: string, object: string, n = 1) =>
    ctx.store.transaction((tx) =>
      recordAll(
        tx,
        ctx.now(),
        Array.from({ length: n }, (_, i) => ({
          ...{ actor: officer.id, action, object, objectId: i, detail: { i } },
        })),
      ),
    );
  const add = (events: string[] = [], by = officer) =>
    addEventHook(ctx, by, { name: unique('hook'), url: `http://localhost:${port}/in`, events });
  const tell = async () => {
    await seal(ctx.store, ctx.now());
    await tellHooks(ctx);
  };
  const event = (r: { body: string }) => JSON.parse(r.body) as { id: string; type: string };
  /** Calls go out side by side: their ids tell the order. */
  const types = () =>
    received
      .map(event)
      .toSorted((a, b) => Number(a.id) - Number(b.id))
      .map((e) => e.type);

  it('is told what it asked for from its beginning on, each once, signed', async () => {
    await happen('incident.open', 'incident');
    await seal(ctx.store, ctx.now());
    const { id, secret } = await add(['incident', 'site.add']);
    await happen('incident.move', 'incident', 2);
    await happen('request.add', 'request');
    await happen('site.add', 'site');
    await Promise.all([tell(), tellHooks(ctx)]);
    await tell();
    await sendMessages(ctx);
    expect(types()).toEqual(['incident.move', 'incident.move', 'site.add']);
    const [first] = received;
    expect(first?.headers['content-type']).toContain('application/cloudevents+json');
    const created = Number(/created=(\d+)/.exec(String(first?.headers['signature-input']))?.[1]);
    const key = `event ${id} ${event({ body: first?.body ?? '' }).id}`;
    const expected = signedHeaders(
      ...([`http://localhost:${port}/in`, first?.body ?? '', key, secret, `hook-${id}`] as const),
      new Date(created * 1000),
    );
    expect(first?.headers).toMatchObject(expected);
  });

  it('is sent what it did not take again, and what failed once somebody asks for it', async () => {
    const { id } = await add();
    await happen('thing.do', 'thing');
    answer = 503;
    await tell();
    await sendMessages(ctx);
    expect((await callsOf(ctx.store, id)).map((c) => c.state)).toContain('waiting');
    answer = 400;
    at('2026-12-01T12:00:00Z');
    await sendMessages(ctx);
    const failed = (await callsOf(ctx.store, id)).find((c) => c.entry !== null && c.state === 'failed');
    expect(failed?.error).toContain('400');
    answer = 200;
    received = [];
    await sendAgain(ctx, id, failed?.id ?? 0);
    await sendMessages(ctx);
    expect(received).toHaveLength(1);
    await expect(sendAgain(ctx, id, failed?.id ?? 0)).rejects.toMatchObject({ status: 404 });
    await tryHook(ctx, id);
    await sendMessages(ctx);
    expect(types()).toContain('webhook.trial');
  });

  it('goes through very many, and through a tree in several steps', async () => {
    const { id } = await add(['thing.do']);
    await happen('thing.do', 'thing', 1500);
    await happen('other.do', 'other', 900);
    await tell();
    expect((await callsOf(ctx.store, id)).length).toBe(100);
    const n = await ctx.store.one(
      z.object({ n: z.coerce.number() }),
      'SELECT COUNT(*) AS n FROM outgoing_message WHERE object_id = ?',
      [String(id)],
    );
    expect(n?.n).toBe(1500);
  });

  it('waits where its maker may not see the ledger any more, and goes on from there', async () => {
    const auditor = await testAccount(ctx, 'auditor');
    const { id } = await add([], auditor);
    await ctx.store.run('DELETE FROM account_role WHERE account_id = ?', [auditor.id]);
    await happen('thing.do', 'thing');
    await tell();
    expect((await findEventHook(ctx.store, id)).paused).toMatch(/may not see the whole ledger/);
    await ctx.store.run(
      "INSERT INTO account_role (account_id, role, given_at) VALUES (?, 'auditor', UTC_TIMESTAMP(3))",
      [auditor.id],
    );
    await tellHooks(ctx);
    expect((await findEventHook(ctx.store, id)).paused).toBe('');
    expect((await callsOf(ctx.store, id)).length).toBeGreaterThan(0);
    const handler = await testAccount(ctx, 'request handler');
    await expect(add([], handler)).rejects.toMatchObject({ status: 403 });
  });

  it('is told nothing once it is stopped, what waits included, and its name is free again', async () => {
    const { id } = await add();
    const { name } = await findEventHook(ctx.store, id);
    await happen('thing.do', 'thing');
    await tell();
    await stopEventHook(ctx, officer, id);
    await sendMessages(ctx);
    expect(received).toHaveLength(0);
    await expect(tryHook(ctx, id)).rejects.toMatchObject({ status: 409 });
    await addEventHook(ctx, officer, { name, url: `http://localhost:${port}/in`, events: [] });
    expect((await listEventHooks(ctx.store)).length).toBe(2);
    await expect(add([])).resolves.toBeDefined();
    for (const url of ['nonsense', 'http://10.0.0.1/x', 'https://user:pw@x.example/'])
      await expect(addEventHook(ctx, officer, { name: unique('h'), url, events: [] })).rejects.toMatchObject({
        fields: [expect.objectContaining({ field: 'url' })],
      });
  });
});
