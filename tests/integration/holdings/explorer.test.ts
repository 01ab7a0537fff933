import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import { listEntries } from '../../../src/server/evidence/ledger.ts';
import {
  countItems,
  explorerFigures,
  explorerPage,
  explorerPlaces,
} from '../../../src/server/holdings/items/explorer.ts';
import { addDetector } from '../../../src/server/holdings/detection/detectors/new-detector.ts';
import { listTexts, readText } from '../../../src/server/holdings/detection/detectors/detector-texts.ts';
import { teachWith } from '../../../src/server/holdings/items/teach.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { LensIndexes } from '../../../src/server/holdings/items/index/lens-index.ts';
import { exportItems } from '../../../src/server/holdings/items/item-export.ts';
import { itemText, maskedPieces, revealMatch } from '../../../src/server/holdings/items/item-text.ts';
import { viewItem } from '../../../src/server/holdings/items/item-view.ts';
import {
  countByPattern,
  judgeByPattern,
  judgeItem,
  measuredPrecision,
} from '../../../src/server/holdings/items/judgements.ts';
import { compareLens, keepLensDays, keptDays } from '../../../src/server/holdings/lenses/lens-days.ts';
import { addLens, LENS, listLenses, removeLens } from '../../../src/server/holdings/lenses/lenses.ts';
import { closeSurveyThreads } from '../../../src/server/holdings/surveys/survey-threads.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { ownDatabase } from '../../own-database.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { folderSource, newSurvey, survey, tempFolder, writeFiles } from './estate.ts';
import { xlsx } from './sample-files.ts';

const home = tempFolder();
const ctx = {
  ...testContext(),
  settings: readSettings({
    DATABASE_URL: ownDatabase(),
    SECRET_KEY: 'ab'.repeat(32),
    LOG_LEVEL: 'silent',
    SOURCE_ROOTS: home.path,
  }),
};
const root = join(home.path, 'share');
let source: number;
let other: number;
let id: number;
let officer: Account;
const mine = () => `place in "${source}"`;

beforeAll(async () => {
  officer = await testAccount(ctx);
  writeFiles(root, {
    'Manifests/2026/list.xlsx': await xlsx([
      ['Navn', 'CPR', 'E-mail'],
      ['Jens Hansen', '010180-1234', 'jens@ferry.example'],
      ['Anna Berg', '020281-1238', 'anna@ferry.example'],
    ]),
    'Manifests/letter.txt': 'Write to jens@ferry.example, or else to wrong@never.example.',
    'notes.txt': 'Nothing.',
  });
  writeFiles(join(home.path, 'other'), { 'x.txt': 'kim@else.example' });
  source = await folderSource(ctx, root);
  other = await folderSource(ctx, join(home.path, 'other'));
  id = await newSurvey(ctx, [source, other]);
  await survey(ctx, id);
});
afterAll(async () => {
  await Promise.all([closeLensThreads(), closeSurveyThreads()]);
  await ctx.store.close();
  home.remove();
});

const nameOf = async (line: string) =>
  (await explorerPage(ctx, officer, { lens: line, order: 'people', size: 50 })).rows.map((r) => r.name);
const itemCalled = async (name: string) =>
  Number(
    (
      await explorerPage(ctx, officer, {
        lens: `${mine()} and name holding "${name}"`,
        order: 'people',
        size: 5,
      })
    ).rows[0]?.id,
  );

describe('the explorer', () => {
  it('counts what a survey found, and everything follows the lens', async () => {
    const all = await explorerFigures(ctx, officer, mine());
    expect(all).toMatchObject({ items: 3, people: { people: 4, error: 0 }, unreadable: 0, faults: [] });
    expect(all.data.find((d) => d.value === 'email')?.count).toBe(2);
    expect(all.formats.map((f) => f.value).sort()).toEqual(['XLSX', 'plain text']);
    expect(all.matrix.find((r) => r.document === '')?.data.find((d) => d.value === 'dk-cpr')?.count).toBe(1);
    const some = await explorerFigures(ctx, officer, `${mine()} and data one of "dk-cpr"`);
    expect(some).toMatchObject({ items: 1, people: { people: 2, error: 0 } });
  });

  it('pages through items, the largest first', async () => {
    const first = await explorerPage(ctx, officer, { lens: mine(), order: 'people', size: 2 });
    expect(first.rows.map((r) => [r.name, r.people])).toEqual([
      ['letter.txt', 2],
      ['list.xlsx', 2],
    ]);
    const rest = await explorerPage(ctx, officer, {
      lens: mine(),
      order: 'people',
      size: 2,
      after: first.next ?? '',
    });
    expect([rest.rows.map((r) => r.name), rest.next]).toEqual([['notes.txt'], null]);
  });

  it('opens the tree of places, step by step', async () => {
    const below = (above: string) => explorerPlaces(ctx, officer, mine(), above);
    expect((await below('')).map((p) => [p.value, p.items])).toEqual([[`${source}`, 3]]);
    expect((await below(`${source}`)).map((p) => [p.name, p.items, p.opens])).toEqual([
      ['Manifests', 2, true],
    ]);
    expect((await below(`${source}/Manifests`)).map((p) => p.name)).toEqual(['2026']);
  });

  it('shows an account the sources that it looks after, and nothing of others', async () => {
    const kept = { ...officer, scope: { source: [String(source)] } };
    expect(await countItems(ctx, kept, parseLens('everything'))).toBe(3);
    expect(await countItems(ctx, kept, parseLens(`place in "${other}"`))).toBe(0);
    expect(await countItems(ctx, { ...officer, scope: { source: [] } }, parseLens('everything'))).toBe(0);
    await expect(
      judgeByPattern(ctx, kept, { detector: 'email', pattern: 'k*else*', holds: true, reason: '' }),
    ).rejects.toThrow();
  });

  it('says what a lens names that is gone, and finds nothing with it', async () => {
    const told = await explorerFigures(ctx, officer, 'data one of "never-there" or not name unknown');
    expect(told.items).toBe(0);
    expect(told.faults[0]).toContain('never-there');
    await expect(explorerFigures(ctx, officer, 'data one of')).rejects.toMatchObject({ status: 400 });
  });

  it('sees what changed since it was asked last, from rows or from what was kept of them', async () => {
    const indexes = new LensIndexes(ctx.store);
    const ask = {
      lens: { fact: 'place', is: 'in', place: String(source) } as const,
      today: '2026-11-29',
      sources: null,
      ask: { what: 'count' } as const,
    };
    expect(await indexes.answer(ask)).toBe(3);
    writeFiles(root, { 'late.txt': 'new@comer.example' });
    await survey(ctx, id);
    expect(await indexes.answer(ask)).toBe(4);
    await expect.poll(() => countItems(ctx, officer, parseLens(mine())), { timeout: 10_000 }).toBe(4);
    rmSync(join(root, 'late.txt'));
    await survey(ctx, id);
    await expect.poll(() => countItems(ctx, officer, parseLens(mine())), { timeout: 10_000 }).toBe(3);
  });

  it('is compared with what it was on a day, down to the items that came and left', async () => {
    const lens = await ctx.store.transaction((tx) =>
      addLens(tx, ctx.now(), officer.id, { name: unique('compared'), lens: parseLens(mine()) }),
    );
    const yesterday = new Date(ctx.now().getTime() - 86_400_000);
    const [day, today] = [yesterday, ctx.now()].map((d) => d.toISOString().slice(0, 10)) as [string, string];
    await keepLensDays({ ...ctx, now: () => yesterday });
    expect(await keptDays(ctx.store, mine())).toEqual([day]);
    rmSync(join(root, 'notes.txt'));
    writeFiles(root, { 'new.txt': 'lee@new.example' });
    await survey(ctx, id);
    const found = await compareLens(ctx, officer, mine(), day, undefined);
    expect(found).toMatchObject({ came: 1, left: 0, gone: 1, then: { items: 3 }, now: { items: 3 } });
    expect(found.data).toContainEqual({ value: 'email', then: 2, now: 3 });
    const came = { lens: mine(), order: 'people' as const, size: 9, since: day, which: 'came' as const };
    expect((await explorerPage(ctx, officer, came)).rows.map((r) => r.name)).toEqual(['new.txt']);
    expect(await explorerFigures(ctx, officer, mine(), { since: day, which: 'came' })).toMatchObject({
      items: 1,
      people: { people: 1 },
    });
    await keepLensDays(ctx);
    expect(await compareLens(ctx, officer, mine(), day, today)).toMatchObject({ came: 1, left: 0, gone: 1 });
    await expect(compareLens(ctx, officer, mine(), '2020-01-01', undefined)).rejects.toMatchObject({
      fields: [{ field: 'since' }],
    });
    await ctx.store.transaction((tx) => removeLens(tx, ctx.now(), officer.id, lens));
    rmSync(join(root, 'new.txt'));
    writeFiles(root, { 'notes.txt': 'Nothing.' });
    await survey(ctx, id);
  });

  it('is exported as it is filtered, for a table or for a program', async () => {
    const csv = await exportItems(ctx, officer, { lens: mine(), order: 'people', format: 'csv' });
    expect(csv.split('\n')).toHaveLength(5);
    expect(csv).toContain('Manifests/2026,list.xlsx');
    const lines = (await exportItems(ctx, officer, { lens: mine(), order: 'people', format: 'jsonl' }))
      .trim()
      .split('\n');
    expect(lines.map((l) => (JSON.parse(l) as { name: string }).name)).toEqual([
      'letter.txt',
      'list.xlsx',
      'notes.txt',
    ]);
    expect(csv + lines.join()).not.toContain('jens@ferry');
  });
});

describe('an item', () => {
  it('opens to its findings with their arithmetic, and says why it is in the lens', async () => {
    const view = await viewItem(
      ctx,
      officer,
      await itemCalled('letter'),
      `${mine()} and data one of "email" and people at least 5`,
    );
    const email = view.findings.find((f) => f.detector === 'email');
    expect(email).toMatchObject({ matches: 2, distinct: 2, rehearsed: false });
    expect(email?.kept[0]?.content.steps.length).toBeGreaterThan(0);
    expect(email?.kept[0]?.masked).not.toContain('jens@');
    expect(view.why.map((w) => w.holds)).toEqual([true, true, false]);
  });

  it('is read again with every value masked, and that goes to the ledger', async () => {
    const item = await itemCalled('letter');
    const text = await itemText(ctx, officer, item);
    const shown = JSON.stringify(text.pieces);
    expect(shown).toContain('Write to ');
    expect(shown).not.toContain('jens@ferry');
    expect(text).toMatchObject({ changed: false, cut: false });
    const page = await listEntries(
      ctx.store,
      { object: 'item', objectId: String(item) } as never,
      undefined,
      10,
    );
    expect(JSON.stringify(page)).toContain('item.read');
  });

  it('shows one value in clear, leaving a trace without it, and none of an item that was changed', async () => {
    const item = await itemCalled('letter');
    expect(await revealMatch(ctx, officer, item, { detector: 'email', number: 0 })).toEqual({
      value: 'jens@ferry.example',
    });
    const page = JSON.stringify(
      await listEntries(ctx.store, { object: 'item', objectId: String(item) } as never, undefined, 10),
    );
    expect(page).toContain('item.reveal');
    expect(page).not.toContain('jens@ferry');
    writeFiles(root, {
      'Manifests/letter.txt': 'Write to else@where.example, or else to wrong@never.example.',
    });
    await expect(revealMatch(ctx, officer, item, { detector: 'email', number: 0 })).rejects.toMatchObject({
      status: 409,
    });
    writeFiles(root, {
      'Manifests/letter.txt': 'Write to jens@ferry.example, or else to wrong@never.example.',
    });
    await survey(ctx, id);
  });

  it.each([
    ['abc def', [[4, 7]], ['abc ', '•4']],
    [
      'abcdef',
      [
        [0, 3],
        [2, 6],
      ],
      ['•0', '•••'],
    ],
    ['abc', [], ['abc']],
    [
      'abcdef',
      [
        [0, 6],
        [2, 4],
      ],
      ['•0'],
    ],
  ])('of %j with findings at %j shows %j', (text, spans, shown) =>
    expect(
      maskedPieces(
        text,
        spans.map(([start = 0, end = 0]) => ({
          start,
          end,
          detector: 'd',
          confidence: 1,
          masked: `•${start}`,
        })),
      ).map((p) => ('text' in p ? p.text : p.masked)),
    ).toEqual(shown),
  );
});

describe('judged findings', () => {
  it('do not count where all of them are wrong, and outlive the next survey', async () => {
    const item = await itemCalled('letter');
    const view = await viewItem(ctx, officer, item, 'everything');
    const [first, second] = view.findings.find((f) => f.detector === 'email')?.kept ?? [];
    const judge = (values: readonly string[], holds: boolean) =>
      judgeItem(ctx, officer, item, {
        detector: 'email',
        values: [...values],
        holds,
        reason: 'A made-up address',
      });
    await judge([first?.hash ?? ''], false);
    expect(await nameOf(`${mine()} and data one of "email"`)).toContain('letter.txt');
    await judge([second?.hash ?? ''], false);
    expect(await nameOf(`${mine()} and data one of "email"`)).not.toContain('letter.txt');
    writeFiles(root, {
      'Manifests/letter.txt': 'Write to jens@ferry.example, or else to wrong@never.example!',
    });
    await survey(ctx, id);
    expect(await nameOf(`${mine()} and data one of "email"`)).not.toContain('letter.txt');
    const again = await viewItem(ctx, officer, item, 'everything');
    expect(again.findings.find((f) => f.detector === 'email')?.kept[0]?.judged).toMatchObject({
      holds: false,
      reason: 'A made-up address',
    });
    await judge([first?.hash ?? '', second?.hash ?? ''], true);
    expect(await nameOf(`${mine()} and data one of "email"`)).toContain('letter.txt');
  });

  it('say nothing of values that came since', async () => {
    const item = await itemCalled('letter');
    const view = await viewItem(ctx, officer, item, 'everything');
    const values = view.findings.find((f) => f.detector === 'email')?.kept.map((k) => k.hash) ?? [];
    await judgeItem(ctx, officer, item, { detector: 'email', values: [...values], holds: false, reason: '' });
    writeFiles(root, { 'Manifests/letter.txt': 'Write to new@comer.example.' });
    await survey(ctx, id);
    expect(await nameOf(`${mine()} and data one of "email"`)).toContain('letter.txt');
  });

  it('of whole documents teach a learned detector, which takes no other', async () => {
    const item = await itemCalled('letter');
    const learned = await addDetector(ctx, officer.id, { name: unique('Letter'), kind: 'learned' });
    const teach = (holds: boolean, detector = learned.id) =>
      teachWith(ctx, officer, item, { detector, holds });
    expect(await teach(true)).toEqual({ was: 'new' });
    expect(await teach(false)).toEqual({ was: 'example' });
    const [text] = await listTexts(ctx.store, learned.id);
    expect(text).toMatchObject({ role: 'counter-example', name: 'letter.txt', origin: 'verdict' });
    expect((await readText(ctx, learned.id, text?.id ?? '')).text).toMatch(/^Write to .*@/);
    await expect(teach(true, 'email')).rejects.toMatchObject({ fields: [{ field: 'detector' }] });
  });

  it('are judged many at once by how they read, and give the detector its measured precision', async () => {
    const before = await measuredPrecision(ctx.store, 'dk-cpr');
    expect(before).toMatchObject({ judged: 0, interval: null });
    const masked =
      (await viewItem(ctx, officer, await itemCalled('list'), 'everything')).findings.find(
        (f) => f.detector === 'dk-cpr',
      )?.kept[0]?.masked ?? '';
    const pattern = `${masked.slice(0, 3)}*`;
    const n = await countByPattern(ctx, officer, 'dk-cpr', pattern);
    expect(n).toBeGreaterThan(0);
    expect(
      await judgeByPattern(ctx, officer, { detector: 'dk-cpr', pattern, holds: true, reason: '' }),
    ).toEqual({ judged: n });
    expect(await measuredPrecision(ctx.store, 'dk-cpr')).toMatchObject({
      right: n,
      judged: n,
      interval: { high: 1 },
    });
    expect(await countByPattern(ctx, officer, 'dk-cpr', '%')).toBe(0);
    await expect(
      judgeByPattern(ctx, officer, { detector: 'dk-cpr', pattern: 'zzz*', holds: true, reason: '' }),
    ).rejects.toMatchObject({ status: 400 });
  });
});

describe('kept lenses', () => {
  it('are listed with what is in them, renamed, and removed', async () => {
    const name = unique('Lens');
    const lens = { fact: 'place', is: 'in', place: String(source) } as const;
    const kept = await ctx.store.transaction((tx) => addLens(tx, ctx.now(), officer.id, { name, lens }));
    expect((await listLenses(ctx, officer)).find((l) => l.id === kept)).toEqual({
      id: kept,
      name,
      line: mine(),
      items: 3,
      faulty: false,
    });
    await expect(
      ctx.store.transaction((tx) => addLens(tx, ctx.now(), officer.id, { name, lens })),
    ).rejects.toMatchObject({ status: 409 });
    await ctx.store.transaction((tx) => removeLens(tx, ctx.now(), officer.id, kept));
    await expect(LENS.read(ctx.store, kept)).rejects.toMatchObject({ status: 404 });
  });
});

it('an item of a source that does not answer says so', async () => {
  const item = await itemCalled('notes');
  rmSync(join(root, 'notes.txt'));
  await expect(itemText(ctx, officer, item)).rejects.toMatchObject({ status: 409 });
});
