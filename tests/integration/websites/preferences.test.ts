import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { Mailing } from '../../../standins/mailing.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import { verifyWhole } from '../../../src/server/evidence/verify.ts';
import { sendMessages } from '../../../src/server/outbox/send.ts';
import { editRule } from '../../../src/server/rules/rule-edits.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { readRule } from '../../../src/server/rules/rule-store.ts';
import {
  askedPage,
  beginPage,
  PAGE_ID,
  PREFERENCE_PAGE,
} from '../../../src/server/websites/preferences/page-kind.ts';
import { peopleTable } from '../../../src/server/websites/preferences/people-table.ts';
import {
  addPerson,
  erasePerson,
  listPeople,
  peopleFigures,
  takePeople,
} from '../../../src/server/websites/preferences/people.ts';
import { findPerson } from '../../../src/server/websites/preferences/preference-person.ts';
import { personLinks, personOfLink } from '../../../src/server/websites/preferences/person-link.ts';
import {
  recordLeaving,
  recordPreference,
} from '../../../src/server/websites/preferences/preference-intake.ts';
import {
  PREFERENCE_WITNESS,
  preferencesOf,
} from '../../../src/server/websites/preferences/preference-record.ts';
import {
  addTool,
  listTools,
  stopTool,
  tellToolAll,
  writeToolMessages,
} from '../../../src/server/websites/preferences/tools.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { sendFile } from '../sent-file.ts';

const base = testContext();
const folder = mkdtempSync(join(tmpdir(), 'yare-mailing-'));
const secrets = new Map<string, string>();
const mailing = new Mailing(folder, (keyId) => secrets.get(keyId));
let server: Server;
let origin = '';
let ctx = base;
let account: Awaited<ReturnType<typeof testAccount>>;

beforeAll(async () => {
  server = createServer((request, response) => {
    const url = new URL(request.url ?? '/', origin);
    void mailing.answer(request, response, url);
  });
  await new Promise<void>((up) => server.listen(0, '127.0.0.1', up));
  const { port } = server.address() as AddressInfo;
  origin = `http://localhost:${port}`;
  ctx = {
    ...base,
    settings: { ...base.settings, ALLOWED_PRIVATE: `localhost:${port}`, SMTP_URL: 'smtp://127.0.0.1:9' },
  };
  account = await testAccount(ctx);
  await ctx.store.transaction((tx) => beginPage(tx, ctx.now(), account.id, 'Harbour Line'));
});
afterAll(async () => {
  server.close();
  rmSync(folder, { recursive: true });
  await ctx.store.close();
});

async function move(act: 'put in force' | 'pause' | 'resume'): Promise<void> {
  const { revision } = await readRule(ctx.store, PREFERENCE_PAGE, PAGE_ID);
  await ctx.store.transaction((tx) =>
    moveRule(tx, ctx.now(), PREFERENCE_PAGE, account.id, PAGE_ID, act, revision),
  );
}

const newPerson = async () =>
  (
    await addPerson(ctx, account.id, {
      address: `${unique('p')}@mail.example`,
      name: 'P',
      number: '',
      language: 'da',
    })
  ).id;
const YES = { channels: ['email'], topics: ['news'], by: 'link', actor: 'visitor' } as const;

/** What the tool’s own page has of somebody. */
async function known(address: string): Promise<string | undefined> {
  const html = await (await fetch(origin)).text();
  return new RegExp(`<td>${address}</td><td>[^<]*</td><td>([^<]*)</td>`).exec(html)?.[1];
}

describe('the page', () => {
  it('is begun once, and asks nobody before it is in force', async () => {
    await expect(
      ctx.store.transaction((tx) => beginPage(tx, ctx.now(), account.id, 'Again')),
    ).rejects.toMatchObject({ status: 409 });
    expect(await askedPage(ctx.store)).toBeUndefined();
    await expect(recordPreference(ctx, { person: await newPerson(), ...YES })).rejects.toMatchObject({
      status: 409,
    });
    await move('put in force');
    expect(await askedPage(ctx.store)).toMatchObject({ version: 1, open: true });
  });

  it('is not put in force with a topic that has no name in one of its languages', async () => {
    const { revision, content } = await readRule(ctx.store, PREFERENCE_PAGE, PAGE_ID);
    const topics = [...content.topics, 'tide-tables'];
    await editRule(ctx, PREFERENCE_PAGE, account.id, PAGE_ID, {
      ...{ revision, base: content, content: { ...content, topics } },
    });
    await expect(move('put in force')).rejects.toMatchObject({
      fields: [{ message: 'Say what the topic “Tide tables” is called in Danish.' }],
    });
    const saved = await readRule(ctx.store, PREFERENCE_PAGE, PAGE_ID);
    const words = { ...saved.content.words, 'da topic tide-tables': 'Tidevand' };
    await editRule(ctx, PREFERENCE_PAGE, account.id, PAGE_ID, {
      ...{ revision: saved.revision, base: saved.content, content: { ...saved.content, words } },
    });
    await move('put in force');
    expect((await askedPage(ctx.store))?.version).toBe(2);
  });

  it('takes leaving also while it is paused, and nothing else', async () => {
    const person = await newPerson();
    await recordPreference(ctx, { person, ...YES });
    await move('pause');
    await expect(recordPreference(ctx, { person, ...YES, topics: ['tide-tables'] })).rejects.toMatchObject({
      status: 409,
    });
    expect(await recordLeaving(ctx, { person, by: 'link', actor: 'visitor' })).toMatchObject({ act: 'left' });
    await move('resume');
  });
});

describe('a choice', () => {
  it('is on record with its receipt in the sealed ledger, one after the other', async () => {
    const person = await newPerson();
    const first = await recordPreference(ctx, { person, ...YES });
    const left = await recordLeaving(ctx, {
      ...{ person, reason: 'too-often', words: ' Every day! ', by: 'link', actor: 'visitor' },
    });
    const odd = await recordPreference(ctx, {
      person,
      ...YES,
      channels: ['fax', 'sms'],
      reason: 'too-often',
    });
    expect([first.act, left.act, odd.act]).toEqual(['first', 'left', 'came back']);
    // Who stays has no reason for leaving, and nobody is reached by what was not asked.
    expect(odd).toMatchObject({ channels: ['sms'], reason: '' });
    await seal(ctx.store, ctx.now());
    const records = await preferencesOf(ctx.store, person);
    expect(records.map((r) => [r.receipt.act, r.words, r.matches])).toEqual([
      ['came back', '', true],
      ['left', 'Every day!', true],
      ['first', '', true],
    ]);
    expect(await findPerson(ctx.store, person)).toMatchObject({
      ...{ stands: 'says yes', channels: ['sms'], topics: ['news'], saidSelf: true, leftAt: null },
    });
  });

  it('of two at once by one person has one first, and none is lost', async () => {
    const person = await newPerson();
    const made = await Promise.all(
      Array.from({ length: 6 }, () => recordPreference(ctx, { person, ...YES })),
    );
    expect(made.map((r) => r.act).toSorted()).toEqual(['first', ...Array<string>(5).fill('repeated')]);
    expect(await preferencesOf(ctx.store, person)).toHaveLength(6);
  });

  it('is opened by a link that nobody else can make', async () => {
    const person = await newPerson();
    const token = personLinks(ctx, person).page.split('/').at(-1) ?? '';
    expect(await personOfLink(ctx, token)).toBe(person);
    for (const wrong of [`${token}x`, token.replace(/^\d+/, String(person + 1)), '', '1.2.3'])
      expect(await personOfLink(ctx, wrong), wrong).toBeUndefined();
    const later = { ...ctx, now: () => new Date(Date.now() + 1200 * 86_400_000) };
    expect(await personOfLink(later, token)).toBeUndefined();
  });

  it('that was changed behind its back, or taken away, is found; one that was erased is not missed', async () => {
    const [changed, erased] = [await newPerson(), await newPerson()];
    await recordPreference(ctx, { person: changed, ...YES });
    await recordPreference(ctx, { person: erased, ...YES });
    await seal(ctx.store, ctx.now());
    const verify = () => verifyWhole(ctx.store, ctx.now(), { witnesses: [PREFERENCE_WITNESS] });
    expect(await verify()).toMatchObject({ ok: true });
    await erasePerson(ctx, account.id, erased, 'Case 7 of March');
    await seal(ctx.store, ctx.now());
    expect(await verify()).toMatchObject({ ok: true });
    await expect(findPerson(ctx.store, erased)).rejects.toMatchObject({ status: 404 });
    await ctx.store.run("UPDATE preference_record SET topics = 'tide-tables' WHERE person_id = ?", [changed]);
    expect(await verify()).toMatchObject({ ok: false });
    await ctx.store.run("UPDATE preference_record SET topics = 'news' WHERE person_id = ?", [changed]);
    expect(await verify()).toMatchObject({ ok: true });
  });
});

describe('a list of people', () => {
  const take = async (csv: string) =>
    takePeople(ctx, account.id, await sendFile(ctx, account.id, 'people.csv', Buffer.from(csv)));

  it('adds, changes, and takes choices over, but never in the place of what somebody said', async () => {
    const [self, told] = [unique('self'), unique('told')];
    const row = (who: string, rest: string) => `${who}@mail.example,${rest}\r\n`;
    const head = 'address,name,channels,topics\r\n';
    expect(await take(head + row(self, 'Self,email,news') + row(told, 'Told,sms,news'))).toEqual({
      ...{ added: 2, changed: 0, said: 2, stood: 0 },
    });
    const find = async (who: string) => (await listPeople(ctx.store, { text: who }, undefined, 5)).rows[0]!;
    await recordLeaving(ctx, { person: (await find(self)).id, by: 'one click', actor: 'visitor' });
    expect(await take(head + row(self, 'Self Again,email,news') + row(told, 'Told,sms,news'))).toEqual({
      ...{ added: 0, changed: 1, said: 0, stood: 1 },
    });
    expect(await find(self)).toMatchObject({ stands: 'left', name: 'Self Again' });
    expect(await find(told)).toMatchObject({ stands: 'says yes', saidSelf: false });
  });

  it('is taken whole or not at all', async () => {
    const who = unique('half');
    await expect(take(`address,language\r\n${who}@mail.example,en\r\nnobody,en\r\n`)).rejects.toMatchObject({
      fields: [{ field: 'row 2, address' }],
    });
    expect((await listPeople(ctx.store, { text: who }, undefined, 5)).total).toBe(0);
  });

  it('comes out again with a link for each, and no formula', async () => {
    const { id } = await addPerson(ctx, account.id, {
      ...{ address: `${unique('f')}@mail.example`, name: '=1+1', number: '', language: '' },
    });
    let csv = '';
    for await (const line of peopleTable(ctx, { text: '=1+1' })) csv += line;
    expect(csv).toContain("'=1+1");
    expect(csv).toContain(personLinks(ctx, id).page);
    expect(csv.trim().split('\r\n')).toHaveLength(2);
  });
});

describe('a mailing tool', () => {
  /** Lets the minutes pass that a message waits before it is tried again. */
  let clock = 0;
  const pass = async (ms: number) => {
    // Never behind what was put on record by the clock of the wall.
    clock = Math.max(clock, Date.now()) + ms;
    base.at(new Date(clock).toISOString());
    ctx = { ...ctx, now: base.now };
    await writeToolMessages(ctx);
    return sendMessages(ctx);
  };
  const connect = async (format: 'json' | 'csv') => {
    const made = await addTool(ctx, account, { name: unique('tool'), url: `${origin}/changes`, format });
    const row = await ctx.store.one(
      z.object({ hook: z.number() }),
      'SELECT hook FROM preference_tool WHERE id = ?',
      [made.id],
    );
    secrets.set(`hook-${row?.hook}`, made.secret);
    return made.id;
  };
  const state = async (id: number) => (await listTools(ctx.store)).find((t) => t.id === id);

  it.each(['json', 'csv'] as const)(
    'is told by %s of everybody when it is connected, then of each choice; what fails is tried again',
    async (format) => {
      const person = await newPerson();
      const { address } = await findPerson(ctx.store, person);
      await recordPreference(ctx, { person, ...YES });
      const id = await connect(format);
      expect((await state(id))?.people).toBeGreaterThan(0);
      await pass(1000);
      expect(await known(address)).toBe('email, news');
      expect(await state(id)).toMatchObject({ people: 0, messages: { waiting: 0, failed: 0 } });
      await fetch(`${origin}/down`, { method: 'POST', redirect: 'manual' });
      await recordLeaving(ctx, { person, by: 'link', actor: 'visitor' });
      await pass(1000);
      expect(await known(address)).toBe('email, news');
      expect((await state(id))?.messages).toMatchObject({ waiting: 1, error: 'It answered 503.' });
      await fetch(`${origin}/down`, { method: 'POST', redirect: 'manual' });
      await pass(60_000);
      expect(await known(address)).toBe('nothing');
      expect((await state(id))?.messages).toMatchObject({ waiting: 0, failed: 0 });
      await stopTool(ctx, account, id);
      expect(await state(id)).toBeUndefined();
      await expect(stopTool(ctx, account, id)).rejects.toMatchObject({ status: 404 });
      // What comes after goes nowhere, and waits for nothing.
      await recordPreference(ctx, { person, ...YES });
      expect(await pass(1000)).toBe(0);
    },
  );

  it('is told of somebody who is erased that they get nothing, and of everybody anew when asked', async () => {
    const id = await connect('json');
    const person = await newPerson();
    const { address } = await findPerson(ctx.store, person);
    await recordPreference(ctx, { person, ...YES });
    await pass(1000);
    expect(await known(address)).toBe('email, news');
    await erasePerson(ctx, account.id, person, 'Case 8 of March');
    await pass(1000);
    expect(await known(address)).toBe('nothing');
    const { people } = await tellToolAll(ctx, account, id);
    expect((await state(id))?.people).toBe(people);
    await stopTool(ctx, account, id);
  });

  it('takes nothing that was signed with another secret, and nothing that was changed on its way', async () => {
    const id = await connect('json');
    for (const key of secrets.keys()) secrets.set(key, 'another');
    const before = await (await fetch(origin)).text();
    await recordPreference(ctx, { person: await newPerson(), ...YES });
    await pass(1000);
    const [, refused] = /(\d+) refused/.exec(await (await fetch(origin)).text()) ?? [];
    expect(Number(refused)).toBeGreaterThan(Number(/(\d+) refused/.exec(before)?.[1]));
    expect((await state(id))?.messages).toMatchObject({ failed: 1, error: 'It answered 401.' });
    await stopTool(ctx, account, id);
  });
});

describe('figures', () => {
  it('count how people stand, by way and topic, and why those left who did', async () => {
    const before = await peopleFigures(ctx, 30);
    const [a, b] = [await newPerson(), await newPerson()];
    await recordPreference(ctx, { person: a, ...YES, channels: ['email', 'sms'] });
    await recordPreference(ctx, { person: b, ...YES });
    await recordLeaving(ctx, { person: b, reason: 'not-for-me', by: 'link', actor: 'visitor' });
    // Once more is no second leaving.
    await recordLeaving(ctx, { person: b, reason: 'not-for-me', by: 'link', actor: 'visitor' });
    const after = await peopleFigures(ctx, 30);
    const more = (of: (f: typeof before) => number | undefined) => (of(after) ?? 0) - (of(before) ?? 0);
    expect(more((f) => f.stands['says yes'])).toBe(1);
    expect(more((f) => f.stands.left)).toBe(1);
    expect(more((f) => f.channels['sms'])).toBe(1);
    expect(more((f) => f.left)).toBe(1);
    expect(more((f) => f.reasons.find((r) => r.reason === 'not-for-me')?.count)).toBe(1);
  });
});
