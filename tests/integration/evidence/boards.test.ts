import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { PDFDocument } from '@cantoo/pdf-lib';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { Board, Tile } from '../../../src/core/figures/board.ts';
import { byPart, type FigureRow } from '../../../src/core/figures/figure-row.ts';
import { boardPdf } from '../../../src/server/desk/board-pdf.ts';
import { openSharedBoard } from '../../../src/server/desk/shared-board.ts';
import { showBoard } from '../../../src/server/desk/shown-board.ts';
import { figuresOf } from '../../../src/server/desk/figures.ts';
import { addLink, endLink, linksOf } from '../../../src/server/evidence/boards/board-links.ts';
import { addBoard, BOARD, listBoards, removeBoard } from '../../../src/server/evidence/boards/boards.ts';
import { setAim } from '../../../src/server/figures/aims.ts';
import { countFigure } from '../../../src/server/figures/count-figure.ts';
import {
  forgetOldFigures,
  keepFigure,
  keepRows,
  keptFigures,
  rowsOn,
} from '../../../src/server/figures/kept-figures.ts';
import type { Figure } from '../../../src/server/figures/figure.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { testAccount, testContext } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

let officer: Account;
let auditor: Account;
beforeEach(async () => {
  ctx.at('2026-12-01T09:00:00Z');
  for (const table of ['figure_row', 'figure_value', 'figure_aim', 'board_link'])
    await ctx.store.run(`DELETE FROM ${table}`);
  officer = await testAccount(ctx);
  auditor = await testAccount(ctx, 'auditor');
});

const row = (key: string, n = 1, more: Partial<FigureRow> = {}): FigureRow => ({
  ...{ key, name: `The ${key}`, n, link: `/x/${key}`, parts: {}, ...more },
});
const figure = (rows: () => readonly FigureRow[], more: Partial<Figure> = {}): Figure => ({
  ...{ id: 'test.some', name: 'Some', definition: 'Some.', unit: 'thing', good: 'less', link: '/x' },
  see: 'today.read',
  value: () => Promise.resolve({ value: rows().reduce((n, r) => n + r.n, 0) }),
  rows: () => Promise.resolve(rows()),
  ...more,
});
const keysOn = async (day: string) =>
  (await rowsOn(ctx.store, 'test.some', day)).map((r) => `${r.key}${r.n}`);

describe('the rows of a figure', () => {
  it('are those of the day that is asked for, and make its number', async () => {
    let rows = [row('a', 2), row('b')];
    const some = figure(() => rows);
    await keepFigure(ctx, some);
    ctx.at('2026-12-02T09:00:00Z');
    rows = [row('a', 5), row('c', 1, { parts: { site: 's' }, of: 4 })];
    await keepFigure(ctx, some);
    // Twice on a day: the last word of it stands.
    ctx.at('2026-12-04T09:00:00Z');
    rows = [row('d')];
    await keepFigure(ctx, some);
    rows = [row('a', 5)];
    await keepFigure(ctx, some);
    expect(await keysOn('2026-11-30')).toEqual([]);
    expect(await keysOn('2026-12-01')).toEqual(['a2', 'b1']);
    expect(await keysOn('2026-12-02')).toEqual(['a5', 'c1']);
    // Nothing was counted on the 3rd.
    expect(await keysOn('2026-12-03')).toEqual(['a5', 'c1']);
    expect(await keysOn('2026-12-04')).toEqual(['a5']);
    const c = (await rowsOn(ctx.store, 'test.some', '2026-12-02')).at(-1);
    expect(c).toEqual(row('c', 1, { parts: { site: 's' }, of: 4 }));
    const days = (await keptFigures(ctx.store, ['test.some'], new Date('2026-11-01'))).get('test.some') ?? [];
    for (const d of days)
      expect((await rowsOn(ctx.store, 'test.some', d.day)).reduce((n, r) => n + r.n, 0)).toBe(d.value);
  });

  it('are written once where two count at the same time, and not at all where counting fails', async () => {
    const some = figure(() => [row('a'), row('b'), row('c')]);
    await Promise.all([keepFigure(ctx, some), keepFigure(ctx, some), keepFigure(ctx, some)]);
    expect(await keysOn('2026-12-01')).toEqual(['a1', 'b1', 'c1']);
    const failing = figure(() => [], { id: 'test.fails', rows: () => Promise.reject(new Error('away')) });
    await expect(keepFigure(ctx, failing)).rejects.toThrow('away');
    expect((await keptFigures(ctx.store, ['test.fails'], new Date('2026-11-01'))).size).toBe(0);
  });

  it('come of the query that counts them, many in one where there are too many', async () => {
    const counted = countFigure({
      ...{ id: 'test.some', name: 'Some', definition: 'Some.', unit: 'number', good: 'less', link: '/x' },
      see: 'today.read',
      counts: 'SELECT COUNT(*) AS n FROM seq_1_to_5200',
      each: { key: 'seq', name: "CONCAT('No. ', seq)", parts: { kind: "IF(seq % 2 = 0, 'even', NULL)" } },
    });
    const now = ctx.now();
    const rows = await counted.rows(ctx.store, now, ctx);
    expect(rows).toHaveLength(5001);
    expect(rows.at(-1)).toMatchObject({ name: '200 more', n: 200 });
    expect(rows.reduce((n, r) => n + r.n, 0)).toBe((await counted.value(ctx.store, now, ctx)).value);
    expect(byPart({}, rows.slice(0, 10), 'kind').map((p) => [p.part, p.value])).toEqual([
      ['', 5],
      ['even', 5],
    ]);
    const grouped = countFigure({
      ...{ id: 'test.some', name: 'Some', definition: 'Some.', unit: 'number', good: 'more', link: '/x' },
      ...{ see: 'today.read', asShare: true },
      counts: 'SELECT COUNT(*) AS n FROM seq_1_to_90 WHERE seq < 10',
      of: 'SELECT COUNT(*) AS n FROM seq_1_to_90',
      each: { key: 'seq DIV 30', name: 'seq DIV 30' },
    });
    expect((await grouped.rows(ctx.store, now, ctx)).map((r) => [r.key, r.n, r.of])).toEqual(
      expect.arrayContaining([
        ['0', 9, 29],
        ['1', 0, 30],
      ]),
    );
  });

  it('are let go once nobody can look back to them, and never while they stand', async () => {
    await ctx.store.transaction((tx) => keepRows(tx, 'test.some', '2020-01-01', [row('old'), row('still')]));
    await ctx.store.transaction((tx) => keepRows(tx, 'test.some', '2020-02-01', [row('still')]));
    await forgetOldFigures(ctx);
    expect(await keysOn('2020-01-15')).toEqual(['still1']);
    expect(await keysOn('2026-12-01')).toEqual(['still1']);
  });
});

const board = (figures: readonly string[], more: Partial<Board> = {}) =>
  Board.parse({
    name: `Board ${Math.random()}`,
    compare: 'month',
    tiles: figures.map((f, i) => Tile.parse({ id: `t${i}`, figure: f })),
    ...more,
  });
const make = (b: Board) => ctx.store.transaction((tx) => addBoard(tx, ctx.now(), officer.id, b));
const value = (id: string, day: string, n: number, of: number | null = null) =>
  ctx.store.run('INSERT INTO figure_value (figure, day, value, out_of, counted_at) VALUES (?, ?, ?, ?, ?)', [
    id,
    day,
    n,
    of,
    `${day} 10:00:00`,
  ]);

describe('a board', () => {
  it('ships as three, of figures that exist', async () => {
    const shipped = (await listBoards(ctx.store)).filter((b) => b.id <= 3);
    expect(shipped.map((b) => b.content.name)).toEqual(['Officer’s board', 'Executives’ board', 'Websites']);
    const known = new Set((await figuresOf(ctx, officer, 1)).map((f) => f.id));
    for (const b of shipped) {
      expect(b.content.tiles.length).toBeGreaterThanOrEqual(6);
      for (const t of b.content.tiles) expect(known).toContain(t.figure);
    }
  });

  it('tells the number of a day, and what became of it since the period before', async () => {
    const id = await make(board(['websites.leaks', 'cases.requests.in-time']));
    await value('websites.leaks', '2026-10-31', 4, 50);
    await value('websites.leaks', '2026-11-30', 9, 50);
    await value('cases.requests.in-time', '2026-11-30', 48, 50);
    await setAim(ctx, officer.id, 'cases.requests.in-time', { target: 0.98, owner: auditor.id });
    const shown = await showBoard(ctx, officer, id);
    expect(shown.comparedWith).toBe('2026-11-30');
    expect(shown.tiles[0]?.comparison).toMatchObject({ change: 0 });
    const then = await showBoard(ctx, officer, id, '2026-11-30');
    expect(then.comparedWith).toBe('2026-10-31');
    expect(then.tiles[0]).toMatchObject({
      now: { value: 9 },
      comparison: { change: 5, way: 'worse', sure: 'counted' },
    });
    expect(then.tiles[1]?.figure).toMatchObject({ target: 0.98, owner: { id: auditor.id } });
    expect(then.tiles[1]?.comparison).toBeNull();
  });

  it('says of each part what it was on both days', async () => {
    const id = await make(
      board([], {
        tiles: [Tile.parse({ id: 't', figure: 'websites.leaks', as: 'table', by: 'site' })],
      }),
    );
    const of = (site: string, n: number) => row(`${site}`, n, { parts: { site } });
    await ctx.store.transaction((tx) =>
      keepRows(tx, 'websites.leaks', '2026-10-30', [of('a.example', 3), of('b.example', 1)]),
    );
    await ctx.store.transaction((tx) => keepRows(tx, 'websites.leaks', '2026-11-30', [of('a.example', 5)]));
    const shown = await showBoard(ctx, officer, id, '2026-11-30');
    expect(shown.tiles[0]?.parts).toEqual([{ part: 'a.example', value: 5, rows: 1, before: 3 }]);
  });

  it('keeps from each person what their roles do not include, and says of a figure that it is no more', async () => {
    const id = await make(board(['accounts.officers', 'no.such', 'websites.leaks']));
    const handler = await testAccount(ctx, 'request handler');
    const { tiles } = await showBoard(ctx, handler, id);
    expect(tiles.map((t) => t.hidden)).toEqual(['not yours', 'gone', null]);
    expect((await showBoard(ctx, officer, id)).tiles.map((t) => t.hidden)).toEqual([null, 'gone', null]);
  });

  it('is edited as other objects are, and refuses a name that another has', async () => {
    const id = await make(board(['websites.leaks']));
    const kept = await readObject(ctx.store, BOARD, id);
    await ctx.store.transaction((tx) =>
      editObject(tx, ctx.now(), BOARD, officer.id, id, {
        revision: kept.revision,
        base: kept.content,
        content: { ...kept.content, about: 'For the quarter' },
      }),
    );
    expect((await readObject(ctx.store, BOARD, id)).content.about).toBe('For the quarter');
    await expect(make({ ...board([]), name: kept.content.name })).rejects.toMatchObject({ status: 409 });
    await ctx.store.transaction((tx) => removeBoard(tx, ctx.now(), officer, id));
    await expect(showBoard(ctx, officer, id)).rejects.toMatchObject({ status: 404 });
  });

  it('goes on one page with eight figures, whatever they are called and shown as', async () => {
    const as = ['number', 'line', 'bars', 'table'] as const;
    const id = await make(
      board([], {
        name: 'Ω “quoted” & <b>bold</b>',
        about: 'x'.repeat(300),
        tiles: Array.from({ length: 8 }, (_, i) =>
          Tile.parse({ id: `t${i}`, figure: 'websites.leaks', as: as[i % 4], by: i % 2 ? 'site' : null }),
        ),
      }),
    );
    for (let day = 1; day <= 30; day++)
      await value('websites.leaks', `2026-11-${String(day).padStart(2, '0')}`, day % 7, 50);
    await ctx.store.transaction((tx) =>
      keepRows(
        tx,
        'websites.leaks',
        '2026-11-30',
        Array.from({ length: 40 }, (_, i) => row(`k${i}`, i, { parts: { site: `site-${i}.example` } })),
      ),
    );
    const pdf = await boardPdf(await showBoard(ctx, officer, id));
    expect((await PDFDocument.load(pdf)).getPageCount()).toBe(1);
  });
});

describe('the address of a board', () => {
  it('shows it until its end, counts who opens it, and is kept as a digest alone', async () => {
    const id = await make(board(['websites.leaks']));
    await value('websites.leaks', '2026-12-01', 3, 50);
    const link = await addLink(ctx, officer.id, { board: id, words: 'The supervisory board', days: 10 });
    const open = () => openSharedBoard(ctx, link.token, '198.18.0.1');
    expect((await open())?.shown.tiles[0]?.now?.value).toBe(3);
    expect(await linksOf(ctx, id)).toMatchObject([{ words: 'The supervisory board', opened: 1 }]);
    ctx.at('2026-12-11T08:59:59Z');
    expect(await open()).toBeDefined();
    ctx.at('2026-12-11T09:00:01Z');
    expect(await open()).toBeUndefined();
    expect(await linksOf(ctx, id)).toEqual([]);
    expect(await openSharedBoard(ctx, 'x'.repeat(32), '198.18.0.1')).toBeUndefined();
    expect(await openSharedBoard(ctx, "' OR 1=1", '198.18.0.1')).toBeUndefined();
  });

  it('keeps its board from being removed by whoever may not end it', async () => {
    const id = await make(board(['websites.leaks']));
    const steward = await testAccount(ctx, 'data steward');
    const remove = (by: Account) => ctx.store.transaction((tx) => removeBoard(tx, ctx.now(), by, id));
    const link = await addLink(ctx, officer.id, { board: id, words: '', days: 10 });
    await expect(remove(steward)).rejects.toMatchObject({ status: 403 });
    await endLink(ctx, officer.id, id, link.id);
    await remove(steward);
    await expect(showBoard(ctx, officer, id)).rejects.toMatchObject({ status: 404 });
    const other = await make(board(['websites.leaks']));
    const last = await addLink(ctx, officer.id, { board: other, words: '', days: 10 });
    await ctx.store.transaction((tx) => removeBoard(tx, ctx.now(), officer, other));
    expect(await openSharedBoard(ctx, last.token, '198.18.0.1')).toBeUndefined();
  });

  it('shows nothing once it was ended, or whoever made it may not share any more', async () => {
    const id = await make(board(['websites.leaks']));
    const one = await addLink(ctx, officer.id, { board: id, words: '', days: 10 });
    const other = await addLink(ctx, auditor.id, { board: id, words: '', days: 10 });
    await endLink(ctx, officer.id, id, one.id);
    expect(await openSharedBoard(ctx, one.token, '198.18.0.1')).toBeUndefined();
    await expect(endLink(ctx, officer.id, id, one.id)).rejects.toMatchObject({ status: 404 });
    expect(await openSharedBoard(ctx, other.token, '198.18.0.1')).toBeUndefined();
    const third = await addLink(ctx, officer.id, { board: id, words: '', days: 10 });
    await ctx.store.run('UPDATE account SET disabled_at = NOW(3) WHERE id = ?', [officer.id]);
    expect(await openSharedBoard(ctx, third.token, '198.18.0.1')).toBeUndefined();
  });
});
