import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { AccessChange, AccessStep } from '../../../src/core/access/change/access-change.ts';
import { undone } from '../../../src/core/access/change/access-change.ts';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import {
  beginChange,
  dropChange,
  findChange,
  keepChange,
  stepCounts,
  tryChangeAgain,
  undoChange,
} from '../../../src/server/access/change/access-changes.ts';
import { ACCESS_CHANGE } from '../../../src/server/access/change/change-job.ts';
import { viewChange } from '../../../src/server/access/change/view-change.ts';
import { workOrder } from '../../../src/server/access/change/work-orders.ts';
import { askAccess, closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import type { ChangeWish } from '../../../src/server/access/index/change-answers.ts';
import { idKey } from '../../../src/server/access/keys.ts';
import { listEvents } from '../../../src/server/access/history/access-events.ts';
import { insertAccessSource } from '../../../src/server/access/sources/access-sources.ts';
import { readAccessSource } from '../../../src/server/access/sources/read-source.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { Runner } from '../../../src/server/jobs/runner.ts';
import { BigId } from '../../../src/server/store/columns.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { grant, peopleBook, place, RightsServer } from '../../rights-server.ts';
import { clearEstate } from './clear-estate.ts';
import { takeIn } from './rights-sources.ts';

const base = testContext();
const server = new RightsServer();
const idle = new AbortController().signal;
let ctx = base;
let by = 0;
let people = 0;
let rights = 0;

const LINES = [
  place('share', { owner: 'magnus' }),
  place('share/july', { inherits: false }),
  place('share/reports'),
  grant('share', 'port', 'change'),
  grant('share/july', 'all', 'read'),
  grant('share/reports', 'karl', 'give'),
];
const PEOPLE = peopleBook(['magnus', 'tove', 'karl', 'amira'], {
  port: ['tove', 'karl'],
  all: ['port', 'amira', 'magnus'],
});

beforeAll(async () => {
  await clearEstate(base.store);
  await server.start();
  ctx = { ...base, settings: { ...base.settings, ALLOWED_PRIVATE: `127.0.0.1:${server.port}` } };
  by = (await testAccount(ctx)).id;
  server.people(PEOPLE);
  server.rights(LINES);
  people = await takeIn(ctx, server, 'people');
  rights = await takeIn(ctx, server, 'rights');
});
afterAll(async () => {
  await closeAccessThreads();
  await closeLensThreads();
  await server.stop();
  await base.store.close();
});

const key = (id: string) => idKey(`${rights}/${id}`);
const at = (id: string) => `${rights}/${id}`;
const reachers = async (id: string) =>
  (await askAccess(ctx, 'who', { key: key(id), wish: {}, from: 0, size: 50 })).rows
    .map((r) => `${r.name} ${r.strength}`)
    .sort();

async function wanted(wish: ChangeWish): Promise<number> {
  const composed = await askAccess(ctx, 'compose', { wish });
  return ctx.store.transaction((tx) => keepChange(tx, ctx, composed, { by, reason: 'a test' }));
}

async function keep(steps: AccessChange): Promise<number> {
  return ctx.store.transaction((tx) =>
    keepChange(tx, ctx, { name: unique('change'), steps }, { by, reason: '' }),
  );
}

/** Until a change is over. */
async function done(id: number): Promise<string> {
  const runner = new Runner(ctx, [ACCESS_CHANGE], { quick: 2, browser: 0, long: 0 }, 20);
  runner.start();
  try {
    for (;;) {
      const { state } = await findChange(ctx.store, id);
      if (state !== 'running' && state !== 'draft') return state;
      await new Promise((wake) => setTimeout(wake, 30));
    }
  } finally {
    await runner.stop();
  }
}

describe('a change', () => {
  it('is rehearsed, done at each of its sources, told as events, and taken back as a value', async () => {
    const before = { share: await reachers('share'), reports: await reachers('share/reports') };
    const id = await wanted({ act: 'clear', who: [idKey('karl')] });
    const draft = await viewChange(ctx, id);
    expect(draft.rehearsal).toMatchObject({ gain: 0, lose: 1 });
    expect(draft.rehearsal?.steps).toEqual([
      'takes KARL, give, away at reports',
      'takes KARL out of Group port',
      'closes the account of KARL',
    ]);
    expect(await reachers('share')).toEqual(before.share);
    await beginChange(ctx, by, id);
    expect(await done(id)).toBe('done');
    expect(await stepCounts(ctx.store, id)).toEqual({ done: 3 });
    expect(await reachers('share')).toEqual(['MAGNUS give', 'TOVE change']);
    expect(server.book?.lines.some((l) => l.type === 'grant' && l.to === 'karl')).toBe(false);
    const { rows } = await listEvents(ctx, { change: String(id) }, undefined, 10);
    expect(rows.map((e) => `${e.act} ${e.words}`).sort()).toEqual([
      'set account of KARL: disabled',
      'take KARL in Group port',
      'take KARL, give',
    ]);
    // What was written is what the sources tell: reading them finds nothing that anybody reaches otherwise.
    await readAccessSource(ctx, people, idle);
    await readAccessSource(ctx, rights, idle);
    expect(await reachers('share')).toEqual(['MAGNUS give', 'TOVE change']);
    const undo = await undoChange(ctx, by, id);
    await expect(undoChange(ctx, by, id)).rejects.toThrow('It is undone already, or about to be.');
    await beginChange(ctx, by, undo);
    expect(await done(undo)).toBe('done');
    expect({ share: await reachers('share'), reports: await reachers('share/reports') }).toEqual(before);
  });

  it.each<[string, (at: (id: string) => string) => ChangeWish]>([
    ['copies', () => ({ act: 'copy', from: idKey('karl'), to: [idKey('amira')] })],
    ['moves', () => ({ act: 'move', from: idKey('karl'), to: idKey('amira') })],
    [
      'gives',
      () => ({
        act: 'give',
        place: key('share/july'),
        to: [idKey('tove')],
        strength: 'change',
        deny: false,
        until: '2027-05-01',
      }),
    ],
    ['breaks', () => ({ act: 'break', place: key('share/reports'), keeps: true })],
    ['restores', () => ({ act: 'restore', place: key('share/july') })],
    ['narrows', () => ({ act: 'narrow', place: key('share/july'), group: idKey('port'), instead: ['all'] })],
    [
      'changes a group',
      () => ({ act: 'member', group: idKey('port'), add: [idKey('amira')], take: [idKey('tove')] }),
    ],
  ])('that %s what somebody reaches does what it said, and its undo puts all back', async (_, wish) => {
    const all = async () => ({
      a: await reachers('share'),
      b: await reachers('share/july'),
      c: await reachers('share/reports'),
    });
    const before = await all();
    const id = await wanted(wish(at));
    const { rehearsal } = await viewChange(ctx, id);
    expect(rehearsal?.steps.length).toBeGreaterThan(0);
    await beginChange(ctx, by, id);
    expect(await done(id)).toBe('done');
    const after = await all();
    if ((rehearsal?.gain ?? 0) + (rehearsal?.lose ?? 0) > 0) expect(after).not.toEqual(before);
    const undo = await undoChange(ctx, by, id);
    await beginChange(ctx, by, undo);
    expect(await done(undo)).toBe('done');
    expect(await all()).toEqual(before);
  });

  it('is done in part where a source refuses, told why, and tried again', async () => {
    const steps: AccessStep[] = [
      { is: 'member', act: 'take', group: 'port', member: 'tove' },
      {
        is: 'grant',
        act: 'take',
        grant: { ...(LINES[4] as never as { type: 'grant' }), place: at('share/july') } as never,
      },
    ];
    const id = await keep(steps);
    await beginChange(ctx, by, id);
    // The directory answers nothing but trouble, the library as ever.
    server.breaks = (_, response) => {
      response.writeHead(500).end();
      return true;
    };
    expect(await done(id)).toBe('partly');
    server.breaks = undefined;
    const { counts } = await viewChange(ctx, id);
    expect((counts.failed ?? 0) + (counts.done ?? 0)).toBe(2);
    expect(counts.failed).toBeGreaterThan(0);
    const told = await ctx.store.all(
      z.object({ told: z.string() }),
      "SELECT told FROM access_step WHERE change_id = ? AND state = 'failed'",
      [id],
    );
    expect(told[0]?.told).toContain('500');
    await tryChangeAgain(ctx, by, id);
    expect(await done(id)).toBe('done');
    const undo = await undoChange(ctx, by, id);
    await beginChange(ctx, by, undo);
    expect(await done(undo)).toBe('done');
  });

  it('is refused where it does not fit any more, begun twice, or dropped', async () => {
    const id = await wanted({
      act: 'give',
      place: key('share/july'),
      to: [idKey('tove')],
      strength: 'give',
      deny: false,
      until: null,
    });
    const same = await wanted({
      act: 'give',
      place: key('share/july'),
      to: [idKey('tove')],
      strength: 'give',
      deny: false,
      until: null,
    });
    await beginChange(ctx, by, id);
    expect(await done(id)).toBe('done');
    await expect(beginChange(ctx, by, id)).rejects.toThrow();
    // Two people wanted the same: the second is told.
    expect((await viewChange(ctx, same)).refused?.words).toBe('It does not fit what stands now.');
    await expect(beginChange(ctx, by, same)).rejects.toThrow('It does not fit what stands now.');
    await dropChange(ctx, by, same);
    await expect(dropChange(ctx, by, same)).rejects.toThrow('It was begun already.');
    await expect(
      askAccess(ctx, 'compose', {
        wish: {
          act: 'give',
          place: key('share/july'),
          to: [idKey('tove')],
          strength: 'give',
          deny: false,
          until: null,
        },
      }),
    ).rejects.toThrow('There is nothing to change');
  });

  it('sends a step again with the same name where a worker died over it, and does it once', async () => {
    const steps: AccessStep[] = Array.from({ length: 6 }, (_, i) => ({
      ...{ is: 'grant', act: 'add' },
      grant: {
        type: 'grant',
        place: at('share/july'),
        to: 'tove',
        strength: 'read',
        deny: false,
        only: false,
        until: `2027-01-0${i + 1}`,
        by: null,
        at: null,
      },
    }));
    const id = await keep(steps);
    await beginChange(ctx, by, id);
    // As if a worker had sent the first two, and died before it could say so.
    for (const [n, step] of steps.slice(0, 2).entries())
      server.book?.take(`${id}-${n}`, {
        ...step,
        grant: { ...(step as { grant: object }).grant, place: 'share/july' },
      } as never);
    await ctx.store.run("UPDATE access_step SET state = 'begun' WHERE change_id = ? AND n < 2", [id]);
    expect(await done(id)).toBe('done');
    expect(await stepCounts(ctx.store, id)).toEqual({ done: 6 });
    const mine = server.book?.lines.filter((l) => l.type === 'grant' && l.until?.startsWith('2027-01'));
    expect(mine).toHaveLength(6);
    const undo = await undoChange(ctx, by, id);
    await beginChange(ctx, by, undo);
    expect(await done(undo)).toBe('done');
  });

  it('becomes a work order where nothing is written from here, and is done once its source shows it', async () => {
    await ctx.store.run(
      "UPDATE access_source SET content = JSON_SET(content, '$.writes', false) WHERE id = ?",
      [rights],
    );
    const id = await wanted({ act: 'restore', place: key('share/july') });
    await beginChange(ctx, by, id);
    expect((await findChange(ctx.store, id)).state).toBe('partly');
    expect(await stepCounts(ctx.store, id)).toEqual({ ordered: 1 });
    expect(await workOrder(ctx.store, id)).toContain('[ ] 1. lets july inherit');
    await readAccessSource(ctx, rights, idle);
    expect(await stepCounts(ctx.store, id)).toEqual({ ordered: 1 });
    server.rights([...LINES.filter((l) => !('id' in l) || l.id !== 'share/july'), place('share/july')]);
    await readAccessSource(ctx, rights, idle);
    expect(await stepCounts(ctx.store, id)).toEqual({ done: 1 });
    expect((await findChange(ctx.store, id)).state).toBe('done');
    await ctx.store.run(
      "UPDATE access_source SET content = JSON_SET(content, '$.writes', true) WHERE id = ?",
      [rights],
    );
  });

  it('that was written while its source was read is not undone by what was read before', async () => {
    server.rights(LINES);
    await readAccessSource(ctx, rights, idle);
    const id = await keep([
      {
        is: 'grant',
        act: 'add',
        grant: {
          type: 'grant',
          place: at('share'),
          to: 'amira',
          strength: 'see',
          deny: false,
          only: false,
          until: null,
          by: null,
          at: null,
        },
      },
    ]);
    let first = true;
    server.breaks = (_, response) => {
      if (!first) return false;
      first = false;
      // The page is made before the change, and arrives after it.
      const page = JSON.stringify({ lines: server.book?.lines, next: null });
      void beginChange(ctx, by, id)
        .then(() => done(id))
        .then(() => response.writeHead(200, { 'content-type': 'application/json' }).end(page));
      return true;
    };
    await readAccessSource(ctx, rights, idle);
    server.breaks = undefined;
    expect(await reachers('share')).toContain('AMIRA see');
  });
});

describe('the list of a file', () => {
  const root = mkdtempSync(join(base.settings.DATA_DIR, '..', 'yare-acl-'));
  const file = join(root, 'pay roll.txt');
  const acl = () =>
    execFileSync('getfacl', ['--numeric', '--absolute-names', '--omit-header', file], { encoding: 'utf8' })
      .trim()
      .split('\n')
      .sort();
  afterAll(() => rmSync(root, { recursive: true, force: true }));

  it('is set with setfacl as rehearsed, refused where somebody changed it, and taken back', async () => {
    mkdirSync(root, { recursive: true });
    writeFileSync(file, 'x');
    execFileSync('setfacl', ['-m', 'user:4711:r--', file]);
    const own = { ...ctx, settings: { ...ctx.settings, SOURCE_ROOTS: root } };
    const holdings = await own.store.transaction((tx) =>
      insertSource(tx, own, null, {
        content: { ...USUAL_SOURCE, name: unique('folder') },
        address: { kind: 'folder', root },
        secret: '',
      }),
    );
    const id = await own.store.transaction((tx) =>
      insertAccessSource(tx, own, null, {
        content: { name: unique('bits'), everyHours: null, writes: true, opens: '', holds: [] },
        address: { kind: 'folder', source: holdings },
        secret: '',
      }),
    );
    await readAccessSource(own, id, idle);
    const row = await own.store.one(
      z.object({ id: BigId, content: z.string(), holds: z.string().nullable() }),
      "SELECT id, content, holds FROM access_line WHERE source_id = ? AND kind = 'place' AND content LIKE '%pay roll.txt%' AND went = 0",
      [id],
    );
    const { id: placeId } = JSON.parse(row?.content ?? '{}') as { id: string };
    expect(row?.holds).toBe(`${holdings}/pay roll.txt`);
    const before = acl();
    const saved = ctx;
    ctx = own;
    try {
      const change = await wanted({
        act: 'list',
        place: idKey(placeId),
        take: ['user:4711:r--'],
        add: ['group:4712:rw-'],
      });
      const stale = await wanted({ act: 'list', place: idKey(placeId), take: ['user:4711:r--'], add: [] });
      await beginChange(ctx, by, change);
      expect(await done(change)).toBe('done');
      expect(acl()).toContain('group:4712:rw-');
      expect(acl().join()).not.toContain('4711');
      await expect(beginChange(ctx, by, stale)).rejects.toThrow('It does not fit');
      const undo = await undoChange(ctx, by, change);
      execFileSync('setfacl', ['-m', 'user:4713:r--', file]);
      await beginChange(ctx, by, undo);
      expect(await done(undo)).toBe('partly');
      execFileSync('setfacl', ['-x', 'user:4713', file]);
      await tryChangeAgain(ctx, by, undo);
      expect(await done(undo)).toBe('done');
      expect(acl()).toEqual(before);
    } finally {
      ctx = saved;
    }
  });
});

it('the undo of an undo is the change', () => {
  const steps: AccessStep[] = [
    { is: 'account', person: 'a', before: 'open', after: 'disabled' },
    { is: 'list', place: 'p', before: ['user::rwx'], after: ['user::r--'] },
  ];
  expect(undone(undone(steps))).toEqual(steps);
});
