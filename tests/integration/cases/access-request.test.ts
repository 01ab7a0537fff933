import { Uint8ArrayReader, ZipReader, Uint8ArrayWriter, configure } from '@zip.js/zip.js';
import { join } from 'node:path';
import { Document, Packer, Paragraph } from 'docx';
import ExcelJS from 'exceljs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { extract } from '../../../src/server/files/extract/extract.ts';
import { draftLetter } from '../../../src/server/cases/requests/letters/draft-letter.ts';
import { actOnItem, viewItem } from '../../../src/server/cases/requests/items/request-items.ts';
import { actOnTask } from '../../../src/server/cases/requests/tasks/tasks.ts';
import { fetchPackage } from '../../../src/server/cases/requests/package/packages.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { addPerson } from '../../../src/server/websites/preferences/people.ts';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import { newSurvey, survey, writeFiles } from '../holdings/estate.ts';
import {
  act,
  casesTest,
  queuedMail,
  request,
  surveyed,
  view,
  workOff,
  type CasesTest,
} from './requesting.ts';

configure({ useWebWorkers: false });

const MAJA = { name: 'Maja Holmqvist', emails: ['maja.holmqvist@post.example'], born: '1984-03-09' };
const OTHERS = ['Per Alm', '0701 740 605', 'Astrid Nordin', 'anna.lind@post.example', 'K10293847'];

async function workbook(rows: readonly (readonly string[])[]): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  book.creator = 'Astrid Nordin';
  const sheet = book.addWorksheet('List');
  for (const r of rows) sheet.addRow([...r]);
  const hidden = book.addWorksheet('Old', { state: 'hidden' });
  hidden.addRow(['Name', 'E-mail']);
  hidden.addRow(['Anna Lind', 'anna.lind@post.example']);
  return Buffer.from(await book.xlsx.writeBuffer());
}

const document = (text: string) =>
  Packer.toBuffer(
    new Document({
      creator: 'Per Alm',
      sections: [{ children: text.split('\n').map((l) => new Paragraph(l)) }],
    }),
  );

const mail = (from: string, to: string, subject: string, body: string) =>
  `From: ${from}\nTo: ${to}\nSubject: ${subject}\nDate: Fri, 03 Jul 2026 10:00:00 GMT\nMIME-Version: 1.0\nContent-Type: text/plain; charset=utf-8\n\n${body}\n`;

let test: CasesTest;
let id: number;

beforeAll(async () => {
  test = await casesTest('yare_requests');
  await surveyed(test, {
    'manifest.xlsx': await workbook([
      ['Boarding manifest MS Hale'],
      ['No.', 'Name', 'Date of birth', 'Passport no.'],
      ['1', 'Per Alm', '1980-01-02', 'K10293847'],
      ['2', 'Maja Holmqvist', '1984-03-09', 'P48291077'],
      ['3', 'Maja Holmqvist', '1962-07-21', 'K77120483'],
    ]),
    'help.docx': await document(
      'Request for assistance\nPassenger: Maja Holmqvist\nBorn: 1984-03-09\nE-mail: maja.holmqvist@post.example\nTravels with Per Alm, telephone 0701 740 605.\nTold the nurse: Astrid Nordin',
    ),
    'mail/1.eml': mail(
      'Lotte Bruun <lotte@line.example>',
      'maja.holmqvist@post.example',
      'Seats',
      "Dear Ms Holmqvist,\n\nyou and Per Alm are at one table. Mr Alm's place is by the window.\n",
    ),
    'lost.csv': 'Found;What;Owner\n2026-01-01;glasses;Maja Holmqvist\n2026-01-02;hat;Anna Lind\n',
    'others.txt': 'Anna Lind, anna.lind@post.example, sails on Monday.',
  });
  const { ctx, url } = test;
  // By nothing but her booking number, which the database tells; no survey has read it.
  writeFiles(test.root, {
    'box/cur/7.M1.box:2,S': mail(
      'gate@line.example',
      'care@line.example',
      'Lost',
      'The scarf of BS482910 was found.',
    ),
    'box/cur/7.M2.box:2,S': mail(
      'gate@line.example',
      'care@line.example',
      'Lost',
      'The hat of BS100001 was found.',
    ),
    'box/new/.keep': '',
    'box/tmp/.keep': '',
  });
  await ctx.store.transaction((tx) =>
    insertSource(tx, ctx, null, {
      content: { ...USUAL_SOURCE, name: 'Box' },
      address: { kind: 'mail folder', root: join(test.root, 'box') },
      secret: '',
    }),
  );
  const at = new URL(url);
  const database = 'yare_requests_booking';
  await ctx.store.run(`DROP DATABASE IF EXISTS ${database}`);
  await ctx.store.run(`CREATE DATABASE ${database}`);
  await ctx.store.run(
    `CREATE TABLE ${database}.passenger (id INT PRIMARY KEY, given_name VARCHAR(40), family_name VARCHAR(40), email VARCHAR(80), date_of_birth DATE)`,
  );
  await ctx.store.run(
    `CREATE TABLE ${database}.booking (reference CHAR(8) PRIMARY KEY, passenger_id INT, remark VARCHAR(80))`,
  );
  await ctx.store.run(
    `INSERT INTO ${database}.passenger VALUES (1, 'Anna', 'Lind', 'anna.lind@post.example', '1990-05-05'), (2, 'Maja', 'Holmqvist', 'maja.holmqvist@post.example', '1984-03-09')`,
  );
  await ctx.store.run(
    `INSERT INTO ${database}.booking VALUES ('BS482910', 2, 'late'), ('BS100001', 1, 'dog')`,
  );
  const source = await ctx.store.transaction((tx) =>
    insertSource(tx, ctx, null, {
      content: { ...USUAL_SOURCE, name: 'Booking' },
      address: {
        ...{ kind: 'mariadb', host: at.hostname, port: Number(at.port || 3306), database },
        user: decodeURIComponent(at.username),
      },
      secret: decodeURIComponent(at.password),
    }),
  );
  await survey(ctx, await newSurvey(ctx, [source]));
  await addPerson(ctx, test.officer.id, {
    ...{ address: 'maja.holmqvist@post.example', name: 'Maja Holmqvist', number: 'SL1', language: 'sv' },
  });
  id = await request(test, { subject: MAJA, language: 'sv' });
});
afterAll(async () => {
  await test.ctx.store.run('DROP DATABASE IF EXISTS yare_requests_booking');
  await test.close();
});

describe('a request for access, from coming in to the answer', { timeout: 120_000 }, () => {
  it('begins its clock, and is not answered before it is known who asks', async () => {
    const r = await view(test, id);
    expect(r.clock).toMatchObject({ answerBy: '2026-12-04', daysLeft: 30, isLate: false });
    expect(r.needs[0]).toMatchObject({ step: 'known' });
    await expect(
      act(test, id, { act: 'write', letter: 'nothing held', subject: 'x', paragraphs: ['x'], reason: '' }),
    ).rejects.toThrow(/not ready/);
    await expect(act(test, id, { act: 'close', outcome: 'answered', words: '' })).rejects.toThrow(
      /without its answer/,
    );
    await expect(act(test, id, { act: 'package' })).rejects.toThrow(/Look for what is held/);
  });

  it('finds her in files, mail, a database with the rows tied to hers, and preferences; a namesake stays out', async () => {
    await act(test, id, { act: 'known', by: 'hand', words: 'came with a passport' });
    await workOff(test);
    const { items, facts, known } = await view(test, id);
    expect(facts.search).toBe('done');
    const names = items.map((i) => [i.name, i.theirs]).toSorted();
    expect(names).toEqual(
      [
        ['1.eml', 'yes'],
        ['7.M1.box', 'yes'],
        ['Preferences of maja.holmqvist@post.example', 'yes'],
        ['booking', 'yes'],
        ['from the first', 'yes'],
        ['help.docx', 'yes'],
        ['lost.csv', 'ask'],
        ['manifest.xlsx', 'yes'],
      ].toSorted(),
    );
    expect(known?.numbers).toEqual(expect.arrayContaining(['P48291077', 'BS482910']));
    const manifest = items.find((i) => i.name === 'manifest.xlsx');
    expect(manifest).toMatchObject({ rowsTheirs: 1, state: 'right' });
    const seen = await viewItem(test.ctx, test.officer, id, manifest?.id ?? '');
    expect(seen.reading?.text).toContain('P48291077');
    for (const other of ['Per Alm', 'K77120483', 'Anna Lind', 'Astrid'])
      expect(seen.reading?.text).not.toContain(other);
  });

  it('has nothing in clear in its tables, nor in the ledger', async () => {
    const rows = await test.ctx.store.all(
      z.object({ all: z.string() }),
      `SELECT CONCAT_WS(' ', content, learned, (SELECT GROUP_CONCAT(reading) FROM request_item i WHERE i.request_id = r.id)) AS \`all\` FROM subject_request r`,
    );
    const ledger = await test.ctx.store.all(
      z.object({ detail: z.string() }),
      'SELECT CAST(detail AS CHAR) AS detail FROM ledger_entry',
    );
    for (const text of [...rows.map((r) => r.all), ...ledger.map((l) => l.detail)])
      expect(text).not.toMatch(/Holmqvist|maja|1984-03-09|P48291077/i);
  });

  it('covers others as proposed, and makes no package before each was looked at', async () => {
    await expect(act(test, id, { act: 'package' })).rejects.toThrow(/1 item to say whose/);
    const lost = (await view(test, id)).bearers;
    expect(lost).toMatchObject([{ items: 1 }]);
    await act(test, id, { act: 'tell apart', bearer: lost[0]?.hash ?? '', theirs: false });
    const { items } = await view(test, id);
    const help = items.find((i) => i.name === 'help.docx');
    const seen = await viewItem(test.ctx, test.officer, id, help?.id ?? '');
    const covered = seen.reading?.covers.map((c) => seen.reading?.text.slice(c.start, c.end)) ?? [];
    expect(covered).toEqual(expect.arrayContaining(['Per Alm', '0701 740 605', 'Astrid Nordin']));
    await expect(act(test, id, { act: 'package' })).rejects.toThrow(/to look over/);
    for (const i of items.filter((x) => x.theirs === 'yes' && x.state === 'to look over'))
      await actOnItem(test.ctx, test.officer, id, i.id, { act: 'right' });
  });

  it('tells what was covered and stands in the package all the same', async () => {
    const { items } = await view(test, id);
    const letter = items.find((i) => i.name === '1.eml');
    const { reading } = await viewItem(test.ctx, test.officer, id, letter?.id ?? '');
    const per = reading?.covers.find((c) => reading.text.slice(c.start, c.end) === 'Per Alm');
    await actOnItem(test.ctx, test.officer, id, letter?.id ?? '', {
      act: 'uncover',
      start: per?.start ?? 0,
      end: per?.end ?? 1,
    });
    await actOnItem(test.ctx, test.officer, id, letter?.id ?? '', { act: 'right' });
    await act(test, id, { act: 'package' });
    await workOff(test);
    const made = (await view(test, id)).package;
    expect(made?.leftovers.length).toBeGreaterThan(0);
    expect(made?.leftovers[0]?.masked).not.toContain('Per Alm');
    await expect(
      act(test, id, { act: 'write', letter: 'package', subject: 'x', paragraphs: ['[link]'], reason: '' }),
    ).rejects.toThrow(/covered value/);
    await actOnItem(test.ctx, test.officer, id, letter?.id ?? '', {
      act: 'cover',
      start: per?.start ?? 0,
      end: per?.end ?? 1,
      ground: 'another person',
    });
    await actOnItem(test.ctx, test.officer, id, letter?.id ?? '', { act: 'right' });
    expect((await view(test, id)).needs[0]?.words).toMatch(/anew/);
  });

  it('hands over a package that opens with its passphrase alone, and holds nobody else in any byte of it', async () => {
    await act(test, id, { act: 'package' });
    await workOff(test);
    let r = await view(test, id);
    expect(r.package?.leftovers).toEqual([]);
    for (const t of r.tasks.filter((x) => x.doneAt === null))
      await actOnTask(test.ctx, test.officer, t.id, { act: 'done', outcome: 'looked' });
    const draft = await draftLetter(test.ctx, id, 'package', '');
    expect(draft.paragraphs.join(' ')).toMatch(/Här är det vi har om dig/);
    await act(test, id, {
      act: 'write',
      letter: 'package',
      subject: draft.subject,
      paragraphs: [...draft.paragraphs],
      reason: '',
    });
    const sent = (await queuedMail(test)).at(-1);
    const token = /\/package\/([\w-]{43})/.exec(sent?.text ?? '')?.[1] ?? '';
    expect(sent?.to).toBe('maja.holmqvist@post.example');
    expect(sent?.text).not.toContain(r.package?.phrase ?? '?');
    r = await view(test, id);
    expect(JSON.stringify(r.letters)).not.toContain(token);
    const fetched = await fetchPackage(test.ctx, token);
    expect(fetched?.bytes).toBeDefined();
    const open = async (password: string) => {
      const zip = new ZipReader(new Uint8ArrayReader(fetched?.bytes ?? new Uint8Array()), { password });
      const files: { name: string; bytes: Buffer }[] = [];
      for (const e of await zip.getEntries())
        if (!e.directory)
          files.push({ name: e.filename, bytes: Buffer.from(await e.getData(new Uint8ArrayWriter())) });
      return files;
    };
    await expect(open('wrong-phrase')).rejects.toThrow();
    const files = await open(r.package?.phrase ?? '');
    expect(files.map((f) => f.name)).toEqual(
      expect.arrayContaining(['index.html', `R-${id}.pdf`, 'data.json']),
    );
    const index = files.find((f) => f.name === 'index.html')?.bytes.toString('utf8') ?? '';
    for (const hers of ['P48291077', 'BS482910', 'Dear Ms Holmqvist', 'late', 'scarf'])
      expect(index).toContain(hers);
    for (const { name, bytes } of files) {
      const texts = [
        bytes.toString('utf8'),
        bytes.toString('latin1'),
        bytes.toString('utf16le'),
        (await extract(name, bytes)).text,
      ];
      for (const other of [...OTHERS, 'Anna Lind', 'Alm', 'manifest.xlsx'])
        for (const text of texts) expect(text.includes(other), `${other} in ${name}`).toBe(false);
    }
  });

  it('is fetched until its day, by its link alone', async () => {
    const sent = (await queuedMail(test)).at(-1);
    const token = /\/package\/([\w-]{43})/.exec(sent?.text ?? '')?.[1] ?? '';
    expect(
      await fetchPackage(test.ctx, `${token.slice(0, -1)}${token.endsWith('A') ? 'B' : 'A'}`),
    ).toBeUndefined();
    expect(await fetchPackage(test.ctx, '../../etc/passwd')).toBeUndefined();
    test.at('2026-11-30T10:00:00Z');
    expect(await fetchPackage(test.ctx, token)).toBeUndefined();
    test.at('2026-11-05T10:00:00Z');
    expect((await view(test, id)).package).toMatchObject({ fetches: 1 });
  });

  it('is closed once it is answered, and what was gathered goes when its days are over', async () => {
    await act(test, id, { act: 'close', outcome: 'answered', words: '' });
    expect((await view(test, id)).row).toMatchObject({ outcome: 'answered', answered_on: '2026-11-04' });
    await expect(act(test, id, { act: 'search' })).rejects.toThrow(/closed/);
    const { forgetRequests } = await import('../../../src/server/cases/requests/request-upkeep.ts');
    test.at('2027-03-01T10:00:00Z');
    await forgetRequests(test.ctx);
    const r = await view(test, id);
    expect(r).toMatchObject({ request: null, items: [] });
    expect(r.letters.every((l) => l.content === null)).toBe(true);
    expect(r.steps.map((s) => s.kind)).toContain('forgot');
    const copies = await test.ctx.store.one(
      z.object({ n: z.coerce.number() }),
      'SELECT COUNT(*) AS n FROM kept_copy',
    );
    expect(copies?.n).toBe(0);
  });
});
