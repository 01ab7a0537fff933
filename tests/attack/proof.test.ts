import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ownDatabase } from '../own-database.ts';
import { prepareDatabase } from '../../launcher/database-command.ts';
import { LedgerVerifier, verifyEntry, writeLine } from '../../src/core/evidence/ledger.ts';
import { openContext, type Context } from '../../src/server/context.ts';
import { exportLedger, lastTree, proveEntry, record, seal } from '../../src/server/evidence/ledger.ts';
import { noteHead, readNotedHead } from '../../src/server/evidence/noted-head.ts';
import { verifyWhole } from '../../src/server/evidence/verify.ts';
import { NO_CONNECTION } from '../../src/server/http/outgoing.ts';
import { streamed } from '../../src/server/http/csv.ts';
import { readSettings } from '../../src/server/settings.ts';
import type { Store } from '../../src/server/store/pool.ts';
import { CONSENT_WITNESS } from '../../src/server/websites/consents/consent-record.ts';
import { eraseVisitor } from '../../src/server/websites/consents/consent-erasure.ts';
import { moveNotice } from '../integration/notice.ts';
import { unique } from '../integration/context.ts';
import { testAccount, testSite } from '../integration/context.ts';
import { RunningVisitor } from '../integration/websites/running-visitor.ts';

/** A ledger of its own, since it is broken here. */
let ctx: Context;
let store: Store;
let receipts: string[];
const witnesses = [CONSENT_WITNESS];
const verify = () => verifyWhole(store, ctx.now(), { witnesses });

beforeAll(async () => {
  const url = new URL(ownDatabase());
  url.pathname = `/${unique('proof')}`;
  const server = openContext(readSettings({ DATABASE_URL: ownDatabase(), SECRET_KEY: 'ab'.repeat(32) }));
  await server.store.run(`CREATE DATABASE ${url.pathname.slice(1)} CHARACTER SET utf8mb4`);
  await server.store.close();
  await (await prepareDatabase(url.href)).store.close();
  ctx = openContext(readSettings({ DATABASE_URL: url.href, SECRET_KEY: 'ab'.repeat(32) }));
  ({ store } = ctx);
  const account = await testAccount(ctx);
  const site = await testSite(ctx);
  await moveNotice(ctx, account.id, site.host, 'put in force', 1);
  const visitor = await RunningVisitor.start(ctx);
  receipts = [];
  for (let tree = 0; tree < 4; tree++) {
    for (let i = 0; i < 5; i++)
      receipts.push((await visitor.receiptOf(await visitor.send(site, visitor.choice(site.siteKey)))).id);
    await seal(store, ctx.now());
  }
  visitor.stop();
});
afterAll(() => store.close());

/** Does something behind the ledger's back, looks, and puts it back as it was. */
async function broken(break_: string, mend: string, params: readonly string[] = []): Promise<string> {
  expect(await verify()).toMatchObject({ ok: true });
  await store.run(break_, params);
  const { ok, why } = await verify();
  await store.run(mend, params);
  expect(await verify()).toMatchObject({ ok: true });
  expect(ok, break_).toBe(false);
  return why ?? '';
}

describe('verify', () => {
  it('finds every record in order', async () => {
    expect(await verify()).toMatchObject({ ok: true, trees: 4, records: 20 });
  });

  it.each([2, 4])('misses tree %i when its row is gone', async (number) => {
    await store.run('CREATE TABLE IF NOT EXISTS aside AS SELECT * FROM ledger_tree');
    expect(
      await broken(
        `DELETE FROM ledger_tree WHERE number = ${number}`,
        `INSERT INTO ledger_tree SELECT * FROM aside WHERE number = ${number}`,
      ),
    ).toMatch(number === 4 ? /sealed entries should be here/ : /follows tree/);
  });

  it('misses the tree that an entry says it is in', async () => {
    const last = await lastTree(store);
    expect(
      await broken(
        'UPDATE ledger_entry SET tree = 99 WHERE tree = 4',
        'UPDATE ledger_entry SET tree = 4 WHERE tree = 99',
      ),
    ).toMatch(/entries/);
    expect(await lastTree(store)).toEqual(last);
  });

  it('sees an entry that was slipped in as sealed', async () => {
    const why = await broken(
      "INSERT INTO ledger_entry (at, actor, action, object, object_id, detail, tree, tree_index) VALUES (UTC_TIMESTAMP(3), '1', 'slipped.in', 'x', '1', '{}', 77, 0)",
      "DELETE FROM ledger_entry WHERE action = 'slipped.in'",
    );
    expect(why).toMatch(/sealed entries should be here/);
  });

  it.each([
    ['choice', "'refused all'"],
    ['act', "'withdrawn'"],
    ['asked', "'measurement'"],
    ['allowed', "'advertising'"],
    ['language', "'sv'"],
    ['region', "'SE'"],
    ['notice_version', '9'],
    ['site_id', '(SELECT MIN(id) FROM site WHERE id <> consent_record.site_id)'],
    ['tc', "'CPxx'"],
  ])('sees that the %s of a consent record was altered', async (column, value) => {
    await testSite(ctx);
    await store.run('DROP TABLE IF EXISTS kept');
    await store.run('CREATE TABLE kept AS SELECT * FROM consent_record');
    const why = await broken(
      `UPDATE consent_record SET ${column} = ${value} WHERE HEX(id) = REPLACE(?, '-', '')`,
      `UPDATE consent_record c JOIN kept k ON k.id = c.id SET c.${column} = k.${column}`,
      [receipts[7]!],
    );
    expect(why).toContain(receipts[7]);
  });

  it('misses a consent record that is gone, and sees one that nobody made', async () => {
    await store.run('DROP TABLE IF EXISTS kept');
    await store.run('CREATE TABLE kept AS SELECT * FROM consent_record');
    expect(
      await broken(
        "DELETE FROM consent_record WHERE HEX(id) = REPLACE(?, '-', '')",
        "INSERT INTO consent_record SELECT * FROM kept WHERE HEX(id) = REPLACE(?, '-', '')",
        [receipts[0]!],
      ),
    ).toBe(`The consent record ${receipts[0]} is missing, though the ledger tells of it.`);
    expect(
      await broken(
        "INSERT INTO consent_record SELECT REVERSE(id), at, site_id, notice_version, choice, act, asked, allowed, language, region, '9.9.9.0', visitor_key, ledger_id, device, page_group, host, tc FROM kept LIMIT 1",
        "DELETE FROM consent_record WHERE address = '9.9.9.0'",
      ),
    ).toMatch(/A consent record stands in the database that the ledger does not tell of/);
  });

  it('misses what was cut off the end, by the head that was noted outside', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'yare-head-'));
    expect(await noteHead(store, folder)).toBeUndefined();
    const noted = await readNotedHead(folder);
    expect(noted?.head).toBe((await lastTree(store))?.head);
    for (const table of ['ledger_tree', 'ledger_entry', 'consent_record']) {
      await store.run(`DROP TABLE IF EXISTS cut_${table}`);
      await store.run(`CREATE TABLE cut_${table} AS SELECT * FROM ${table}`);
    }
    await store.run(
      'DELETE FROM consent_record WHERE ledger_id IN (SELECT id FROM ledger_entry WHERE tree = 4)',
    );
    await store.run('DELETE FROM ledger_entry WHERE tree = 4');
    await store.run('DELETE FROM ledger_tree WHERE number = 4');
    // By itself it is a whole ledger; a start on it finds out all the same.
    expect(await verify()).toMatchObject({ ok: true, trees: 3 });
    expect(await verifyWhole(store, ctx.now(), { witnesses, noted: noted!.head })).toMatchObject({
      ok: false,
      why: expect.stringContaining(noted!.head),
    });
    expect(await noteHead(store, folder)).toEqual(noted);
    expect((await readdir(folder)).toSorted()).toEqual(['ledger-head-lost-4.json', 'ledger-head.json']);
    expect(await noteHead(store, folder)).toBeUndefined();
    for (const table of ['ledger_tree', 'ledger_entry', 'consent_record'])
      await store.run(`REPLACE INTO ${table} SELECT * FROM cut_${table}`);
    expect(await verify()).toMatchObject({ ok: true, trees: 4 });
    await rm(folder, { recursive: true });
  });
});

describe('an export', () => {
  const lines = async () => {
    const all: string[] = [];
    for await (const line of exportLedger(store, ctx.now())) all.push(writeLine(line));
    return all;
  };
  const check = (all: readonly string[]) => {
    const verifier = new LedgerVerifier();
    for (const line of all) verifier.push(line);
    return verifier.end();
  };

  it.each<[string, (line: string) => string]>([
    ['a doubled key', (l) => l.replace('"actor":', '"actor":"1","actor":')],
    [
      'a doubled key that is hidden',
      (l) => l.replace('"detail":{', '"detail":{"receipt":"0","receipt":"0",'),
    ],
    ['__proto__ in the detail', (l) => l.replace('"detail":{', '"detail":{"__proto__":{"a":1},')],
    ['__proto__ in the line', (l) => l.replace('{"action"', '{"__proto__":null,"action"')],
    ['a key that is none', (l) => l.replace('"object":', '"note":"x","object":')],
    ['an escape that reads the same', (l) => l.replace('"consent.record"', '"consent\\u002erecord"')],
    ['a space', (l) => l.replace('"actor":"', '"actor": "')],
    ['keys in another order', (l) => `{"line":"entry",${l.slice(1).replace(',"line":"entry"', '')}`],
    ['the end of another line', (l) => `${l}${l}`],
    ['a number in another form', (l) => l.replace('"line"', '"extra":1e0,"line"')],
  ])('with %s is refused', async (_, edit) => {
    const all = await lines();
    const at = all.findIndex((l) => l.includes('consent.record'));
    const edited = edit(all[at]!);
    expect(edited).not.toBe(all[at]);
    expect(check(all).ok).toBe(true);
    expect(check(all.with(at, edited)).ok).toBe(false);
  });

  it('whose last trees were left out says how many should be there', async () => {
    const all = await lines();
    const fourth = all.findIndex((l) => l.includes('"line":"tree"') && l.includes('"number":4'));
    expect(check([...all.slice(0, fourth), all.at(-1)!])).toMatchObject({
      ok: false,
      why: expect.stringContaining('4 trees and'),
    });
  });

  it('that is older says so', () => {
    expect(check(['{"exportedAt":"2026-01-01T00:00:00.000Z","format":1,"line":"ledger"}']).why).toMatch(
      /older Yare Warden/,
    );
  });

  it('that breaks off ends as broken, never as whole', async () => {
    async function* rows() {
      yield 'a,b\r\n';
      yield '1,2\r\n';
      throw new Error('the database is gone');
    }
    let broke = false;
    const answer = streamed(
      'x.csv',
      'text/csv',
      { ...NO_CONNECTION, breakOff: () => void (broke = true) },
      rows(),
    );
    await expect(answer.text()).rejects.toThrow();
    expect(broke).toBe(true);
  });
});

it('every entry is proved by the path kept with it, in trees of any size', async () => {
  for (const size of [1, 2, 3, 7, 33]) {
    const ids: number[] = [];
    for (let i = 0; i < size; i++)
      ids.push(
        await store.transaction((tx) =>
          record(tx, ctx.now(), {
            actor: 'system',
            action: 'thing.change',
            object: 'thing',
            objectId: i,
            detail: { i },
          }),
        ),
      );
    await seal(store, ctx.now());
    for (const id of ids) {
      const proof = await proveEntry(store, String(id));
      expect(proof && verifyEntry(proof), `${id} of ${size}`).toBe(true);
      await store.run('UPDATE ledger_entry SET audit_path = NULL WHERE id = ?', [id]);
      // As of an entry that was sealed before paths were kept.
      expect(await proveEntry(store, String(id))).toEqual(proof);
    }
  }
});

// Last, since it seals one more tree.
it('adds up after an erasure on request, and still sees a record that nobody made', async () => {
  const [record] = await store.all(
    z.object({ key: z.string(), host: z.string() }),
    "SELECT HEX(c.visitor_key) AS `key`, s.host FROM consent_record c JOIN site s ON s.id = c.site_id WHERE HEX(c.id) = REPLACE(?, '-', '')",
    [receipts[3]!],
  );
  const { id } = await testAccount(ctx);
  await eraseVisitor(ctx, id, record!.host, record!.key.toLowerCase(), 'asked by letter');
  await seal(store, ctx.now());
  expect(await verify()).toMatchObject({ ok: true });
  expect(
    await broken(
      "INSERT INTO consent_record SELECT REVERSE(id), at, site_id, notice_version, choice, act, asked, allowed, language, region, '9.9.9.0', visitor_key, ledger_id, device, page_group, host, tc FROM kept LIMIT 1",
      "DELETE FROM consent_record WHERE address = '9.9.9.0'",
    ),
  ).toMatch(/A consent record stands in the database that the ledger does not tell of/);
});
