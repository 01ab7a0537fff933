import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NewIncident } from '../../../src/core/cases/incidents/incident.ts';
import { NEW_VENDOR } from '../../../src/core/cases/vendors/vendor.ts';
import { closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import { readAccessSource } from '../../../src/server/access/sources/read-source.ts';
import { addDossier } from '../../../src/server/cases/dossiers/dossiers.ts';
import { actOnIncident, takeIncident } from '../../../src/server/cases/incidents/act-on-incident.ts';
import { viewIncident } from '../../../src/server/cases/incidents/view-incident.ts';
import { VENDOR } from '../../../src/server/cases/vendors/vendor-kind.ts';
import { viewVendor } from '../../../src/server/cases/vendors/view-vendor.ts';
import { sourceNames } from '../../../src/server/holdings/offers.ts';
import type { Context } from '../../../src/server/context.ts';
import { grant, peopleBook, place, RightsServer } from '../../rights-server.ts';
import { takeIn } from '../access/rights-sources.ts';
import { casesTest, surveyed, type CasesTest } from './requesting.ts';

let test: CasesTest;
let ctx: Context;
let source: number;
let rights: number;
let share = '';
const server = new RightsServer();

/** What stands there from a moment on. */
async function rightsFrom(at: string, lines: Parameters<RightsServer['rights']>[0]): Promise<void> {
  test.at(at);
  server.rights(lines);
  if (rights) await readAccessSource(ctx, rights, new AbortController().signal);
  else rights = await takeIn(ctx, server, 'rights');
}

beforeAll(async () => {
  test = await casesTest('yare_cases_reach');
  test.at('2026-11-20T08:00:00Z');
  source = await surveyed(test, {
    'crew/fit.csv': 'Name;E-mail;Remark\nPer Alm;per@post.example;type 1 diabetes\n',
    'plans/berths.csv': 'Berth;Length\n4;120\n',
  });
  await server.start();
  ctx = {
    ...test.ctx,
    settings: {
      ...test.ctx.settings,
      ALLOWED_PRIVATE: `${test.ctx.settings.ALLOWED_PRIVATE ?? ''},127.0.0.1:${server.port}`,
    },
  };
  share = (await sourceNames(ctx.store)).find((s) => Number(s.id) === source)?.name ?? '';
  const book = peopleBook(['tove', 'karl', 'devika'], { port: ['tove', 'karl'] });
  for (const u of book.users)
    if (u.id === 'devika') {
      Object.assign(u, { userType: 'Guest' });
      Object.assign(u.emails?.[0] ?? {}, { value: 'devika@pilotage.example' });
    }
  server.people(book);
  await takeIn(ctx, server, 'people');
  const at = (id: string, more = {}) => place(id, { source: share, ...more });
  const places = [at(share), at(`${share}/crew`), at(`${share}/plans`)];
  await rightsFrom('2026-11-20T09:00:00Z', [
    ...places,
    grant(share, 'port', 'read'),
    grant(`${share}/crew`, 'devika', 'read'),
  ]);
  await rightsFrom('2026-11-25T09:00:00Z', [
    ...places,
    grant(share, 'tove', 'read'),
    grant(`${share}/plans`, 'devika', 'read'),
  ]);
});
afterAll(async () => {
  await closeAccessThreads();
  await server.stop();
  await test.close();
});

const reckoned = async (happenedAt: string | null, path: string) => {
  const id = await ctx.store.transaction((tx) =>
    takeIncident(
      tx,
      ctx,
      NewIncident.parse({
        ...{ kind: 'open to many', title: 'A folder for all', knownAt: '2026-11-25T09:00:00Z', happenedAt },
        touched: [{ what: 'place', source, path }],
      }),
      test.officer.id,
    ),
  );
  await actOnIncident(ctx, test.officer, id, { act: 'reckon' });
  return (await viewIncident(ctx, test.officer, id)).reckoned;
};

describe('who could reach what an incident touched', () => {
  it('is told as it was on the day it happened', async () => {
    expect((await reckoned('2026-11-21T09:00:00Z', 'crew'))?.reach).toMatchObject([
      { where: `${share}/crew`, people: 3, guests: 1, anyone: false, on: '2026-11-21' },
    ]);
  });

  it('is told as it is now where it happened today, or on a day of which nothing is known', async () => {
    expect((await reckoned(null, 'crew'))?.reach).toMatchObject([{ people: 1, guests: 0, on: null }]);
    expect((await reckoned('2026-03-01T09:00:00Z', 'crew'))?.reach).toMatchObject([{ people: 1, on: null }]);
  });

  it('is said not to be known where no rights were read', async () => {
    await ctx.store.run("UPDATE source SET name = CONCAT(name, ' moved') WHERE id = ?", [source]);
    const other = await reckoned(null, 'crew');
    await ctx.store.run('UPDATE source SET name = ? WHERE id = ?', [share, source]);
    expect(other?.reach.length === 1 || other?.unknown.some((u) => u.startsWith('Who could reach'))).toBe(
      true,
    );
  });
});

describe('what a vendor reaches', () => {
  it('is read from the accounts at its domains, with what lies there', async () => {
    test.at('2026-11-25T10:00:00Z');
    const add = (name: string, contact: string) =>
      ctx.store.transaction((tx) => addDossier(tx, ctx, VENDOR, null, { ...NEW_VENDOR, name, contact }));
    const { facts, progress } = await viewVendor(ctx, await add('Pilotage', 'dpo@pilotage.example'));
    expect(facts.reach).toMatchObject({ accountCount: 1, places: 1, data: [] });
    expect(facts.reach?.accounts.map((a) => a.name)).toEqual(['DEVIKA']);
    expect(progress.tier.steps.map((s) => s.words)).toContain('1 account of theirs gets to 1 place');
    expect((await viewVendor(ctx, await add('None', 'dpo@none.example'))).facts.reach).toBeNull();
  });

  it('counts for more once something grave lies there', async () => {
    const at = (id: string) => place(id, { source: share });
    await rightsFrom('2026-11-26T09:00:00Z', [
      ...[at(share), at(`${share}/crew`), at(`${share}/plans`)],
      grant(`${share}/crew`, 'devika', 'read'),
    ]);
    const id = await ctx.store.transaction((tx) =>
      addDossier(tx, ctx, VENDOR, null, { ...NEW_VENDOR, name: 'Again', contact: 'x@pilotage.example' }),
    );
    const { facts, progress } = await viewVendor(ctx, id);
    expect(facts.reach).toMatchObject({ places: 1, items: 1, people: 1 });
    expect(facts.reach?.data.length).toBeGreaterThan(0);
    expect(progress.tier.steps.find((s) => s.value === 3)?.words).toMatch(
      /^1 account of theirs gets to 1 place, with 1 person/,
    );
  });
});
