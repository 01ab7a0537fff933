import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { AccessSourceContent } from '../../../src/core/access/sources/access-source.ts';
import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import { accessShelf } from '../../../src/server/access/shelf.ts';
import { askAccess, closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import { idKey } from '../../../src/server/access/keys.ts';
import { listEvents } from '../../../src/server/access/history/access-events.ts';
import {
  ACCESS_SOURCE,
  allAccessSources,
  findAccessSource,
  insertAccessSource,
} from '../../../src/server/access/sources/access-sources.ts';
import { lineSourcesOf } from '../../../src/server/access/sources/line-sources.ts';
import { moveAccessSource } from '../../../src/server/access/sources/move-source.ts';
import { ACCESS_FORGETTING, removeAccessSource } from '../../../src/server/access/sources/remove-source.ts';
import { ACCESS_READING, readByThemselves } from '../../../src/server/access/sources/reading-job.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { Runner } from '../../../src/server/jobs/runner.ts';
import { editObject, readObject } from '../../../src/server/rules/plain-object.ts';
import { Count } from '../../../src/server/store/columns.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { grant, peopleBook, place, RightsServer, TOKEN } from '../../rights-server.ts';
import { clearEstate } from './clear-estate.ts';
import { takeIn } from './rights-sources.ts';

const base = testContext();
const server = new RightsServer();
const second = new RightsServer();
let ctx = base;
let by = 0;
let rights = 0;
let holdings = 0;
const SHARE = unique('share');
const LINES = [
  place(SHARE, { source: SHARE }),
  place(`${SHARE}/july`, { name: 'july', source: SHARE }),
  grant(SHARE, 'port', 'change', { at: '2026-03-01T08:00:00Z' }),
];

beforeAll(async () => {
  await clearEstate(base.store);
  await server.start();
  await second.start();
  base.at('2026-11-20T10:00:00Z');
  ctx = {
    ...base,
    settings: { ...base.settings, ALLOWED_PRIVATE: `127.0.0.1:${server.port},127.0.0.1:${second.port}` },
  };
  ctx.at = base.at;
  by = (await testAccount(ctx)).id;
  server.people(peopleBook(['tove', 'karl'], { port: ['tove'] }));
  server.rights(LINES);
  second.rights([...LINES, grant(`${SHARE}/july`, 'karl', 'read')]);
  await takeIn(ctx, server, 'people');
  rights = await takeIn(ctx, server, 'rights');
});
afterAll(async () => {
  await closeAccessThreads();
  await server.stop();
  await second.stop();
  await base.store.close();
});

const key = (id: string) => idKey(`${rights}/${id}`);
const july = async () => (await askAccess(ctx, 'place', { key: key(`${SHARE}/july`) })).holds;
const reachers = async (id: string) =>
  (await askAccess(ctx, 'who', { key: key(id), wish: {}, from: 0, size: 50 })).rows.map((r) => r.name);

/** Until all that is due is read, or forgotten. */
async function caughtUp(): Promise<void> {
  await readByThemselves(ctx);
  const runner = new Runner(ctx, [ACCESS_READING, ACCESS_FORGETTING], { quick: 2, browser: 0, long: 0 }, 20);
  runner.start();
  try {
    for (;;) {
      const open = await ctx.store.one(
        z.object({ n: Count }),
        "SELECT COUNT(*) AS n FROM job WHERE kind IN ('access-reading', 'access-forgetting') AND state IN ('waiting', 'running')",
      );
      if (open?.n === 0) return;
      await new Promise((wake) => setTimeout(wake, 30));
    }
  } finally {
    await runner.stop();
  }
}

async function edit(change: Partial<AccessSourceContent>): Promise<void> {
  const { content, revision } = await readObject(ctx.store, ACCESS_SOURCE, rights);
  await ctx.store.transaction((tx) =>
    editObject(tx, ctx.now(), ACCESS_SOURCE, by, rights, {
      ...{ revision, base: content },
      content: { ...content, ...change },
    }),
  );
}

describe('where the items of a source lie', () => {
  it('is found by the name, once there is a source of Holdings that is called so', async () => {
    expect(await july()).toBeNull();
    holdings = await ctx.store.transaction((tx) =>
      insertSource(tx, ctx, by, {
        content: { ...USUAL_SOURCE, name: SHARE, system: null },
        ...{ address: { kind: 'folder', root: '/made/up' }, secret: '' },
      }),
    );
    expect(await lineSourcesOf(ctx, rights)).toMatchObject({
      named: [{ name: SHARE, holdings, isSaid: false }],
    });
    base.at('2026-11-20T12:00:00Z');
    await caughtUp();
    expect(await july()).toBe(`${holdings}/july`);
  });

  it('is what somebody said, and read anew at once; nothing is told as given or taken', async () => {
    const events = async () => (await listEvents(ctx, { place: key(SHARE) }, undefined, 50)).rows;
    const before = await events();
    await edit({ holds: [{ name: SHARE, source: null }] });
    await caughtUp();
    expect(await july()).toBeNull();
    expect(await lineSourcesOf(ctx, rights)).toMatchObject({
      named: [{ name: SHARE, holdings: null, isSaid: true }],
    });
    await edit({ holds: [] });
    await caughtUp();
    expect(await july()).toBe(`${holdings}/july`);
    expect(await events()).toEqual(before);
  });
});

describe('a source that is read elsewhere', () => {
  it('keeps its token as long as the server is the same, and tells it to no other', async () => {
    const to = second.url('rights');
    const address = { kind: 'library', url: to } as const;
    await expect(moveAccessSource(ctx, by, rights, { address })).rejects.toMatchObject({
      fields: [{ field: 'secret' }],
    });
    await expect(moveAccessSource(ctx, by, rights, { address, secret: 'wrong' })).rejects.toMatchObject({
      message: 'It could not be read.',
    });
    await expect(
      moveAccessSource(ctx, by, rights, { address: { kind: 'staff list' } }),
    ).rejects.toMatchObject({ fields: [{ field: 'address.kind' }] });
    expect(await reachers(`${SHARE}/july`)).toEqual(['TOVE']);
    await moveAccessSource(ctx, by, rights, { address, secret: TOKEN });
    await caughtUp();
    expect((await reachers(`${SHARE}/july`)).sort()).toEqual(['KARL', 'TOVE']);
    await moveAccessSource(ctx, by, rights, { address });
    expect((await findAccessSource(ctx.store, rights)).address).toEqual(address);
  });
});

describe('a source that is taken out', () => {
  it('stays while a change is being done in it', async () => {
    const { id } = await ctx.store.run(
      "INSERT INTO access_change (name, steps, state, made_at) VALUES ('Half done', '[]', 'running', NOW())",
    );
    await ctx.store.run(
      "INSERT INTO access_step (change_id, n, source_id, state, words) VALUES (?, 0, ?, 'begun', 'a step'), (?, 1, ?, 'ordered', 'by hand')",
      [id, rights, id, rights],
    );
    const remove = () => ctx.store.transaction((tx) => removeAccessSource(tx, ctx, by, rights));
    await expect(remove()).rejects.toThrow('“Half done” is being done in it.');
    await ctx.store.run("UPDATE access_step SET state = 'done' WHERE change_id = ? AND n = 0", [id]);
    const { sources } = await accessShelf(ctx);
    await remove();
    expect((await accessShelf(ctx)).sources).toBe(sources - 1);
    // What was asked for by hand is not waited for any more.
    const steps = await ctx.store.all(
      z.object({ state: z.string(), told: z.string() }),
      'SELECT state, told FROM access_step WHERE change_id = ? ORDER BY n',
      [id],
    );
    expect(steps[1]).toEqual({ state: 'failed', told: 'its source was taken out' });
    await expect(findAccessSource(ctx.store, rights)).rejects.toMatchObject({ status: 404 });
  });

  it('is in no answer any more; past days stay, nobody is told to have lost anything, and its name is free', async () => {
    const past = () => askAccess(ctx, 'place', { key: key(SHARE) }, '2026-11-20');
    const before = await listEvents(ctx, {}, undefined, 50);
    base.at('2026-11-22T10:00:00Z');
    await caughtUp();
    await expect(askAccess(ctx, 'place', { key: key(SHARE) })).rejects.toThrow();
    expect((await askAccess(ctx, 'counts', {})).places).toBe(0);
    expect(await past()).toMatchObject({ name: SHARE });
    expect((await listEvents(ctx, {}, undefined, 50)).rows).toEqual(before.rows);
    const name = unique('again');
    const again = () =>
      ctx.store.transaction((tx) =>
        insertAccessSource(tx, ctx, by, {
          content: { name, everyHours: null, writes: false, opens: '', holds: [] },
          ...{ address: { kind: 'staff list' }, secret: '' },
        }),
      );
    const one = await again();
    await expect(again()).rejects.toMatchObject({ status: 409 });
    await ctx.store.transaction((tx) => removeAccessSource(tx, ctx, by, one));
    const other = await again();
    expect((await allAccessSources(ctx.store)).map((s) => s.id)).toContain(other);
  });

  it('is not looked for by a reading that was asked for before', async () => {
    const id = await takeIn(ctx, server, 'rights');
    await ctx.store.run('UPDATE access_source SET tried_at = NULL WHERE id = ?', [id]);
    await readByThemselves(ctx);
    await ctx.store.transaction((tx) => removeAccessSource(tx, ctx, by, id));
    await caughtUp();
    const failures = await ctx.store.all(
      z.object({ words: z.string() }),
      "SELECT words FROM today_item WHERE kind = 'failure' AND words LIKE 'Read rights%'",
    );
    expect(failures).toEqual([]);
    expect((await askAccess(ctx, 'counts', {})).places).toBe(0);
  });
});
