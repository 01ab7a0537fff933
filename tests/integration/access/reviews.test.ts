import ExcelJS from 'exceljs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { writeStaff } from '../../../src/server/accounts/staff/staff.ts';
import {
  beginChange,
  findChange,
  keepChange,
  sayWhy,
} from '../../../src/server/access/change/access-changes.ts';
import { viewChange } from '../../../src/server/access/change/view-change.ts';
import { addHandsRule, removeHandsRule, viewHands } from '../../../src/server/access/hands/hands-rules.ts';
import { closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import { idKey } from '../../../src/server/access/keys.ts';
import { cutWords, exportPeople, exportReached } from '../../../src/server/access/people-pages.ts';
import { openLinesOf } from '../../../src/server/access/review/owner-page.ts';
import { isReminderDue, remindReviewOwners } from '../../../src/server/access/review/remind-owners.ts';
import { reviewCsv } from '../../../src/server/access/review/review-csv.ts';
import {
  answerLines,
  endReview,
  handOn,
  reviewLines,
  ReviewScope,
  startReview,
  tellDueReviews,
  viewReview,
} from '../../../src/server/access/review/reviews.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { JsonColumn } from '../../../src/server/store/columns.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { grant, peopleBook, place, RightsServer } from '../../rights-server.ts';
import { clearEstate } from './clear-estate.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import { ACCESS_SOURCE } from '../../../src/server/access/sources/access-sources.ts';
import { readAccessSource } from '../../../src/server/access/sources/read-source.ts';
import { testItem, testSource } from '../holdings/estate-rows.ts';
import { takeIn } from './rights-sources.ts';

const base = testContext();
const server = new RightsServer();
let ctx = base;
let by: Account;
let rights = 0;

beforeAll(async () => {
  await clearEstate(base.store);
  await server.start();
  base.at('2026-11-30T10:00:00Z');
  ctx = {
    ...base,
    settings: {
      ...base.settings,
      ALLOWED_PRIVATE: `127.0.0.1:${server.port}`,
      SMTP_URL: 'smtp://localhost:9',
      WEB_ORIGIN: 'http://localhost:8730',
    },
  };
  by = await testAccount(ctx, 'access reviewer');
  await ctx.store.transaction((tx) =>
    writeStaff(tx, ctx.now(), null, {
      members: ['tove', 'karl', 'amira'].map((n) => ({
        ...{ address: `${n}@line.example`, name: n, unit: 'Port', groups: [] },
        left: n === 'karl' ? '2026-09-30' : null,
      })),
      groups: [],
    }),
  );
  const book = peopleBook(['tove', 'karl', 'amira'], { port: ['tove', 'karl'] });
  const enterprise = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User';
  server.people({ ...book, users: book.users.map((u) => ({ ...u, [enterprise]: { department: 'Port' } })) });
  server.rights([
    place('share', { owner: 'tove' }),
    place('share/july'),
    place('loose'),
    grant('share', 'port', 'change'),
    grant('share/july', 'karl', 'give'),
    grant('share/july', 'amira', 'see', { deny: true }),
    grant('loose', 'amira', 'read'),
    {
      type: 'link',
      id: 'l',
      place: 'share/july',
      strength: 'read',
      to: 'anyone',
      until: null,
      by: null,
      at: null,
    },
    { type: 'use', person: 'karl', place: 'share/july', day: '2026-09-12' },
  ]);
  await takeIn(ctx, server, 'people', { everyHours: null });
  rights = await takeIn(ctx, server, 'rights', { everyHours: null });
});
afterAll(async () => {
  await closeAccessThreads();
  await closeLensThreads();
  await server.stop();
  await base.store.close();
});

const key = (id: string) => idKey(`${rights}/${id}`);
const lines = (id: number, wish: object = {}) => reviewLines(ctx, id, { size: 100, ...wish });

describe('a review', () => {
  let id = 0;

  it('asks about every grant and link of its scope, of who owns the place, beside what they need to know', async () => {
    id = await startReview(ctx, by, {
      name: 'Winter',
      scope: { places: [key('share'), key('loose')], people: [] },
      due: '2026-12-10',
    });
    const { rows } = await lines(id);
    expect(rows.map((r) => [r.place.name, r.to.name, r.strength, r.owner]).sort()).toEqual(
      [
        ['july', 'KARL', 'give', 'tove@line.example'],
        ['july', 'anyone', 'read', 'tove@line.example'],
        ['share', 'Group port', 'change', 'tove@line.example'],
        // Nobody owns it: whoever began it is asked.
        ['loose', 'AMIRA', 'read', by.email],
      ].sort(),
    );
    expect(rows.find((r) => r.to.name === 'KARL')).toMatchObject({
      ...{ left: 1, lastUse: '2026-09-12', used: 1, stands: true, peers: { of: 2, reach: 1 } },
    });
    expect(rows.find((r) => r.to.name === 'Group port')).toMatchObject({ left: 1, to: { people: 2 } });
  });

  it.each<[string, object, string]>([
    ['an end that is over', { due: '2026-11-29' }, 'That day is over.'],
    [
      'a scope where nothing is given',
      { scope: { places: [], people: [idKey('tove')] } },
      'Nothing is given there by name.',
    ],
    [
      'a place that is not there',
      { scope: { places: ['nowhere-at-a'], people: [] } },
      'There is no such place',
    ],
  ])('is not begun with %s', async (_, more, words) => {
    const wish = { name: 'x', scope: { places: [key('share')], people: [] }, due: '2026-12-10', ...more };
    await expect(startReview(ctx, by, wish as never)).rejects.toThrow(words);
  });

  it('writes to its owner, once, and again as the end comes near', async () => {
    const told = async () =>
      (
        await ctx.store.all(
          z.object({ n: z.number() }),
          "SELECT 1 AS n FROM outgoing_message WHERE object = 'access review' AND object_id = ?",
          [String(id)],
        )
      ).length;
    await remindReviewOwners(ctx);
    await remindReviewOwners(ctx);
    expect(await told()).toBe(1);
    base.at('2026-12-04T10:00:00Z');
    await remindReviewOwners(ctx);
    expect(await told()).toBe(2);
    await tellDueReviews(ctx);
    const today = await ctx.store.all(
      z.object({ detail: z.string() }),
      "SELECT detail FROM today_item WHERE kind = 'access review due'",
    );
    expect(today).toEqual([{ detail: '4 of 4 lines are not answered' }]);
  });

  it('is answered by its owner for what is theirs alone, handed on, and by a reviewer for all', async () => {
    const [asked] = await openLinesOf(ctx, 'tove@line.example');
    expect(asked?.lines).toHaveLength(3);
    const of = (name: string) => asked?.lines.find((l) => l.to.name === name)?.n ?? -1;
    const loose = (await lines(id, { owner: by.email })).rows[0]?.n ?? -1;
    const tove = { owner: 'tove@line.example' };
    await answerLines(
      ctx,
      id,
      { lines: [{ n: of('KARL'), seen: null }], answer: 'take', reason: 'He left.' },
      tove,
    );
    await expect(
      answerLines(ctx, id, { lines: [{ n: loose, seen: null }], answer: 'take', reason: '' }, tove),
    ).rejects.toThrow('not yours');
    await expect(handOn(ctx, id, [of('anyone')], 'karl@line.example', tove)).rejects.toThrow(
      'Nobody who works here',
    );
    await handOn(ctx, id, [of('anyone')], 'Amira@line.example', tove);
    expect((await openLinesOf(ctx, 'amira@line.example'))[0]?.lines.map((l) => l.n)).toEqual([of('anyone')]);
    const me = { account: by.id, address: by.email };
    await answerLines(
      ctx,
      id,
      {
        lines: [
          { n: of('anyone'), seen: null },
          { n: loose, seen: null },
        ],
        answer: 'keep',
        reason: '',
      },
      me,
    );
    await answerLines(ctx, id, { lines: [{ n: loose, seen: 'keep' }], answer: null, reason: '' }, me);
    // Whoever has not seen yet what the owner said does not say it over.
    expect(
      await answerLines(ctx, id, { lines: [{ n: of('KARL'), seen: null }], answer: 'keep', reason: '' }, me),
    ).toEqual({ answered: 0, passed: 1 });
    expect(await viewReview(ctx.store, id)).toMatchObject({ lines: 4, kept: 1, taken: 1, owners: 3 });
  });

  it('ends as a change to rehearse of what is to go and still stands, with evidence of every word', async () => {
    const change = await endReview(ctx, by.id, id);
    expect((await findChange(ctx.store, change ?? 0)).steps).toMatchObject([
      { is: 'grant', act: 'take', grant: { to: 'karl' } },
    ]);
    const me = { account: by.id, address: by.email };
    await expect(
      answerLines(ctx, id, { lines: [{ n: 0, seen: null }], answer: 'keep', reason: '' }, me),
    ).rejects.toThrow('This review is over.');
    let csv = '';
    for await (const line of reviewCsv(ctx, id)) csv += line;
    expect(csv.split('\r\n')).toHaveLength(6);
    expect(csv).toContain('He left.');
    expect(csv).toContain('no answer');
    const ledger = await ctx.store.one(
      z.object({ detail: JsonColumn(z.unknown()) }),
      "SELECT detail FROM ledger_entry WHERE action = 'access-review.end' AND object_id = ?",
      [String(id)],
    );
    expect(ledger?.detail).toMatchObject({
      n: 4,
      kept: 1,
      taken: 1,
      change,
      answers: expect.stringMatching(/^[0-9a-f]{64}$/),
    });
    base.at('2026-11-30T10:00:00Z');
  });
});

describe('a review of a lens', () => {
  const asked = async (scope: object) => {
    const id = await startReview(ctx, by, {
      ...{ name: unique('lens'), due: '2026-12-10' },
      scope: ReviewScope.parse(scope),
    });
    return (await lines(id)).rows.map((l) => `${l.place.name}: ${l.to.name}`).sort();
  };

  it('asks where it is given by which ways somebody comes to its items, and nowhere else', async () => {
    const source = await testSource(ctx);
    const held = { holds: [{ name: 'share', source }] };
    const before = await ACCESS_SOURCE.read(ctx.store, rights);
    await ctx.store.transaction((tx) =>
      ACCESS_SOURCE.write(tx, rights, { ...before, ...held }, before, ctx.now(), by.id),
    );
    await readAccessSource(ctx, rights, new AbortController().signal);
    const item = await testItem(ctx, source, 'share/july');
    await touchBlocks(ctx.store, [item]);
    const all = await asked({ lens: 'everything' });
    expect(all).toContain('share: Group port');
    expect(all.some((l) => l.startsWith('loose'))).toBe(false);
    await expect(asked({ lens: 'document one of "boarding-manifest"' })).rejects.toThrow(
      'Nothing is given there by name.',
    );
    await expect(asked({ lens: 'document one of (' })).rejects.toThrow('This lens cannot be read.');
  });

  it('asks what all people of a kind were given by name', async () => {
    const left = await asked({ kind: 'leaver' });
    expect(left.length).toBeGreaterThan(0);
    expect(left.every((l) => l.endsWith('KARL'))).toBe(true);
    const groups = await asked({ kind: 'group' });
    expect(groups).toContain('share: Group port');
    expect(groups.some((l) => l.endsWith('KARL'))).toBe(false);
    await expect(asked({ kind: 'guest' })).rejects.toThrow('Nothing is given there by name.');
  });
});

describe('a reminder', () => {
  const DUE = '2026-12-10';
  it.each<[string | null, string, boolean]>([
    [null, '2026-11-30T10:00:00Z', true],
    ['2026-11-30T10:00:00Z', '2026-12-03T23:59:00Z', false],
    ['2026-11-30T10:00:00Z', '2026-12-04T00:00:00Z', true],
    ['2026-12-04T00:00:00Z', '2026-12-09T23:00:00Z', false],
    ['2026-12-04T00:00:00Z', '2026-12-10T00:00:00Z', true],
    // Once it is over, each week.
    ['2026-12-10T00:00:00Z', '2026-12-16T00:00:00Z', false],
    ['2026-12-10T00:00:00Z', '2026-12-17T00:00:00Z', true],
  ])('to who was told at %s is due at %s: %s', (told, now, due) => {
    expect(isReminderDue(told, DUE, new Date(now))).toBe(due);
  });
});

describe('who reaches a place, and what somebody reaches, as a file', () => {
  const bytes = async (of: Promise<Response>) => Buffer.from(await (await of).arrayBuffer());
  const people = (as: 'csv' | 'xlsx' | 'pdf') => exportPeople(ctx, { key: key('share/july'), text: '', as });

  it('is CSV, a workbook and a tagged paper, with the way behind each line', async () => {
    const csv = (await bytes(people('csv'))).toString('utf8').split('\r\n');
    expect(csv[0]).toBe('Person,Work,Strength,By which way,Other ways,Last used');
    expect(csv).toContain('TOVE,Port,give,owner of share,1,');
    expect(csv.some((l) => l.startsWith('KARL,left 30 Sep 2026,give,granted here,1,2026-09-12'))).toBe(true);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await bytes(people('xlsx'))) as never);
    expect(book.worksheets[0]?.rowCount).toBe(csv.length - 1);
    const pdf = (await bytes(people('pdf'))).toString('latin1');
    expect(pdf.startsWith('%PDF-1.7')).toBe(true);
    expect(pdf).toContain('/StructTreeRoot');
    const reached = await bytes(exportReached(ctx, { key: idKey('amira'), text: '', as: 'csv' }));
    expect(reached.toString('utf8')).toContain('loose,read,granted at loose,0,');
  });
});

it.each([
  [2000, 6180, 'pdf', 'The first 2,000 of 6,180: a workbook holds up to 20,000, CSV up to 100,000.'],
  [20_000, null, 'xlsx', 'The first 20,000, and there are more: CSV holds up to 100,000.'],
  [100_000, 100_001, 'csv', 'The first 100,000 of 100,001: narrow it to see the rest.'],
] as const)('a file of %i rows of %s says that it is not all', (shown, total, as, words) => {
  expect(cutWords(shown, total, as)).toBe(words);
});

describe('two pairs of hands', () => {
  it('are looked for now, and a change that would join them is not done before somebody says why', async () => {
    const rule = {
      name: unique('rule'),
      one: { is: 'group', group: 'port' },
      other: { is: 'place', place: `${rights}/loose`, strength: 'read' },
    } as const;
    const id = await addHandsRule(ctx, by.id, rule);
    await expect(addHandsRule(ctx, by.id, rule)).rejects.toThrow();
    await expect(addHandsRule(ctx, by.id, { ...rule, name: unique('x'), other: rule.one })).rejects.toThrow(
      'Both sides are the same.',
    );
    expect(await viewHands(ctx)).toMatchObject([
      { id, one: 'being in Group port', other: 'being able to read loose', count: 0 },
    ]);
    const change = await ctx.store.transaction((tx) =>
      keepChange(
        tx,
        ctx,
        { name: 'x', steps: [{ is: 'member', act: 'add', group: 'port', member: 'amira' }] },
        { by: by.id, reason: '' },
      ),
    );
    expect((await viewChange(ctx, change)).rehearsal?.conflicts).toEqual([
      { rule: rule.name, count: 1, people: ['AMIRA'] },
    ]);
    await expect(beginChange(ctx, by.id, change)).rejects.toThrow(
      `It gives AMIRA both sides of “${rule.name}”.`,
    );
    await sayWhy(ctx, by.id, change, 'For the stocktaking, until Friday.');
    await beginChange(ctx, by.id, change);
    expect((await findChange(ctx.store, change)).state).toBe('running');
    await removeHandsRule(ctx, by.id, id);
    await expect(removeHandsRule(ctx, by.id, id)).rejects.toThrow('There is no such rule');
  });
});
