import { z } from 'zod';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hugeRing } from '../../access-estates.ts';
import { accessKey, idKey, keyText } from '../../../src/server/access/keys.ts';
import { EstateIndex } from '../../../src/server/access/index/estate-index.ts';
import { answerFrom } from '../../../src/server/access/index/access-thread.ts';
import type { AccessAsk, AccessQuestions } from '../../../src/server/access/index/access-question.ts';
import { viewAccessSources } from '../../../src/server/access/sources/access-sources.ts';
import { readAccessSource } from '../../../src/server/access/sources/read-source.ts';
import { closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import { listEvents } from '../../../src/server/access/history/access-events.ts';
import { forgetOldChanges, watchOf, watchPlace } from '../../../src/server/access/history/watches.ts';
import { nextRevision } from '../../../src/server/access/estate/line-rows.ts';
import { insertRows, newRow } from '../../../src/server/access/estate/write-rows.ts';
import { accountOwners } from '../../../src/server/access/sources/directory-people.ts';
import { fileLines } from '../../../src/server/access/readers/estate-file.ts';
import { ReaderError } from '../../../src/server/access/readers/reader.ts';
import { writeStaff } from '../../../src/server/accounts/staff/staff.ts';
import { Count } from '../../../src/server/store/columns.ts';
import { testAccount, testContext } from '../context.ts';
import { grant, peopleBook, place, RightsServer } from '../../rights-server.ts';
import { clearEstate } from './clear-estate.ts';
import { takeIn } from './rights-sources.ts';

const base = testContext();
const server = new RightsServer();
let ctx = base;
let people = 0;
let rights = 0;
const idle = new AbortController().signal;

const BASIC = [
  place('share', { owner: 'magnus' }),
  place('share/july', { inherits: false }),
  place('share/july/list.xlsx'),
  grant('share', 'port', 'change', { at: '2026-03-01T08:00:00Z' }),
  grant('share/july', 'all', 'read', { at: '2026-07-04T09:13:00Z' }),
  { type: 'use', person: 'tove', place: 'share/july', day: '2026-11-20' },
] as const;
const PEOPLE = peopleBook(['magnus', 'tove', 'karl', 'amira'], {
  port: ['tove', 'karl'],
  all: ['port', 'amira', 'magnus'],
});

beforeAll(async () => {
  await clearEstate(base.store);
  await server.start();
  ctx = { ...base, settings: { ...base.settings, ALLOWED_PRIVATE: `127.0.0.1:${server.port}` } };
  ctx.at = base.at;
  base.at('2026-11-20T10:00:00Z');
  server.people(PEOPLE);
  server.rights(BASIC);
  await ctx.store.transaction((tx) =>
    writeStaff(tx, ctx.now(), null, {
      members: [{ address: 'karl@line.example', name: 'Karl', unit: 'Port', groups: [], left: '2026-09-30' }],
      groups: [],
    }),
  );
  people = await takeIn(ctx, server, 'people');
  rights = await takeIn(ctx, server, 'rights', { holds: [{ name: 'share', source: 7 }] });
});
afterAll(async () => {
  await closeAccessThreads();
  await server.stop();
  await base.store.close();
});

const index = new EstateIndex(base.store);
function ask<A extends AccessAsk>(
  what: A,
  say: AccessQuestions[A]['say'],
  on?: string,
  of = index,
): Promise<AccessQuestions[A]['answer']> {
  const today = ctx.now().toISOString().slice(0, 10);
  return answerFrom(of, { ask: what, say, today, on } as never) as Promise<AccessQuestions[A]['answer']>;
}
const key = (id: string) => idKey(`${rights}/${id}`);
const reachers = async (id: string, on?: string, of = index) =>
  (await ask('who', { key: key(id), wish: {}, from: 0, size: 50 }, on, of)).rows.map(
    (r) => `${r.name} ${r.strength}`,
  );

describe('a directory and a library that are read', () => {
  it('say who reaches what, by which way, and where its items lie', async () => {
    expect(await reachers('share/july')).toEqual(
      ['MAGNUS read', 'TOVE read', 'KARL read', 'AMIRA read'].sort(),
    );
    expect(await reachers('share')).toEqual(['MAGNUS give', 'KARL change', 'TOVE change']);
    const { found, ways, words } = await ask('pair', {
      person: idKey('tove'),
      place: key('share/july/list.xlsx'),
    });
    expect(found.strength).toBe('read');
    expect(ways[0]?.steps.map((s) => s.words)).toEqual(['TOVE', 'Group port', 'Group all', 'read', 'july']);
    expect(words.join(' ')).toContain('They can read it.');
    expect(await ask('place', { key: key('share/july/list.xlsx') })).toMatchObject({
      ...{ holds: '7/july/list.xlsx', mark: 'inherits', people: 4, used: 0, leavers: 1 },
    });
    expect(await ask('place', { key: key('share') })).toMatchObject({ holds: '7', differs: 1, used: 1 });
  });

  it('show each level as somebody sees it: what they can do there, and whether anything below is theirs', async () => {
    const nodes = async (at: string | null, person?: string) =>
      ask('below', { key: at, ...(person === undefined ? {} : { person: idKey(person) }) });
    const seen = async (person: string) =>
      Object.fromEntries(
        [...(await nodes(null, person)), ...(await nodes(key('share'), person))].map((n) => [
          n.name,
          [n.strength, n.below],
        ]),
      );
    expect(await seen('tove')).toEqual({ share: ['change', true], july: ['read', true] });
    expect(await seen('amira')).toEqual({ share: [null, true], july: ['read', true] });
    expect((await nodes(key('share/july'), 'amira')).map((n) => [n.name, n.strength, n.below])).toEqual([
      ['list.xlsx', 'read', false],
    ]);
    expect(Object.keys((await nodes(null))[0] ?? {})).not.toContain('strength');
    // One by one, by the way of each pair.
    for (const person of ['magnus', 'tove', 'karl', 'amira'])
      for (const at of [null, key('share'), key('share/july')])
        for (const n of await nodes(at, person))
          expect([person, n.name, n.strength]).toEqual([
            ...[person, n.name],
            (await ask('pair', { person: idKey(person), place: n.key })).found.strength,
          ]);
  });

  it('list who reaches a place through one group', async () => {
    const { rows } = await ask('who', {
      ...{ key: key('share/july'), from: 0, size: 50 },
      wish: { via: idKey('port') },
    });
    expect(rows.map((r) => [r.name, r.way])).toEqual([
      ['KARL', 'Group port › Group all › granted here'],
      ['TOVE', 'Group port › Group all › granted here'],
    ]);
  });

  it('tell of a leaver by the list of staff, whose account is still open', async () => {
    const { rows } = await ask('principals', { text: '', kind: 'leaver', from: 0, size: 10 });
    expect(rows).toMatchObject([{ name: 'KARL', mark: true }]);
    expect(await ask('counts', {})).toMatchObject({ people: 4, groups: 2, leaversOpen: 1, places: 3 });
  });

  it('tell nothing new where nothing is, and what changed with who did it where something is', async () => {
    expect(await readAccessSource(ctx, rights, idle)).toMatchObject({ came: 0, went: 0 });
    base.at('2026-11-21T10:00:00Z');
    server.rights([
      ...BASIC.filter((l) => l.type !== 'grant' || l.to !== 'port'),
      grant('share/july', 'amira', 'change', { by: 'karl', at: '2026-11-20T16:40:00Z' }),
      {
        type: 'link',
        id: 'l1',
        place: 'share/july',
        strength: 'read',
        to: 'anyone',
        until: null,
        by: 'tove',
        at: null,
      },
    ]);
    expect(await readAccessSource(ctx, rights, idle)).toMatchObject({ came: 2, went: 1 });
    expect(await reachers('share')).toEqual(['MAGNUS give']);
    expect(await reachers('share/july')).toContain('AMIRA change');
    const { rows } = await listEvents(ctx, { place: key('share') }, undefined, 20);
    expect(rows.map((e) => [e.act, e.words, e.initiator, e.at])).toEqual(
      [
        ['take', 'Group port, change', '', '2026-11-21T10:00:00.000Z'],
        ['add', 'link for anyone who has it, read', 'TOVE', '2026-11-21T10:00:00.000Z'],
        ['add', 'AMIRA, change', 'KARL', '2026-11-20T16:40:00.000Z'],
      ].sort((a, b) => (String(a[3]) < String(b[3]) ? 1 : -1)),
    );
    expect((await listEvents(ctx, { who: keyText(accessKey('amira')) }, undefined, 5)).rows).toHaveLength(1);
    expect((await listEvents(ctx, { initiator: 'KARL' }, undefined, 5)).rows).toHaveLength(1);
    expect((await listEvents(ctx, { place: key('share/july/list.xlsx') }, undefined, 5)).rows).toEqual([]);
  });

  it('are known as they were on a past day, and how the two differ', async () => {
    expect(await reachers('share', '2026-11-20')).toEqual(['MAGNUS give', 'KARL change', 'TOVE change']);
    const difference = await ask('differs', { key: key('share'), with: '2026-11-20' });
    expect(difference).toMatchObject({ before: 3, after: 1, came: [], changed: [] });
    expect(difference.went.map((w) => `${w.name} ${w.strength}`).sort()).toEqual([
      'KARL change',
      'TOVE change',
    ]);
    await expect(reachers('share', '2026-11-01')).rejects.toThrow('Nothing is known of that day.');
  });

  it('keep what was known where they go away half-read, and Today tells', async () => {
    const before = await ask('counts', {});
    const many = [...BASIC, ...Array.from({ length: 1200 }, (_, i) => place(`share/f${i}`))];
    server.rights(many);
    let asked = 0;
    server.breaks = (_, response) => {
      if (asked++ < 1) return false;
      response.destroy();
      return true;
    };
    await expect(readAccessSource(ctx, rights, idle)).rejects.toThrow(ReaderError);
    server.breaks = undefined;
    expect((await ask('counts', {})).places).toBe(before.places);
    const told = await ctx.store.all(
      z.object({ words: z.string() }),
      "SELECT words FROM today_item WHERE kind = 'access not read' AND item_key = ?",
      [String(rights)],
    );
    expect(told).toHaveLength(1);
    expect(await readAccessSource(ctx, rights, idle)).toMatchObject({ came: 1201 });
    expect(
      await ctx.store.one(
        z.object({ n: Count }),
        "SELECT COUNT(*) AS n FROM today_item WHERE kind = 'access not read'",
      ),
    ).toEqual({ n: 0 });
    server.rights(BASIC);
    await readAccessSource(ctx, rights, idle);
  });

  it('tell each line that cannot be taken, and take the others', async () => {
    server.rights([
      ...BASIC,
      {
        type: 'place',
        id: 'own',
        source: 'share',
        parent: 'own',
        name: 'a\u202eb',
        inherits: true,
        gate: false,
        owner: null,
      },
      { type: 'grant', place: 'share', to: '', strength: 'read' } as never,
    ]);
    expect(await readAccessSource(ctx, rights, idle)).toMatchObject({ faults: 1 });
    const [view] = (await viewAccessSources(ctx.store)).filter((s) => s.id === rights);
    expect(view?.faults[0]).toContain('to');
    // A place that is its own parent stands right below its source, and is told.
    expect((await ask('counts', {})).faults.join()).toContain('lie below themselves');
    expect(await ask('place', { key: key('own') })).toMatchObject({ path: [], name: 'a\u202eb' });
    server.rights(BASIC);
    await readAccessSource(ctx, rights, idle);
  });

  it('hold ten thousand groups in a ring', async () => {
    server.people({ ...hugeRing(10_000, 'amira'), users: PEOPLE.users });
    await readAccessSource(ctx, people, idle);
    const ring = await ask('principal', { key: idKey('r0') });
    expect(ring).toMatchObject({ is: 'group', inAll: 1 });
    expect(await ask('principal', { key: idKey('amira') })).toMatchObject({ groupCount: 10_000 });
    server.people(PEOPLE);
    await readAccessSource(ctx, people, idle);
  });
});

describe('an account of a source of its own', () => {
  it('is of whom the directory has by its number in a file system, elsewhere by mail or sign-in name', async () => {
    server.people({
      ...PEOPLE,
      users: PEOPLE.users.map((u) => (u.id === 'tove' ? { ...u, userName: 'tl' } : u)),
    });
    await readAccessSource(ctx, people, idle);
    const owner = await accountOwners(ctx.store);
    const account = (more: object) =>
      owner({
        ...{ type: 'person', id: 'x', state: 'open', until: null, left: null, guest: false, attributes: {} },
        ...more,
      } as never);
    expect(account({ mail: 'Tove@line.example' })).toBe('tove');
    expect(account({ name: 'TL' })).toBe('tove');
    expect(account({ name: 'karl' })).toBe('karl');
    expect(account({ name: 'nobody' })).toBeUndefined();
    // In a file system a name is nobody's: only the number counts.
    expect(account({ name: 'karl', uid: 1001 })).toBeUndefined();
    await ctx.store.transaction(async (tx) =>
      insertRows(tx, ctx.now(), people, await nextRevision(tx), [
        newRow({
          type: 'person',
          id: 'numbered',
          name: 'N',
          uid: 1001,
          state: 'open',
          until: null,
          left: null,
          guest: false,
          attributes: {},
        }),
      ]),
    );
    expect((await accountOwners(ctx.store))({ uid: 1001 } as never)).toBe('numbered');
    server.people(PEOPLE);
    await readAccessSource(ctx, people, idle);
  });
});

describe('a file of an estate', () => {
  it('is taken in as lines of JSON and as a table, each line that cannot be taken by its number', () => {
    const told = (text: string) => [...fileLines(Buffer.from(text))];
    const json = told('{"type":"person","id":"a"}\n\nno\n{"type":"person"}\n');
    expect(json.map((l) => ('fault' in l ? l.fault : 'taken'))).toEqual([
      'taken',
      'line 3: It is no JSON.',
      expect.stringMatching(/^line 4: id: /),
    ]);
    const table = told('\ufefftype;id;source;place;to;strength\nplace;a;s;;;\ngrant;;;a;x;own\n');
    expect(table.map((l) => ('fault' in l ? l.fault : 'taken'))).toEqual([
      'taken',
      expect.stringMatching(/^row 3: strength: /),
    ]);
    expect(told('{"type":"person","id":"\ufffd"}').length).toBe(1);
    expect([...fileLines(Buffer.from([0x7b, 0xff, 0x0a]))]).toEqual([
      { fault: 'line 1: Its letters are not in UTF-8.' },
    ]);
  });
});

describe('the index', () => {
  it('is after each change what it would be if it were read anew', async () => {
    const to = ['tove', 'karl', 'amira', 'port', 'all', 'everyone'];
    const spots = ['share', 'share/july', 'share/july/list.xlsx'];
    let seed = 5;
    const pick = <T>(of: readonly T[]): T => {
      seed = (seed * 48_271) % 2_147_483_647;
      return of[seed % of.length] as T;
    };
    for (let round = 0; round < 12; round++) {
      server.rights([
        ...BASIC.filter((l) => l.type !== 'place'),
        ...spots.map((id, i) =>
          place(id, {
            inherits: i === 0 || pick([true, true, false]),
            owner: pick([null, 'magnus', 'karl']),
          }),
        ),
        ...Array.from({ length: 5 }, () =>
          grant(pick(spots), pick(to), pick(['see', 'read', 'change', 'give']), {
            deny: pick([true, false, false]),
          }),
        ),
      ]);
      if (round % 3 === 2)
        server.people(
          peopleBook(['magnus', 'tove', 'karl', 'amira'], {
            port: [pick(['tove', 'karl'])],
            all: ['port', pick(['amira', 'magnus'])],
          }),
        );
      await readAccessSource(ctx, people, idle);
      await readAccessSource(ctx, rights, idle);
      const anew = new EstateIndex(base.store);
      for (const spot of spots) {
        expect(await reachers(spot), `round ${round}`).toEqual(await reachers(spot, undefined, anew));
        expect(await ask('grants', { key: key(spot) })).toEqual(
          await ask('grants', { key: key(spot) }, undefined, anew),
        );
      }
      for (const who of ['tove', 'amira'])
        expect(await ask('principal', { key: idKey(who) })).toEqual(
          await ask('principal', { key: idKey(who) }, undefined, anew),
        );
    }
    server.people(PEOPLE);
    server.rights(BASIC);
    await readAccessSource(ctx, people, idle);
    await readAccessSource(ctx, rights, idle);
  });
});

describe('what is kept of changes', () => {
  it('is said per place, and goes once its days are over', async () => {
    const account = await testAccount(ctx);
    const count = async () =>
      (
        await ctx.store.one(
          z.object({ n: Count }),
          "SELECT COUNT(*) AS n FROM access_event WHERE trail <> ''",
        )
      )?.n ?? 0;
    await watchPlace(ctx, account.id, key('share'), 30);
    await watchPlace(ctx, account.id, key('share/july'), 90);
    expect(await watchOf(ctx, key('share/july/list.xlsx'))).toMatchObject({ days: 90, at: { name: 'july' } });
    expect(await watchOf(ctx, key('share'))).toMatchObject({ days: 30, at: null });
    const all = await count();
    expect(all).toBeGreaterThan(0);
    base.at('2026-12-10T10:00:00Z');
    await forgetOldChanges(ctx);
    expect(await count()).toBe(all);
    base.at('2027-01-10T10:00:00Z');
    await forgetOldChanges(ctx);
    const left = await ctx.store.all(
      z.object({ place: z.string() }),
      "SELECT DISTINCT place FROM access_event WHERE trail <> ''",
    );
    expect(left.map((l) => l.place)).not.toContain(`${rights}/share`);
    expect(left.map((l) => l.place)).toContain(`${rights}/share/july`);
    base.at('2027-05-10T10:00:00Z');
    await forgetOldChanges(ctx);
    expect(await count()).toBe(0);
    base.at('2026-11-22T10:00:00Z');
  });
});
