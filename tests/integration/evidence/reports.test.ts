import { createHash } from 'node:crypto';
import Excel from 'exceljs';
import { parse } from 'csv-parse/sync';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { Report } from '../../../src/core/evidence/reports/report.ts';
import { frameworkLibrary } from '../../../src/server/obligations/library/own-frameworks.ts';
import { liveTests } from '../../../src/server/obligations/standing.ts';
import { runTests } from '../../../src/server/obligations/work/run-tests.ts';
import { fetched } from '../../../src/server/desk/fetched-report.ts';
import { figuresOf } from '../../../src/server/desk/figures.ts';
import { makeReportJob } from '../../../src/server/desk/make-report-job.ts';
import { openSubject, reportSubjects } from '../../../src/server/desk/report-subject.ts';
import { showBoard } from '../../../src/server/desk/shown-board.ts';
import { addBoard } from '../../../src/server/evidence/boards/boards.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import { askDueReports } from '../../../src/server/evidence/reports/due-reports.ts';
import {
  askReport,
  findFile,
  keepParts,
  letFilesGo,
  listFiles,
  readParts,
} from '../../../src/server/evidence/reports/report-files.ts';
import {
  addReport,
  addressesOf,
  findReport,
  mayHaveReport,
  ownReport,
  REPORT,
  setAddresses,
} from '../../../src/server/evidence/reports/reports.ts';
import { writeReport } from '../../../src/server/evidence/reports/write-report.ts';
import { keepRows } from '../../../src/server/figures/kept-figures.ts';
import { claimJob } from '../../../src/server/jobs/job.ts';
import { Runner } from '../../../src/server/jobs/runner.ts';
import { editedObject, plainObject } from '../../../src/server/desk/rule-input.ts';
import type { Cell } from '../../../src/server/http/csv.ts';
import { NO_CONNECTION } from '../../../src/server/http/outgoing.ts';
import { editObject } from '../../../src/server/rules/plain-object.ts';
import { Count } from '../../../src/server/store/columns.ts';
import { testAccount, testContext, unique } from '../context.ts';

const own = testContext();
const ctx = { ...own, settings: { ...own.settings, SMTP_URL: 'smtp://127.0.0.1:1' } };
const at = (time: string) => own.at(time);
afterAll(() => own.store.close());

let officer: Account;
beforeEach(async () => {
  at('2026-12-01T09:00:00Z');
  for (const table of ['report', 'figure_row', 'figure_value', 'outgoing_message', 'job'])
    await ctx.store.run(`DELETE FROM ${table}`);
  officer = await testAccount(ctx);
});

const report = (more: Partial<Report> = {}): Report =>
  Report.parse({ name: unique('report'), what: 'board:1', format: 'csv', ...more });
const add = (content: Report, by = officer.id) =>
  ctx.store.transaction((tx) => addReport(tx, ctx.now(), by, content));

/** Has it made by a worker, as one does. */
async function make(content: Report, by = officer, addresses: readonly string[] = []): Promise<number> {
  const id = await add(content, by.id);
  if (addresses.length > 0) await setAddresses(ctx, officer.id, id, addresses);
  const file = await ctx.store.transaction(async (tx) => askReport(tx, ctx, await findReport(tx, id), by.id));
  await work(file);
  return file;
}

async function work(file: number): Promise<void> {
  const runner = new Runner(ctx, [makeReportJob], { quick: 0, browser: 0, long: 1 }, 20);
  runner.start();
  await expect
    .poll(async () => (await findFile(ctx.store, file)).state, { timeout: 20_000 })
    .not.toBe('waiting');
  await runner.stop();
}

async function bytesOf(file: number): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of readParts(ctx, file)) parts.push(part);
  return Buffer.concat(parts);
}
const mails = async () =>
  (await ctx.store.one(z.object({ n: Count }), 'SELECT COUNT(*) AS n FROM outgoing_message'))?.n ?? 0;
const value = (id: string, day: string, n: number, of: number | null = null) =>
  ctx.store.run('INSERT INTO figure_value (figure, day, value, out_of, counted_at) VALUES (?, ?, ?, ?, ?)', [
    ...[id, day, n, of, `${day} 08:00:00`],
  ]);

describe('a report', () => {
  it('is made by the worker, kept sealed, and stands in the ledger with its digest', async () => {
    await value('websites.leaks', '2026-12-01', 7, 50);
    await add(report());
    await seal(ctx.store, ctx.now());
    const file = await findFile(
      ctx.store,
      await make(report({ what: 'figure:websites.leaks', format: 'json' })),
    );
    expect(file).toMatchObject({ state: 'ready', lines: 1, problem: '' });
    const bytes = await bytesOf(file.id);
    expect(file.size).toBe(bytes.length);
    expect(file.digest).toBe(createHash('sha256').update(bytes).digest('hex'));
    const json = JSON.parse(bytes.toString()) as { report: { ledger: unknown }; rows: unknown[] };
    expect(json.rows).toEqual([expect.objectContaining({ Day: '2026-12-01', Value: 7, 'Out of': 50 })]);
    expect(json.report.ledger).toMatchObject({ head: expect.stringMatching(/^[0-9a-f]{64}$/) });
    const entry = await ctx.store.one(
      z.object({ action: z.string(), detail: z.unknown() }),
      'SELECT action, detail FROM ledger_entry WHERE id = ?',
      [file.ledgerId],
    );
    expect(JSON.stringify(entry)).toContain(file.digest);
    const stored = await ctx.store.one(
      z.object({ body: z.instanceof(Buffer) }),
      'SELECT body FROM report_part WHERE file_id = ?',
      [file.id],
    );
    expect(stored?.body.toString()).not.toContain('2026-12-01');
  });

  it('tells people once, however often it is tried, and leaves out whose roles do not include it', async () => {
    const handler = await testAccount(ctx, 'request handler');
    const content = report({ what: 'figure:accounts.officers', people: [officer.id, handler.id] });
    const file = await make(content, officer, ['board@ferry.example']);
    expect(await findFile(ctx.store, file)).toMatchObject({ people: [officer.id], leftOut: [handler.name] });
    expect(await mails()).toBe(2);
    // The same file, taken up again by a worker that was thought dead.
    await ctx.store.run("UPDATE report_file SET state = 'waiting' WHERE id = ?", [file]);
    await ctx.store.run("UPDATE job SET state = 'waiting', lease_owner = NULL, attempts = 0");
    await work(file);
    expect(await mails()).toBe(2);
  });

  it('is begun anew where a worker was killed in the middle of it', async () => {
    const id = await add(report({ what: 'figure:websites.leaks', people: [officer.id] }));
    const file = await ctx.store.transaction(async (tx) =>
      askReport(tx, ctx, await findReport(tx, id), officer.id),
    );
    const claim = await claimJob(ctx, 'the dead', [makeReportJob.kind]);
    expect(claim?.claimed).toBeDefined();
    await keepParts(
      ctx,
      file,
      (async function* () {
        yield Buffer.from('half of it');
      })(),
      new AbortController().signal,
    );
    at('2026-12-01T09:10:00Z');
    await work(file);
    expect((await bytesOf(file)).toString()).toMatch(/^Day,/);
    expect(await mails()).toBe(1);
  });

  it('is not made where its maker may not see it any more, and says so', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const file = await make(report({ what: 'figure:accounts.officers' }), steward);
    expect(await findFile(ctx.store, file)).toMatchObject({ state: 'failed' });
    const gone = await make(report({ what: 'no.such' }));
    expect((await findFile(ctx.store, gone)).problem).toBe('What this report tells of is no more.');
    const left = await testAccount(ctx);
    const id = await add(report(), left.id);
    await ctx.store.run('UPDATE account SET disabled_at = NOW(3) WHERE id = ?', [left.id]);
    const last = await ctx.store.transaction(async (tx) =>
      askReport(tx, ctx, await findReport(tx, id), null),
    );
    await work(last);
    expect((await findFile(ctx.store, last)).problem).toMatch(/^Whoever made this report has no account/);
  });

  it('is had by whoever made it, seen by those it is for, and nobody else knows of it', async () => {
    const [steward, reader, other] = await Promise.all([
      testAccount(ctx, 'data steward'),
      testAccount(ctx, 'request handler'),
      testAccount(ctx, 'data steward'),
    ]);
    const id = await add(report({ people: [reader.id] }), steward.id);
    const stored = await findReport(ctx.store, id);
    const table = [steward, officer, reader, other].map((a) => [
      mayHaveReport(a, stored, 'see'),
      mayHaveReport(a, stored, 'edit'),
    ]);
    expect(table).toEqual([
      [true, true],
      [true, true],
      [true, false],
      [false, false],
    ]);
    await expect(ownReport(ctx.store, id, other, 'see')).rejects.toMatchObject({ status: 404 });
    const asked = { kind: 'report', id: String(id) };
    await expect(plainObject(ctx, asked, reader)).resolves.toMatchObject({ kind: 'report' });
    await expect(editedObject(ctx, asked, reader)).rejects.toMatchObject({ status: 404 });
    await expect(plainObject(ctx, asked, other)).rejects.toMatchObject({ status: 404 });
  });

  it('goes to addresses that are sealed and in no ledger, and is theirs to change who may send to them', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const content = report();
    const id = await add(content, steward.id);
    const edit = (by: number, revision: number, base: Report, next: Report) =>
      ctx.store.transaction((tx) =>
        editObject(tx, ctx.now(), REPORT, by, id, { revision, base, content: next }),
      );
    await setAddresses(ctx, officer.id, id, ['kept.out@y.example', 'two@y.example']);
    expect(await addressesOf(ctx, id)).toEqual(['kept.out@y.example', 'two@y.example']);
    const all = await ctx.store.all(
      z.object({ text: z.string() }),
      `SELECT CONCAT(COALESCE(detail, ''), action) AS text FROM ledger_entry WHERE object = 'report'
       UNION ALL SELECT address FROM report_address UNION ALL SELECT content FROM report`,
    );
    expect(all.length).toBeGreaterThan(3);
    for (const { text } of all) expect(text).not.toContain('y.example');
    const pdf = { ...content, format: 'pdf' as const };
    await expect(edit(steward.id, 0, content, pdf)).rejects.toMatchObject({ status: 403 });
    expect((await findReport(ctx.store, id)).report.format).toBe('csv');
    await edit(officer.id, 0, content, pdf);
    expect((await findReport(ctx.store, id)).madeBy?.id).toBe(officer.id);
    await setAddresses(ctx, officer.id, id, []);
    await edit(steward.id, 1, pdf, content);
    expect((await findReport(ctx.store, id)).madeBy?.id).toBe(steward.id);
  });

  it('leaves out people without an account where its maker may not send to them', async () => {
    const steward = await testAccount(ctx, 'data steward');
    const file = await make(report({ what: 'figure:holdings.items' }), steward, ['a@y.example']);
    expect(await findFile(ctx.store, file)).toMatchObject({ leftOut: ['1 without an account'] });
    expect(await mails()).toBe(0);
  });

  it('is fetched as long as it is kept, and then gone with its bytes', async () => {
    const id = await make(report({ what: 'board:1', format: 'pdf', keepDays: 2 }));
    const got = await fetched(ctx, await findFile(ctx.store, id), officer.id, NO_CONNECTION);
    expect(
      Buffer.from(await got.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    expect((await findFile(ctx.store, id)).fetched).toBe(1);
    at('2026-12-03T09:00:01Z');
    await expect(
      fetched(ctx, await findFile(ctx.store, id), officer.id, NO_CONNECTION),
    ).rejects.toMatchObject({
      status: 404,
    });
    await letFilesGo(ctx);
    expect(await bytesOf(id)).toHaveLength(0);
    expect((await listFiles(ctx.store))[0]).toMatchObject({ id, goneAt: expect.any(String) });
  });
});

describe('a schedule', () => {
  it('asks once for a time, by however many workers, and once for many that were missed', async () => {
    const schedule = { every: 'week', weekday: 1, day: 1, at: '07:00', zone: 'Europe/Copenhagen' } as const;
    const id = await add(report({ schedule }));
    expect((await findReport(ctx.store, id)).nextAt).toBe('2026-12-07T06:00:00.000Z');
    expect(await askDueReports(ctx)).toBe(0);
    at('2026-12-21T08:00:00Z');
    const asked = await Promise.all([askDueReports(ctx), askDueReports(ctx), askDueReports(ctx)]);
    expect(asked.reduce((n, m) => n + m, 0)).toBe(1);
    expect((await findReport(ctx.store, id)).nextAt).toBe('2026-12-28T06:00:00.000Z');
    expect(await listFiles(ctx.store, id)).toHaveLength(1);
  });
});

describe('the formats', () => {
  async function* rows(n: number): AsyncGenerator<readonly Cell[]> {
    yield ['Name', 'Number', 'Nothing'];
    for (let i = 0; i < n; i++) yield [i % 2 ? `=cmd|'${i}` : `Ærø, "${i}"\n`, i, null];
  }
  const head = { title: 'T', lines: ['One'], ledger: null };
  async function written(format: Report['format'], n: number) {
    const counted = { lines: 0 };
    const parts: Uint8Array[] = [];
    for await (const part of writeReport(format, head, rows(n), counted)) parts.push(part);
    return { bytes: Buffer.concat(parts), lines: counted.lines };
  }

  it('hold the same rows, and no formula', async () => {
    const csv = await written('csv', 5);
    expect(csv.lines).toBe(5);
    const lines = parse(csv.bytes) as string[][];
    expect(lines[0]).toEqual(['Name', 'Number', 'Nothing']);
    expect(lines[2]).toEqual(["'=cmd|'1", '1', '']);
    const json = JSON.parse((await written('json', 5)).bytes.toString()) as { rows: { Number: number }[] };
    expect(json.rows.map((r) => r.Number)).toEqual([0, 1, 2, 3, 4]);
    const book = new Excel.Workbook();
    await book.xlsx.load((await written('xlsx', 5)).bytes.buffer as ArrayBuffer);
    const sheet = book.getWorksheet('Rows');
    expect(sheet?.rowCount).toBe(6);
    expect(sheet?.getRow(3).getCell(1).value).toBe("'=cmd|'1");
    expect(sheet?.getRow(3).getCell(2).value).toBe(1);
    expect((await written('pdf', 5)).bytes.subarray(0, 5).toString()).toBe('%PDF-');
    expect(JSON.parse((await written('json', 0)).bytes.toString())).toMatchObject({ rows: [] });
  });

  it('hold very many rows without holding them at once', async () => {
    for (const format of ['csv', 'json', 'xlsx'] as const) {
      global.gc?.();
      const before = process.memoryUsage().rss;
      let [size, most] = [0, 0];
      const counted = { lines: 0 };
      for await (const part of writeReport(format, head, rows(200_000), counted)) {
        size += part.length;
        most = Math.max(most, process.memoryUsage().rss - before);
      }
      expect(counted.lines).toBe(200_000);
      expect(size).toBeGreaterThan(1_000_000);
      expect(most, format).toBeLessThan(400e6);
    }
  }, 120_000);
});

describe('the same number', () => {
  it('stands on a board, in a report and in a test of Obligations, for every figure', async () => {
    const figures = await figuresOf(ctx, officer, 1);
    let n = 3;
    for (const f of figures) {
      await value(f.id, '2026-12-01', (n += 7), 5000);
      await ctx.store.transaction((tx) =>
        keepRows(tx, f.id, '2026-12-01', [{ key: 'all', name: 'all', n, link: '', parts: {} }]),
      );
    }
    expect(figures.length).toBeGreaterThan(90);
    for (let from = 0; from < figures.length; from += 8) {
      const some = figures.slice(from, from + 8);
      const board = await ctx.store.transaction((tx) =>
        addBoard(tx, ctx.now(), officer.id, {
          ...{ name: unique('board'), about: '', compare: 'month' },
          tiles: some.map((f, i) => ({ id: `t${i}`, figure: f.id, as: 'number', by: null, days: 90 })),
        }),
      );
      const shown = await showBoard(ctx, officer, board);
      const told: (readonly Cell[])[] = [];
      const { rows } = await openSubject(ctx, officer, report({ what: `board:${board}` }));
      for await (const row of rows) told.push(row);
      for (const [i, f] of some.entries()) {
        const [kept] = (await figuresOf(ctx, officer, 1, { only: new Set([f.id]) }))[0]?.days ?? [];
        expect(shown.tiles[i]?.now?.value, f.id).toBe(kept?.value);
        expect(told[i + 1]?.[0]).toBe(f.name);
        expect(told[i + 1]?.[2], f.id).toBe(kept?.value);
        const ofRows: number[] = [];
        for await (const row of (await openSubject(ctx, officer, report({ what: `rows:${f.id}` }))).rows)
          if (typeof row.at(-3) === 'number') ofRows.push(Number(row.at(-3)));
        expect(
          ofRows.reduce((a, b) => a + b, 0),
          f.id,
        ).toBe(kept?.value);
      }
    }
    await runTests(ctx);
    const live = await liveTests(ctx.store);
    const numbers = new Map(
      (await figuresOf(ctx, officer, 1)).map((f) => [f.id, f.days.at(-1)?.value ?? null]),
    );
    let tested = 0;
    for (const { id, test } of (await frameworkLibrary(ctx.store)).measures.values()) {
      if (!test) continue;
      expect(live.get(id)?.value, `${id} by ${test.figure}`).toBe(numbers.get(test.figure));
      tested += 1;
    }
    expect(tested).toBeGreaterThan(40);
  });

  it('is offered of all that an account may see, and of nothing else', async () => {
    const handler = await testAccount(ctx, 'request handler');
    const ids = (await reportSubjects(ctx, handler)).map((s) => s.id);
    expect(ids).toContain('cases.requests');
    expect(ids).not.toContain('figure:accounts.officers');
    expect(ids).not.toContain('protection.activity');
    for (const what of ['figure:accounts.officers', 'protection.activity', 'area:accounts'])
      await expect(openSubject(ctx, handler, report({ what }))).rejects.toMatchObject({
        status: expect.any(Number),
      });
    const all = await reportSubjects(ctx, officer);
    for (const s of all.filter((x) => x.group !== 'Figures')) {
      const opened = await openSubject(ctx, officer, report({ what: s.id }));
      let [lines, width] = [0, 0];
      for await (const row of opened.rows) {
        width ||= row.length;
        expect(row.length, s.id).toBe(width);
        if (++lines > 50) break;
      }
      expect(lines, s.id).toBeGreaterThan(0);
    }
  }, 60_000);
});
