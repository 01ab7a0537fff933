import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FIRST_GATE } from '../../../src/core/websites/gate/gate-settings.ts';
import type { TagSystem } from '../../../src/core/websites/gate/tag-system.ts';
import type { Cause } from '../../../src/core/websites/trackers/tracker.ts';
import { sighting } from '../../../src/core/websites/trackers/tracker.fixture.ts';
import { listEntries } from '../../../src/server/evidence/ledger.ts';
import { editGate, readGate } from '../../../src/server/websites/gate/site-gate.ts';
import {
  listTagSystems,
  sayTagSystem,
  takeOutTagSystem,
} from '../../../src/server/websites/gate/tag-systems.ts';
import { listTags, sayTags } from '../../../src/server/websites/gate/tags.ts';
import { findSite } from '../../../src/server/websites/sites/sites.ts';
import { endSweep } from '../../../src/server/websites/sweeps/sweep-end.ts';
import { beginSweep, findSweep, startSweep } from '../../../src/server/websites/sweeps/sweeps.ts';
import { decidePurpose } from '../../../src/server/websites/trackers/purpose-decisions.ts';
import { observedIn, storeCrawl } from '../../../src/server/websites/trackers/sightings.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { moveNotice } from '../notice.ts';
import { RunningVisitor } from './running-visitor.ts';

const ctx = testContext();
let visitor: RunningVisitor;
beforeAll(async () => {
  visitor = await RunningVisitor.start(ctx);
});
afterAll(async () => {
  visitor.stop();
  await ctx.store.close();
});

/** A site that was swept: a wave tag with a cookie and a hit, let go by the gate itself on some of its ways. */
async function swept() {
  const account = await testAccount(ctx);
  const site = await testSite(ctx);
  const { sweep: id } = await startSweep(ctx, account.id, site.host, {});
  await beginSweep(ctx, id);
  const page: Cause = { what: 'page', url: `https://${site.host}/`, line: 4 };
  const gate: Cause = { what: 'script', url: `http://localhost:8733/${site.siteKey}.js` };
  const wave: Cause = { what: 'script', url: 'https://wave.example/w.js' };
  const seen = (cause: Cause[], over = {}) =>
    sighting({ visitor: 'accepted', party: 'third', cause, ...over });
  await storeCrawl(ctx, await findSweep(ctx.store, id), {
    ...{ visitor: 'accepted', notes: [], operated: null, couldChoose: true, whyNot: '', incomplete: false },
    ...{ picture: undefined, pages: [{ url: `https://${site.host}/`, status: 200, note: '' }] },
    sightings: [
      { kind: 'cookie', name: 'wave_q', host: site.host, sighting: seen([page, gate, wave]) },
      { kind: 'request', name: '/hit_q', host: 'wave.example', sighting: seen([page, wave]) },
    ],
  });
  await ctx.store.transaction((tx) => endSweep(tx, ctx, id, 'complete'));
  const trackers = (await observedIn(ctx.store, id)).map((o) => o.id);
  const siteId = (await findSite(ctx.store, site.host)).id;
  const decide = (purpose: string) =>
    decidePurpose(ctx, account.id, site.host, { ids: trackers, purpose, because: 'x' });
  return { account: account.id, site, siteId, decide };
}

describe('the gate of a site', () => {
  it('holds by itself what the sweep found, once somebody has said what it is for and set it so', async () => {
    const { account, site, siteId, decide } = await swept();
    await moveNotice(ctx, account, site.host, 'rehearse', 1);
    await moveNotice(ctx, account, site.host, 'put in force', 1);
    const served = async () => {
      await new Promise((done) => setTimeout(done, 2100));
      const body = await (await fetch(`${visitor.origin}/${site.siteKey}.js`)).text();
      return JSON.parse(/YARE_HOLDS=(\[.*?\]),YARE_PANEL/.exec(body)?.[1] ?? 'null') as unknown;
    };
    await decide('measurement');
    expect(await served()).toEqual([]);
    await editGate(ctx, account, site.host, { mode: 'by itself' }, FIRST_GATE);
    // The gate’s own script is no tag.
    const hold = { kind: 'request', host: 'wave.example', name: '/w.js', purpose: 'measurement' };
    expect(await served()).toEqual([hold]);
    await decide('essential');
    expect((await readGate(ctx.store, siteId)).plan.holds).toEqual([]);
    const kept = await fetch(`${visitor.origin}/${site.siteKey}/kept`);
    expect(await kept.json()).toEqual([
      { kind: 'cookie', name: 'wave_q', host: site.host, purpose: 'measurement' },
    ]);
  }, 20_000);

  it('is changed by who saw how it stands, and shares answers with hosts of the site’s domain only', async () => {
    const { account, site, siteId } = await swept();
    await editGate(ctx, account, site.host, { campaign: ['spring'] }, FIRST_GATE);
    await expect(editGate(ctx, account, site.host, { campaign: [] }, FIRST_GATE)).rejects.toMatchObject({
      status: 409,
    });
    const now = { ...FIRST_GATE, campaign: ['spring'] };
    await expect(editGate(ctx, account, site.host, { domain: 'other.example' }, now)).rejects.toMatchObject({
      fields: [{ field: 'domain' }],
    });
    expect((await readGate(ctx.store, siteId)).settings).toEqual(now);
  });
});

describe('tags', () => {
  it('are found with where they stand, and what is said of many at once goes to the gate and the ledger', async () => {
    const { account, site, siteId, decide } = await swept();
    await decide('measurement');
    const [tag] = await listTags(ctx.store, site.host);
    expect(tag).toMatchObject({
      ...{
        host: 'wave.example',
        name: '/w.js',
        what: 'script',
        needs: ['measurement'],
        said: false,
        ran: null,
      },
      placed: [{ what: 'page', line: 4 }],
    });
    const key = { host: 'wave.example', name: '/w.js' };
    const byHand = { host: 'new.example', name: '/n.js' };
    await sayTags(ctx, account, site.host, { tags: [byHand], plan: { needs: 'advertising' } }, true);
    const before = await sayTags(ctx, account, site.host, { tags: [key, byHand], plan: { reduced: true } });
    expect(before.map((b) => b.plan)).toMatchObject([
      { reduced: false },
      { needs: 'advertising', reduced: false },
    ]);
    const { plan } = await readGate(ctx.store, siteId);
    expect(plan.holds.toSorted((a, b) => (a.kind < b.kind ? -1 : 1))).toEqual([
      { kind: 'cookie', host: site.host, name: 'wave_q', purpose: 'measurement' },
      { kind: 'request', host: 'wave.example', name: '/hit_q', purpose: 'measurement', without: [] },
    ]);
    expect((await listTags(ctx.store, site.host)).map((t) => [t.host, t.what, t.byHand])).toEqual([
      ['wave.example', 'script', false],
      ['new.example', 'not seen', true],
    ]);
    const about = { object: 'site', objectId: String(siteId) };
    const said = (await listEntries(ctx.store, about, undefined, 20)).rows.filter(
      (e) => e.action === 'tag.say',
    );
    expect(said.length).toBeGreaterThanOrEqual(2);
  });

  it('refuse a purpose and a tag system that are not there', async () => {
    const { account, site } = await swept();
    const tags = [{ host: 'a.example', name: '/' }];
    await expect(sayTags(ctx, account, site.host, { tags, plan: { needs: 'none' } })).rejects.toMatchObject({
      fields: [{ field: 'needs' }],
    });
    await expect(sayTags(ctx, account, site.host, { tags, plan: { checks: 9999 } })).rejects.toMatchObject({
      fields: [{ field: 'checks' }],
    });
  });
});

describe('tag systems', () => {
  const system: TagSystem = {
    ...{ name: 'Tagworks', queue: 'works.queue', names: { measurement: ['count'] }, on: 'yes', off: 'no' },
    ...{ start: '["start", "$state"]', change: '["change", "$state"]', waitMs: 300 },
  };

  it('are mapped, changed by who saw them, and taken out', async () => {
    const { id: account } = await testAccount(ctx);
    const name = `Tagworks ${Date.now()}`;
    const id = await sayTagSystem(ctx, account, { ...system, name }, { revision: 0 });
    await expect(sayTagSystem(ctx, account, { ...system, name }, { revision: 0 })).rejects.toMatchObject({
      fields: [{ field: 'name' }],
    });
    await sayTagSystem(ctx, account, { ...system, name, on: 'granted' }, { id, revision: 1 });
    await expect(sayTagSystem(ctx, account, { ...system, name }, { id, revision: 1 })).rejects.toMatchObject({
      status: 409,
    });
    expect((await listTagSystems(ctx.store)).find((s) => s.id === id)?.content.on).toBe('granted');
    await expect(
      sayTagSystem(ctx, account, { ...system, name: 'x', names: { nothing: ['a'] } }, { revision: 0 }),
    ).rejects.toMatchObject({ fields: [{ field: 'names' }] });
    await takeOutTagSystem(ctx, account, id);
    await expect(takeOutTagSystem(ctx, account, id)).rejects.toMatchObject({ status: 404 });
  });
});
