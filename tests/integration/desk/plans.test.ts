import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ownDatabase } from '../../own-database.ts';
import { fillEstate, type EstateSize } from '../../../bench/estate.ts';
import { prepareDatabase } from '../../../launcher/database-command.ts';
import { builtIn } from '../../../src/core/accounts/roles/held-role.ts';
import type { Context } from '../../../src/server/context.ts';
import { closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import { deskState } from '../../../src/server/desk/desk-state.ts';
import { find } from '../../../src/server/desk/find.ts';
import { RecentChanges } from '../../../src/server/desk/recent-changes.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { ledgerState, listEntries } from '../../../src/server/evidence/ledger.ts';
import { claimJob } from '../../../src/server/jobs/job.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { Count } from '../../../src/server/store/columns.ts';
import { openStore, type Queries, type Store } from '../../../src/server/store/pool.ts';
import { listConsents } from '../../../src/server/websites/consents/consents.ts';
import { showSiteOnToday } from '../../../src/server/websites/sites/site-today.ts';
import { findSite } from '../../../src/server/websites/sites/sites.ts';
import { latestSweeps } from '../../../src/server/websites/sweeps/sweeps.ts';
import {
  listTrackers,
  TRACKER_SORTS,
  TrackerFilter,
} from '../../../src/server/websites/trackers/trackers.ts';
import { OFFICER } from '../context.ts';

const NOW = new Date('2026-11-20T09:00:00.000Z');
const SMALL: EstateSize = {
  sites: 4,
  sweepsPerSite: 3,
  trackersPerSite: 40,
  detectors: 20,
  entries: 2000,
  consents: 1000,
  jobs: 50,
};
const LARGE: EstateSize = {
  sites: 400,
  sweepsPerSite: 5,
  trackersPerSite: 40,
  detectors: 10_000,
  entries: 200_000,
  consents: 100_000,
  jobs: 20_000,
};

const stores: Store[] = [];
let small: Store;
let large: Store;

async function estate(name: string, size: EstateSize): Promise<Store> {
  const url = new URL(ownDatabase());
  const server = openStore(url.href, 1);
  await server.run(`DROP DATABASE IF EXISTS ${name}`);
  await server.run(`CREATE DATABASE ${name}`);
  await server.close();
  url.pathname = `/${name}`;
  const { store } = await prepareDatabase(url.href);
  stores.push(store);
  await fillEstate(store, NOW, size);
  return store;
}

beforeAll(async () => {
  small = await estate('yare_small', SMALL);
  large = await estate('yare_large', LARGE);
});
afterAll(async () => {
  await closeAccessThreads();
  for (const store of stores) await store.close();
});

/** How many rows the database read for it, by index or one after the other. */
async function rowsRead(store: Store, work: (ctx: Context) => Promise<unknown>): Promise<number> {
  return store.connection(async (connection) => {
    const alone = { ...connection, transaction: (of: (tx: Queries) => unknown) => of(connection) } as Store;
    const ctx = {
      store: alone,
      settings: readSettings({ SECRET_KEY: 'ab'.repeat(32), DATABASE_URL: ownDatabase() }),
      now: () => NOW,
    };
    const read = async () => {
      const rows = await connection.all(
        z.object({ Variable_name: z.string(), Value: Count }),
        "SHOW SESSION STATUS LIKE 'Handler_read%'",
      );
      return rows.reduce((n, r) => n + r.Value, 0);
    };
    // Once before, for what the first question alone reads.
    await work(ctx);
    const before = await read();
    await work(ctx);
    const between = await read();
    const nothing = (await read()) - between;
    return between - before - nothing;
  });
}

describe('what every open desk asks for each second', () => {
  it('reads as much with 4 sites as with 400, 10,000 rules and a long ledger', async () => {
    const look = async (ctx: Context) => {
      await deskState(ctx, OFFICER);
      const recent = new RecentChanges();
      await recent.look(ctx.store, NOW);
      await recent.look(ctx.store, NOW);
    };
    const few = await rowsRead(small, look);
    const many = await rowsRead(large, look);
    expect(many).toBeLessThanOrEqual(few * 1.5);
    expect(many).toBeLessThan(200);
  });
});

const SITE = 'site7.example';
/** Rows of a page, and a few for each of them. */
const PAGE = 50;
const FEW = 1500;

describe('a list reads by an index, however much there is', () => {
  it.each<[string, (ctx: Context) => Promise<unknown>]>([
    ['Today', (ctx) => todayItems(ctx, OFFICER)],
    ['the ledger', (ctx) => listEntries(ctx.store, {}, undefined, PAGE)],
    ...(
      [
        { action: 'tracker.decide' },
        { object: 'sweep', objectId: '6' },
        { actor: '1' },
        { from: '2026-11-01', to: '2026-11-02' },
      ] as const
    ).map((f): [string, (ctx: Context) => Promise<unknown>] => [
      `the ledger by ${Object.keys(f).join(' and ')}`,
      (ctx) => listEntries(ctx.store, f, undefined, PAGE),
    ]),
    ['the state of the ledger', (ctx) => ledgerState(ctx.store)],
    ['consent records', (ctx) => listConsents(ctx.store, SITE, {}, undefined, PAGE)],
    ...([{ choice: 'refused all' }, { region: 'DK' }, { version: '3' }, { from: '2026-11-10' }] as const).map(
      (f): [string, (ctx: Context) => Promise<unknown>] => [
        `consent records by ${Object.keys(f).join(' and ')}`,
        (ctx) => listConsents(ctx.store, SITE, f, undefined, PAGE),
      ],
    ),
    ...TRACKER_SORTS.map((sort): [string, (ctx: Context) => Promise<unknown>] => [
      `trackers by ${sort}`,
      (ctx) => listTrackers(ctx.store, SITE, TrackerFilter.parse({ sort }), undefined, PAGE),
    ]),
    ['sweeps', async (ctx) => latestSweeps(ctx.store, (await findSite(ctx.store, SITE)).id)],
    ['the next job', (ctx) => claimJob(ctx, 'me', ['sweep'])],
    ['what a site needs', (ctx) => showSiteOnToday(ctx.store, 7)],
    [
      'an entry by its number, in Find',
      (ctx) => find(ctx, { ...OFFICER, roles: [builtIn('access reviewer')] }, '12'),
    ],
  ])('%s', async (_, work) => {
    expect(await rowsRead(large, work)).toBeLessThan(FEW);
  });
});
