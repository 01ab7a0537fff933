import { existsSync, mkdirSync, readFileSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { verifyCertificate } from '../../../src/core/retention/disposal/certificate.ts';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import { sha256 } from '../../../src/server/holdings/items/kept-copy.ts';
import { findItem } from '../../../src/server/holdings/items/item-view.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { endAside } from '../../../src/server/retention/disposal/aside.ts';
import { provenCertificate } from '../../../src/server/retention/disposal/certify.ts';
import { knownCopies } from '../../../src/server/retention/disposal/copies.ts';
import { gatherDue } from '../../../src/server/retention/disposal/gather.ts';
import { putBack } from '../../../src/server/retention/disposal/put-back.ts';
import { retentionOfItem } from '../../../src/server/retention/items/item-retention.ts';
import { readRetentionPolicy, RETENTION_POLICY } from '../../../src/server/retention/policy.ts';
import { REASONED_RULE } from '../../../src/server/retention/rehearsal/unreasoned.ts';
import { refuseForce } from '../../../src/server/rules/rule-moves.ts';
import { folderSource, newSurvey, survey, writeFiles } from '../holdings/estate.ts';
import { ownDatabase } from '../../own-database.ts';
import { agreeTo, beginDisposal, letAllGo } from './disposing.ts';
import {
  became,
  disposals,
  exists,
  hold,
  move,
  retentionTest,
  rule,
  TODAY,
  type RetentionTest,
} from './retention.ts';

let test: RetentionTest;
let archive = '';
let archiveSource = 0;
beforeAll(async () => {
  test = await retentionTest('yare_acts');
  archive = join(test.root, '..', 'archive');
  mkdirSync(archive);
  archiveSource = await folderSource(test.ctx, archive, 'Basement');
}, 60_000);
afterAll(() => test.close());
beforeEach(() => test.at(TODAY));

const read = (path: string) => readFileSync(join(test.root, path), 'utf8');
const policy = async (more: { archive?: string; archivePlace?: string }) => {
  const { store } = test.ctx;
  await store.transaction(async (tx) => {
    const before = await readRetentionPolicy(tx);
    await RETENTION_POLICY.write(tx, '1', { ...before, ...more }, before, test.ctx.now(), 1);
  });
};
const methodOf = async (item: number) =>
  (
    await test.ctx.store.one(
      z.object({ method: z.string() }),
      'SELECT method FROM disposal_item WHERE item_id = ? ORDER BY disposal_id DESC LIMIT 1',
      [item],
    )
  )?.method;

describe('moving to the archive', () => {
  it('is not put in force as long as nobody said where that is, and only to where something can be kept', async () => {
    const id = await rule(test, { then: 'archive', keep: { count: 90, unit: 'years' } });
    const force = async () => {
      await refuseForce(test.ctx, REASONED_RULE, id);
      await move(test, REASONED_RULE, id, 'put in force');
    };
    await expect(force()).rejects.toMatchObject({ fields: [{ field: 'then' }] });
    const mail = await test.ctx.store.transaction((tx) =>
      insertSource(tx, test.ctx, null, {
        content: { ...USUAL_SOURCE, name: 'Letters' },
        address: { kind: 'mail folder', root: test.root },
        secret: '',
      }),
    );
    await expect(policy({ archive: String(mail) })).rejects.toMatchObject({ fields: [{ field: 'archive' }] });
    await policy({ archive: String(archiveSource), archivePlace: 'Retired/Papers' });
    await force();
  });

  it('takes the item out of its place once it is kept in the other, read back', async () => {
    const {
      path,
      folder,
      item,
      disposal,
      rule: id,
    } = await beginDisposal(test, ['a.txt', 'b'], {
      then: 'archive',
    });
    // Nobody has to be asked.
    expect(disposal).toMatchObject({ state: 'agreed', needed: 0 });
    const text = read(path('a.txt'));
    await letAllGo(test);
    expect([exists(test, path('a.txt')), exists(test, path('new.txt'))]).toEqual([false, true]);
    const kept = (name: string) => join(archive, 'Retired/Papers', shareName, folder, name);
    const shareName = (await findItem(test.ctx.store, item('new.txt'))).source;
    expect(readFileSync(kept('a.txt'), 'utf8')).toBe(text);
    expect(existsSync(kept('b'))).toBe(true);
    await endAside(test.ctx);
    const { certificate } = await provenCertificate(test.ctx, disposal?.id ?? '');
    expect(certificate).toMatchObject({
      follows: 'move to the archive',
      counts: { gone: 2 },
      rule: { id },
      items: [
        { item: item('a.txt'), hash: sha256(Buffer.from(text)).toString('hex'), method: 'moved to Basement' },
        {},
      ],
    });
  });

  it('gives what has its name there another, and can be taken back', async () => {
    const { path, folder, item, disposal } = await beginDisposal(test, ['a.txt'], {
      then: 'archive',
      undoDays: 14,
    });
    const { source } = await findItem(test.ctx.store, item('a.txt'));
    const there = join(archive, 'Retired/Papers', source, folder);
    mkdirSync(there, { recursive: true });
    writeFileSync(join(there, 'a.txt'), 'something else');
    const text = read(path('a.txt'));
    await letAllGo(test);
    const other = join(there, `a~${sha256(Buffer.from(text)).toString('hex').slice(0, 8)}.txt`);
    expect(readFileSync(other, 'utf8')).toBe(text);
    expect(readFileSync(join(there, 'a.txt'), 'utf8')).toBe('something else');
    expect(await putBack(test.ctx, test.officer, disposal?.id ?? '', undefined)).toEqual({
      back: 1,
      left: [],
    });
    expect([read(path('a.txt')), existsSync(other)]).toEqual([text, false]);
  });

  it('keeps the item where it cannot be kept in the other place', async () => {
    const { path, item, folder } = await beginDisposal(test, ['a.txt'], { then: 'archive' });
    const { source } = await findItem(test.ctx.store, item('a.txt'));
    mkdirSync(join(archive, 'Retired/Papers', source), { recursive: true });
    // A file where a folder would have to be.
    writeFileSync(join(archive, 'Retired/Papers', source, folder), 'in the way');
    await letAllGo(test);
    expect(exists(test, path('a.txt'))).toBe(true);
    expect((await became(test)).get(item('a.txt'))).toMatchObject({ state: 'failed' });
  });

  it('moves nothing that lies in the archive already', async () => {
    await policy({ archive: String(test.source), archivePlace: 'kept' });
    const { disposal } = await beginDisposal(test, ['a.txt'], { then: 'archive' });
    expect(disposal).toBeDefined();
    await policy({ archive: String(test.source), archivePlace: '' });
    const none = await beginDisposal(test, ['a.txt'], { then: 'archive' });
    expect(none.disposal).toBeUndefined();
    await policy({ archive: String(archiveSource), archivePlace: 'Retired/Papers' });
  });
});

describe('making anonymous', () => {
  const TEXT =
    'Complaint of 3 March.\nPlease write to tove.lindqvist@mail.example or call +45 31 35 42 53.\nThe ramp was late.\n';
  const begin = (more: Parameters<typeof rule>[1] = {}) =>
    beginDisposal(test, ['a.txt'], { then: 'anonymise', ...more }, { text: () => TEXT, people: 1 });

  it('takes out what detectors find and leaves the rest, until none finds any', async () => {
    const { path, item, disposal } = await begin();
    expect(disposal).toMatchObject({ state: 'agreed' });
    await letAllGo(test);
    const left = read(path('a.txt'));
    expect(left).not.toMatch(/tove|31 35/);
    expect(left).toMatch(
      /^Complaint of 3 March\.\nPlease write to \[email\] or call \[.*\]\.\nThe ramp was late\.\n$/,
    );
    expect(await methodOf(item('a.txt'))).toBe('2 values taken out');
    await endAside(test.ctx);
    const proven = await provenCertificate(test.ctx, disposal?.id ?? '');
    expect(verifyCertificate(proven)).toMatchObject({ ok: true });
    expect(proven.certificate.items).toMatchObject([
      {
        hash: sha256(Buffer.from(TEXT)).toString('hex'),
        left: sha256(Buffer.from(left)).toString('hex'),
      },
    ]);
    // It is there, holds nothing personal as far as is known, and is not asked for again.
    const now = await retentionOfItem(test.ctx, item('a.txt'));
    expect(now).toMatchObject({ state: 'kept', goes: null });
    expect(now.why[0]).toContain('there is nothing personal in it');
    test.at('2026-12-20');
    await gatherDue(test.ctx);
    expect((await disposals(test)).filter((d) => d.rule_id === disposal?.rule_id)).toHaveLength(1);
  });

  it('can be taken back while it is kept, unless somebody wrote to it since', async () => {
    const { path, disposal } = await begin({ undoDays: 14 });
    await letAllGo(test);
    expect(read(path('a.txt'))).not.toContain('tove');
    writeFileSync(join(test.root, path('a.txt')), 'a new text');
    const id = disposal?.id ?? '';
    expect((await putBack(test.ctx, test.officer, id, undefined)).left[0]).toContain('changed since');
    const again = await begin({ undoDays: 14 });
    await letAllGo(test);
    expect(await putBack(test.ctx, test.officer, again.disposal?.id ?? '', undefined)).toMatchObject({
      back: 1,
    });
    expect(read(again.path('a.txt'))).toBe(TEXT);
  });

  it('leaves what holds nothing personal, and what has another form than its text', async () => {
    const none = await beginDisposal(test, ['a.txt'], { then: 'anonymise' }, { text: () => 'The ramp.' });
    expect(none.disposal).toBeUndefined();
    const wrong = await beginDisposal(
      test,
      ['a.txt', 'b.html'],
      { then: 'anonymise' },
      { text: (name) => (name === 'a.txt' ? 'The ramp is late.' : `<html><p>${TEXT}</p></html>`), people: 1 },
    );
    await letAllGo(test);
    const all = await became(test);
    expect(all.get(wrong.item('a.txt'))).toMatchObject({
      state: 'kept',
      why: 'Nothing personal was found in it.',
    });
    expect(all.get(wrong.item('b.html'))).toMatchObject({ state: 'failed' });
    expect(all.get(wrong.item('b.html'))?.why).toContain('plain text and tables');
    expect(read(wrong.path('b.html'))).toContain('tove');
  });

  it('is not done to what a hold covers', async () => {
    const { path, folder, item } = await begin();
    const id = await hold(test, { places: [`${test.source}/${folder}`] }, 'put in force');
    expect(id).not.toBe('');
    await letAllGo(test);
    expect(read(path('a.txt'))).toBe(TEXT);
    expect((await became(test)).get(item('a.txt'))?.state).toBe('kept');
  });

  it('is settled by what stands there, when the worker died in the middle', async () => {
    const { store } = test.ctx;
    const begun = async (write: (path: string, left: Buffer) => void) => {
      const { path, item, disposal } = await begin();
      const left = Buffer.from('[email] wrote.');
      await store.run(
        "UPDATE disposal_item SET state = 'begun', hash = ?, left_hash = ?, claim = ? WHERE item_id = ?",
        [sha256(Buffer.from(TEXT)), sha256(left), Buffer.alloc(16, 7), item('a.txt')],
      );
      write(join(test.root, path('a.txt')), left);
      await letAllGo(test);
      return {
        left: read(path('a.txt')),
        is: (await became(test)).get(item('a.txt')),
        disposal,
        item: item('a.txt'),
      };
    };
    const done = await begun((path, left) => writeFileSync(path, left));
    expect(done).toMatchObject({ left: '[email] wrote.', is: { state: 'gone' } });
    expect(await methodOf(done.item)).toContain('found anonymous');
    const undone = await begun(() => {});
    expect(undone.is?.state).toBe('gone');
    expect(undone.left).toContain('[email] or call');
    const other = await begun((path) => writeFileSync(path, 'somebody else wrote this'));
    expect(other).toMatchObject({ left: 'somebody else wrote this', is: { state: 'kept' } });
  });
});

describe('copies', () => {
  it('are known as whole items, as attachments and within archives, and stay', async () => {
    const { ctx } = test;
    const home = join(test.root, '..', 'copies');
    const text = 'A report of the ramp.\n';
    writeFiles(home, {
      'due/a.txt': text,
      'due/b.txt': 'another report',
      'kept/same.txt': text,
      'kept/all.zip': Buffer.from(
        zipSync({
          'in/a.txt': strToU8(text),
          'in/inner.zip': zipSync({ 'b.txt': strToU8('another report') }),
        }),
      ),
      'kept/letter.eml': `From: a@x.example\nTo: b@x.example\nSubject: Ramp\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary=B\n\n--B\nContent-Type: text/plain\n\nSee there.\n--B\nContent-Type: text/plain; name=r.txt\nContent-Disposition: attachment; filename=r.txt\nContent-Transfer-Encoding: base64\n\n${Buffer.from(text).toString('base64')}\n--B--\n`,
    });
    for (const name of ['a.txt', 'b.txt'])
      utimesSync(join(home, 'due', name), new Date('2019-01-01'), new Date('2019-01-01'));
    const source = await folderSource(ctx, home);
    await survey(ctx, await newSurvey(ctx, [source]));
    const id = await rule(
      test,
      {
        ...{ places: [`${source}/due`], keep: { count: 2, unit: 'years' }, then: 'ask' },
        ...{ agree: 'one', undoDays: 0 },
      },
      'put in force',
    );
    await gatherDue(ctx);
    const [disposal] = (await disposals(test)).filter((d) => d.rule_id === id);
    if (!disposal) throw new Error('Nothing was gathered.');
    const { copies } = await knownCopies(ctx.store, disposal.id, () => true);
    expect(copies.map((c) => `${c.name} ${c.inside ?? ''}`.trim()).sort()).toEqual(
      ['all.zip b.txt', 'all.zip in/a.txt', 'letter.eml r.txt', 'same.txt'].sort(),
    );
    expect((await knownCopies(ctx.store, disposal.id, () => false)).copies).toEqual([]);
    await agreeTo(test, disposal.id);
    await letAllGo(test);
    await endAside(ctx);
    const { certificate } = await provenCertificate(ctx, disposal.id);
    expect(certificate.copies).toHaveLength(4);
    expect(certificate.copies.filter((c) => c.inside)).toHaveLength(3);
    expect(existsSync(join(home, 'kept/same.txt'))).toBe(true);
  });
});

describe('rows of a database', () => {
  it('go by the period of their day, are emptied, and come back', async () => {
    const at = new URL(ownDatabase());
    const database = 'sailings_test';
    const connection = await mysql.createConnection({
      ...{ host: at.hostname, port: Number(at.port), user: at.username },
      password: decodeURIComponent(at.password),
      multipleStatements: true,
    });
    await connection.query(`DROP DATABASE IF EXISTS ${database}; CREATE DATABASE ${database}; USE ${database};
      CREATE TABLE booking (id INT PRIMARY KEY, name VARCHAR(80), email VARCHAR(80), sailed DATE, fare INT);
      INSERT INTO booking VALUES (1, 'Tove Lindqvist', 'tove@mail.example', '2019-03-07', 10), (2, 'Bo Holm', 'bo@mail.example', '2019-03-31', 20),
        (3, 'Ida Krogh', 'ida@mail.example', '2025-05-05', 30), (4, 'Per Munk', 'per@mail.example', '2026-11-01', 40)`);
    const ctx = {
      ...test.ctx,
      settings: { ...test.ctx.settings, ALLOWED_PRIVATE: `${at.hostname}:${at.port}` },
    };
    const own = { ...test, ctx };
    const source = await ctx.store.transaction((tx) =>
      insertSource(tx, ctx, null, {
        content: {
          ...USUAL_SOURCE,
          name: 'Bookings',
          rowTemplates: [{ table: 'booking', day: 'sailed', by: 'month', blank: ['name', 'email'] }],
        },
        address: {
          ...{ kind: 'mariadb', host: at.hostname, port: Number(at.port), user: at.username, database },
        },
        secret: decodeURIComponent(at.password),
      }),
    );
    const look = async () => {
      const id = await newSurvey(ctx, [source]);
      await survey(ctx, id);
    };
    await look();
    const ids = async () => {
      const [rows] = await connection.query<mysql.RowDataPacket[]>(
        'SELECT id, name, fare FROM booking ORDER BY id',
      );
      return rows.map((r) => `${r['id']} ${r['name'] ?? '-'} ${r['fare']}`);
    };
    const blank = await rule(
      test,
      {
        ...{ places: [`${source}`], keep: { count: 1, unit: 'years' }, then: 'anonymise' },
        ...{ agree: 'one', undoDays: 14 },
      },
      'put in force',
    );
    await gatherDue(ctx);
    await letAllGo(own);
    expect(await ids()).toEqual(['1 - 10', '2 - 20', '3 - 30', '4 Per Munk 40']);
    const [emptied] = (await disposals(test)).filter((d) => d.rule_id === blank);
    expect(await putBack(ctx, test.officer, emptied?.id ?? '', undefined)).toMatchObject({ back: 2 });
    expect(await ids()).toEqual(['1 Tove Lindqvist 10', '2 Bo Holm 20', '3 Ida Krogh 30', '4 Per Munk 40']);

    await look();
    const deletes = await rule(
      test,
      {
        ...{ places: [`${source}/booking`], keep: { count: 5, unit: 'years' }, then: 'delete' },
        ...{ agree: 'one', undoDays: 14 },
      },
      'put in force',
    );
    await gatherDue(ctx);
    // One of the rows is changed after it was looked at: all of its month stay.
    await connection.query('UPDATE booking SET fare = 21 WHERE id = 2');
    await letAllGo(own);
    expect(await ids()).toHaveLength(4);
    await look();
    test.at('2026-12-05');
    await gatherDue(ctx);
    await letAllGo(own);
    expect(await ids()).toEqual(['3 Ida Krogh 30', '4 Per Munk 40']);
    const gone = (await disposals(test)).filter((d) => d.rule_id === deletes).at(-1);
    expect(await putBack(ctx, test.officer, gone?.id ?? '', undefined)).toEqual({ back: 1, left: [] });
    expect(await ids()).toEqual(['1 Tove Lindqvist 10', '2 Bo Holm 21', '3 Ida Krogh 30', '4 Per Munk 40']);
    await connection.query(`DROP DATABASE ${database}`);
    await connection.end();
  }, 60_000);
});
