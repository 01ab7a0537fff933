import { createServer, type Server } from 'node:https';
import type { AddressInfo } from 'node:net';
import ExcelJS from 'exceljs';
import { generate } from 'selfsigned';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../../src/core/accounts/authority.ts';
import type { ListingContent } from '../../../../src/core/holdings/listings/listing.ts';
import { RefusedError } from '../../../../src/core/refusal.ts';
import { listEntries } from '../../../../src/server/evidence/ledger.ts';
import { readAccount } from '../../../../src/server/holdings/listings/account-listing.ts';
import { keepListing } from '../../../../src/server/holdings/listings/keep-listing.ts';
import {
  markedTable,
  viewStoreTable,
  takeTable,
} from '../../../../src/server/holdings/listings/listing-table.ts';
import {
  addListing,
  LISTING,
  listListings,
  moveListing,
  removeListing,
  tryListing,
  viewListing,
} from '../../../../src/server/holdings/listings/listings.ts';
import {
  queueReading,
  readDueListings,
  readListingJob,
} from '../../../../src/server/holdings/listings/read-listing.ts';
import {
  listStores,
  setAside,
  takeStores,
  trySourcesJob,
} from '../../../../src/server/holdings/listings/stores.ts';
import { queueRemoval, removeSourceJob } from '../../../../src/server/holdings/sources/remove-source.ts';
import { addSystem } from '../../../../src/server/holdings/sources/systems.ts';
import { findSource, viewSource } from '../../../../src/server/holdings/sources/sources.ts';
import { findJob } from '../../../../src/server/jobs/job.ts';
import { Runner } from '../../../../src/server/jobs/runner.ts';
import { editObject, readObject } from '../../../../src/server/rules/plain-object.ts';
import { readSettings } from '../../../../src/server/settings.ts';
import { Count } from '../../../../src/server/store/columns.ts';
import { ownDatabase } from '../../../own-database.ts';
import { testAccount, testContext, unique } from '../../context.ts';
import { newSurvey, tempFolder, writeFiles } from '../estate.ts';
import { testItem, testSource } from '../estate-rows.ts';
import { sendFile } from '../../sent-file.ts';

const home = tempFolder();
let server: Server;
let certificate = '';
let base = '';
/** What the account answers with, by path. */
let pages: Record<string, unknown> = {};
let asked: string[] = [];
let ctx = testContext();
let officer: Account;

beforeAll(async () => {
  const made = await generate([{ name: 'commonName', value: 'test' }], {
    keyType: 'ec',
    algorithm: 'sha256',
    extensions: [{ name: 'subjectAltName', altNames: [{ type: 2, value: 'account.localhost' }] }],
  });
  certificate = made.cert.trim();
  server = createServer({ key: made.private, cert: made.cert }, (request, response) => {
    asked.push(`${request.url} ${request.headers.authorization}`);
    const page = pages[request.url ?? ''];
    if (request.headers.authorization !== 'Bearer the key') response.writeHead(401).end();
    else if (page === undefined) response.writeHead(404).end();
    else response.end(typeof page === 'string' ? page : JSON.stringify(page));
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  base = `https://account.localhost:${port}`;
  ctx = {
    ...ctx,
    settings: readSettings({
      DATABASE_URL: ownDatabase(),
      SECRET_KEY: 'ab'.repeat(32),
      LOG_LEVEL: 'silent',
      SOURCE_ROOTS: home.path,
      SMTP_URL: 'smtp://127.0.0.1:9',
      ALLOWED_PRIVATE: `localhost:${port}`,
    }),
  };
  officer = await testAccount(ctx);
});
afterAll(() => {
  server.close();
  server.closeAllConnections();
  home.remove();
});

const told = (id: string, more: Record<string, unknown> = {}) => ({
  id,
  name: `store ${id}`,
  address: { kind: 'folder', root: `${home.path}/${id}` },
  ...more,
});
const address = () => ({ kind: 'account' as const, url: `${base}/stores`, certificate });
const content = (more: Partial<ListingContent> = {}): ListingContent => ({
  name: unique('account'),
  schedule: null,
  tell: [],
  owners: [],
  ...more,
});
const add = (more: Partial<ListingContent> = {}, at: 'account' | 'table' = 'account') =>
  ctx.store.transaction((tx) =>
    addListing(tx, ctx, officer.id, {
      content: content(more),
      address: at === 'account' ? address() : { kind: 'table' },
      secret: 'the key',
    }),
  );

/** Runs what waits until a job is over. */
async function work(job: string) {
  const runner = new Runner(ctx, [readListingJob, trySourcesJob, removeSourceJob], undefined, 20);
  runner.start();
  try {
    for (let tries = 0; tries < 400; tries++) {
      const now = await findJob(ctx.store, job);
      if (now && !['waiting', 'running'].includes(now.state)) return now;
      await new Promise((done) => setTimeout(done, 25));
    }
    throw new Error('The job is not over.');
  } finally {
    await runner.stop();
  }
}
const read = async (id: number) => work((await queueReading(ctx, officer.id, id)).job);
const storesOf = async (id: number, wish: Record<string, string> = {}) =>
  (await listStores(ctx, id, wish, undefined, 100)).rows;

describe('an account', () => {
  it('is read page by page with its key, and told what could not be taken', async () => {
    pages = {
      '/stores': {
        stores: [told('a'), { id: 'x', name: 'tape', address: { kind: 'tape' } }],
        next: '/stores?2',
      },
      '/stores?2': { stores: [told('b')], next: null },
    };
    asked = [];
    const all = await readAccount(ctx.settings, address(), 'the key');
    expect(all.stores.map((s) => s.key)).toEqual(['a', 'b']);
    expect(all.faults).toMatchObject([{ id: 'x', store: 'tape' }]);
    expect(asked).toEqual(['/stores Bearer the key', '/stores?2 Bearer the key']);
  });

  it.each([
    ['another key', { '/stores': { stores: [] } }, 'not mine', 'secret', /does not take this key/],
    ['no listing', { '/stores': { files: [] } }, 'the key', 'url', /no listing of stores/],
    ['no JSON', { '/stores': '<html>' }, 'the key', 'url', /cannot be read/],
    ['nothing there', {}, 'the key', 'url', /answered 404/],
    ['a circle', { '/stores': { stores: [], next: '/stores' } }, 'the key', 'url', /circle/],
    [
      'a page of somebody else’s',
      { '/stores': { stores: [], next: 'https://evil.example/stores' } },
      'the key',
      'url',
      /another server; nothing was sent/,
    ],
  ])('with %s says so', async (_, answers, key, field, words) => {
    pages = answers;
    const failure = readAccount(ctx.settings, address(), key);
    await expect(failure).rejects.toThrow(words);
    await expect(failure).rejects.toMatchObject({ field });
  });

  it('is not believed without the certificate, and not reached where that is not allowed', async () => {
    pages = { '/stores': { stores: [] } };
    await expect(tryListing(ctx, { ...address(), certificate: '' }, 'the key')).rejects.toMatchObject({
      fields: [{ field: 'certificate' }],
    });
    await expect(
      tryListing(ctx, { ...address(), url: 'https://localhost:1/' }, 'the key'),
    ).rejects.toMatchObject({
      fields: [{ field: 'url', message: expect.stringContaining('ALLOWED_PRIVATE') as string }],
    });
  });

  it('is kept with its key sealed, moved, renamed and let go', async () => {
    const id = await add();
    const row = await ctx.store.one(
      z.object({ secret: z.string() }),
      'SELECT secret FROM listing WHERE id = ?',
      [id],
    );
    expect(row?.secret).not.toContain('the key');
    pages = { '/stores': { stores: [told('a')] } };
    await moveListing(ctx, officer.id, id, address(), undefined);
    await expect(moveListing(ctx, officer.id, id, address(), 'wrong')).rejects.toBeInstanceOf(RefusedError);
    expect((await read(id)).state).toBe('done');
    const before = await readObject(ctx.store, LISTING, id);
    const next = { ...before.content, name: unique('renamed') };
    await ctx.store.transaction((tx) =>
      editObject(tx, ctx.now(), LISTING, officer.id, id, {
        revision: before.revision,
        base: before.content,
        content: next,
      }),
    );
    const listed = await listListings(ctx, { text: next.name }, undefined, 10);
    expect(listed.rows).toMatchObject([{ id, kind: 'account', stores: 1, open: 1 }]);
    await removeListing(ctx, officer.id, id);
    await expect(viewListing(ctx, id)).rejects.toThrow();
    const { rows } = await listEntries(ctx.store, { object: 'listing', objectId: String(id) }, undefined, 10);
    expect(rows.map((e) => e.action)).toEqual(
      expect.arrayContaining([
        'listing.add',
        'listing.move',
        'listing.read',
        'listing.edit',
        'listing.remove',
      ]),
    );
  });
});

describe('what a reading means', () => {
  it('tells people what is new, gone and changed, once, and keeps what it knew where it fails', async () => {
    const id = await add({ tell: [officer.id] });
    const today = async () =>
      ctx.store.all(
        z.object({ words: z.string(), detail: z.string() }),
        "SELECT words, detail FROM today_item WHERE kind = 'stores found' AND assigned_to = ? AND link = ?",
        [officer.id, `/holdings/listings/${id}`],
      );
    const mails = async () =>
      (
        await ctx.store.one(
          z.object({ n: Count }),
          "SELECT COUNT(*) AS n FROM outgoing_message WHERE object = 'listing' AND object_id = ?",
          [String(id)],
        )
      )?.n;
    pages = { '/stores': { stores: [told('a'), told('b'), told('c', { team: 'IT' })] } };
    await read(id);
    expect((await today()).map((t) => t.words)).toEqual([expect.stringMatching(/: 3 new$/)]);
    pages = { '/stores': { stores: [told('a'), told('c', { team: 'Crew' }), told('d')] } };
    await read(id);
    expect((await today()).map((t) => t.words)).toEqual([
      expect.stringMatching(/: 1 new, 1 changed, 1 gone$/),
    ]);
    expect(await mails()).toBe(2);
    expect((await storesOf(id)).map((s) => [s.name, s.news, s.changes])).toEqual([
      ['store a', 'same', []],
      ['store b', 'gone', []],
      ['store c', 'changed', ['team was IT, and is now Crew']],
      ['store d', 'new', []],
    ]);
    await read(id);
    expect(await mails()).toBe(2);
    pages = { '/stores': { stores: [told('a')], next: '/gone' } };
    expect((await read(id)).state).toBe('failed');
    const view = await viewListing(ctx, id);
    expect(view.health).toMatchObject({ ok: false, words: expect.stringContaining('404') as string });
    expect(view.outcome).toMatchObject({ stores: 3, new: 0, gone: 0 });
    expect(view.counts).toMatchObject({ open: 4, news: { gone: 1, same: 3 } });
    pages = { '/stores': { stores: [told('a'), told('b'), told('c', { team: 'Crew' })] } };
    await read(id);
    expect((await viewListing(ctx, id)).outcome).toMatchObject({ back: 1, gone: 1 });
  });

  it('does not call gone what only could not be taken', async () => {
    const id = await add();
    pages = { '/stores': { stores: [told('a'), told('b')] } };
    await read(id);
    pages = { '/stores': { stores: [told('a'), told('b', { address: { kind: 'tape' } })] } };
    await read(id);
    expect((await viewListing(ctx, id)).outcome).toMatchObject({ gone: 0, faulty: 1 });
  });

  it('is asked for by itself when it is due', async () => {
    const id = await add({
      schedule: { every: 'day', weekday: 1, day: 1, at: '06:00', zone: 'Europe/Copenhagen' },
    });
    await ctx.store.run('UPDATE listing SET next_run = ? WHERE id = ?', ['2020-01-01', id]);
    await readDueListings(ctx);
    await readDueListings(ctx);
    const jobs = await ctx.store.one(
      z.object({ n: Count }),
      "SELECT COUNT(*) AS n FROM job WHERE kind = 'read-listing' AND object_id = ?",
      [String(id)],
    );
    expect(jobs?.n).toBe(1);
    expect(new Date((await viewListing(ctx, id)).nextRun ?? 0).getTime()).toBeGreaterThan(
      ctx.now().getTime(),
    );
    await expect(queueReading(ctx, officer.id, id)).rejects.toMatchObject({ status: 409 });
  });
});

describe('stores', () => {
  it('are taken in many at once, with their system by rule, and tried afterwards', async () => {
    const system = await ctx.store.transaction((tx) =>
      addSystem(tx, ctx.now(), officer.id, {
        name: unique('system'),
        about: '',
        owner: '',
        steward: null,
        country: '',
        vendors: [],
        notes: '',
      }),
    );
    const [one, two] = [unique('there'), unique('not-there')];
    writeFiles(home.path, { [`${one}/x.txt`]: 'x' });
    const id = await add({ owners: [{ of: 'team', like: 'port*', system }] });
    pages = { '/stores': { stores: [told(one, { team: 'Port operations' }), told(two)] } };
    await read(id);
    const rows = await storesOf(id);
    expect(rows.map((r) => r.system?.id ?? null).sort()).toEqual([null, system].sort());
    const ids = rows.map((r) => r.id);
    const { sources, known } = await takeStores(ctx, officer.id, id, { ids, user: '', secret: '' });
    expect([sources.length, known]).toEqual([2, 0]);
    expect((await viewSource(ctx, sources[0] ?? 0)).health).toBeNull();
    const job = await ctx.store.one(
      z.object({ id: z.union([z.number(), z.string()]) }),
      "SELECT id FROM job WHERE kind = 'try-sources' AND object_id = ? ORDER BY id DESC LIMIT 1",
      [String(id)],
    );
    expect((await work(String(job?.id))).state).toBe('done');
    const taken = await Promise.all(sources.map((s) => findSource(ctx.store, s)));
    expect(taken.map((s) => [s.content.name, s.content.system, s.health?.ok])).toEqual(
      expect.arrayContaining([
        [`store ${one}`, system, true],
        [`store ${two}`, null, false],
      ]),
    );
    expect((await storesOf(id, { standing: 'source' })).length).toBe(2);
    // Again, from another listing that names the same place: nothing is doubled.
    const other = await add();
    await read(other);
    expect((await storesOf(other)).map((s) => s.standing)).toEqual(['source', 'source']);
    expect((await viewListing(ctx, other)).outcome).toMatchObject({ knownBefore: 0, knownNow: 2 });
  });

  it('of a name that is taken get another, and those that are gone are left', async () => {
    const id = await add();
    const [a, b] = [unique('a'), unique('b')];
    pages = { '/stores': { stores: [told(a, { name: 'Twins' }), told(b, { name: 'twins' })] } };
    await read(id);
    const ids = (await storesOf(id)).map((r) => r.id);
    const { sources } = await takeStores(ctx, officer.id, id, { ids, user: '', secret: '' });
    const names = await Promise.all(sources.map(async (s) => (await findSource(ctx.store, s)).content.name));
    expect(new Set(names.map((n) => n.toLowerCase())).size).toBe(2);
    pages = { '/stores': { stores: [told('z')] } };
    await read(id);
    pages = { '/stores': { stores: [] } };
    await read(id);
    const z = (await storesOf(id, { standing: 'open' })).map((r) => r.id);
    await expect(takeStores(ctx, officer.id, id, { ids: z, user: '', secret: '' })).rejects.toThrow(
      /any more/,
    );
  });

  it('are set aside with a reason, and decided on again', async () => {
    const id = await add();
    pages = { '/stores': { stores: [told(unique('a'))] } };
    await read(id);
    const ids = (await storesOf(id)).map((r) => r.id);
    expect(await setAside(ctx, officer.id, id, ids, 'only logs')).toEqual({ changed: 1 });
    expect(await storesOf(id)).toMatchObject([{ standing: 'aside', reason: 'only logs' }]);
    await read(id);
    expect(await storesOf(id)).toMatchObject([{ standing: 'aside', reason: 'only logs' }]);
    await setAside(ctx, officer.id, id, ids, null);
    expect(await storesOf(id)).toMatchObject([{ standing: 'open', reason: null }]);
    await expect(setAside(ctx, officer.id, id, ['999999999'], 'x y z')).rejects.toBeInstanceOf(RefusedError);
  });
});

describe('a table', () => {
  const send = (bytes: Buffer, name = 'stores.xlsx') => sendFile(ctx, officer.id, name, bytes);
  async function workbook(rows: readonly (readonly string[])[]): Promise<Buffer> {
    const book = new ExcelJS.Workbook();
    const sheet = book.addWorksheet('Stores');
    for (const row of rows) sheet.addRow([...row]);
    return Buffer.from(await book.xlsx.writeBuffer());
  }

  it('is matched, taken whole or not at all, and compared when it comes again', async () => {
    const id = await add({}, 'table');
    const faulty = await send(
      await workbook([
        ['What', 'Type', 'Where', 'Unit'],
        ['Port', 'share', '/srv/port', 'Port'],
        ['Tape', 'tape', '/srv/tape', 'IT'],
        ['=1+1', 'folder', 'srv/x', ''],
      ]),
    );
    const sight = await viewStoreTable(ctx, officer.id, faulty, id);
    expect(sight.matched).toEqual({ kind: 'Type', where: 'Where', team: 'Unit' });
    const headings = { ...sight.matched, name: 'What' };
    await expect(takeTable(ctx, officer.id, id, faulty, sight.matched)).rejects.toMatchObject({
      fields: [{ field: 'headings.name' }],
    });
    await expect(takeTable(ctx, officer.id, id, faulty, headings)).rejects.toMatchObject({
      fields: [{ field: 'row 3, Type' }, { field: 'row 4, Where' }],
    });
    expect((await viewListing(ctx, id)).outcome).toBeNull();
    const marked = new ExcelJS.Workbook();
    await marked.xlsx.load((await markedTable(ctx, officer.id, faulty, headings)).buffer as ArrayBuffer);
    const sheet = marked.worksheets[0];
    expect(sheet?.getCell('E3').text).toContain('“tape” is no kind of source');
    expect(sheet?.getCell('B3').fill).toMatchObject({ type: 'pattern' });
    expect(sheet?.getCell('B2').fill).not.toMatchObject({ pattern: 'solid' });
    expect(sheet?.getCell('A4').value).toBe("'=1+1");

    const good = await send(
      Buffer.from('What;Type;Where;Unit\nPort;share;/srv/port;Port\nMail;imap;mail.example;IT\n'),
      's.csv',
    );
    expect(await takeTable(ctx, officer.id, id, good, headings)).toMatchObject({ stores: 2, new: 2 });
    const again = await send(Buffer.from('Unit;What;Type;Where\nCrew;Port;share;/srv/port\n'), 's.csv');
    const next = await viewStoreTable(ctx, officer.id, again, id);
    expect(next.matched).toEqual(headings);
    expect(await takeTable(ctx, officer.id, id, again, next.matched)).toMatchObject({
      stores: 1,
      new: 0,
      changed: 1,
      gone: 1,
    });
  });

  it('that is none is refused, and an account takes no table', async () => {
    const id = await add({}, 'table');
    const upload = await send(Buffer.from('just words'), 'x.txt');
    await expect(viewStoreTable(ctx, officer.id, upload, id)).rejects.toMatchObject({
      fields: [{ field: 'upload' }],
    });
    await expect(queueReading(ctx, officer.id, id)).rejects.toBeInstanceOf(RefusedError);
    const account = await add();
    const other = await send(Buffer.from('a;b\n1;2\n'), 's.csv');
    await expect(takeTable(ctx, officer.id, account, other, {})).rejects.toThrow(/account/);
  });
});

describe('forgetting a source', () => {
  it('is refused while a survey reads it, and takes all that was known', async () => {
    const source = await testSource(ctx);
    for (let i = 0; i < 3; i++) await testItem(ctx, source);
    const survey = await newSurvey(ctx, [source]);
    await expect(queueRemoval(ctx, officer.id, source)).rejects.toMatchObject({ status: 409 });
    await ctx.store.run('DELETE FROM survey WHERE id = ?', [survey]);
    const { job } = await queueRemoval(ctx, officer.id, source);
    expect((await work(job)).state).toBe('done');
    await expect(findSource(ctx.store, source)).rejects.toThrow();
    const left = await ctx.store.one(
      z.object({ n: Count }),
      'SELECT COUNT(*) AS n FROM item WHERE source_id = ?',
      [source],
    );
    expect(left?.n).toBe(0);
  });
});

it('keeps twenty thousand stores in one reading', async () => {
  const id = await add();
  const stores = Array.from({ length: 20_000 }, (_, i) => ({
    key: `k${i}`,
    name: `n${i}`,
    address: { kind: 'folder' as const, root: `/mnt/${i}` },
    team: '',
    region: '',
    bytes: null,
    created: null,
  }));
  await ctx.store.transaction((tx) => keepListing(tx, ctx, null, id, { stores, faults: [] }));
  const page = await listStores(ctx, id, { text: 'n1999' }, undefined, 100);
  expect(page.total).toBe(11);
});
