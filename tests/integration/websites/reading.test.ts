import { afterAll, describe, expect, it } from 'vitest';
import { press, READING, set } from '../../../src/core/websites/reading/notice-reading.fixture.ts';
import type { TrackerKey } from '../../../src/core/websites/trackers/tracker.ts';
import { sighting } from '../../../src/core/websites/trackers/tracker.fixture.ts';
import { listEntries } from '../../../src/server/evidence/ledger.ts';
import { siteDetail } from '../../../src/server/websites/sites/site-detail.ts';
import {
  correctReading,
  forgetReading,
  keepReading,
} from '../../../src/server/websites/sites/site-reading.ts';
import { endSweep, readReport } from '../../../src/server/websites/sweeps/sweep-end.ts';
import { beginSweep, findSweep, startSweep } from '../../../src/server/websites/sweeps/sweeps.ts';
import { ranWithIn, storeSwitches } from '../../../src/server/websites/trackers/ran-with.ts';
import { observedIn, storeCrawl } from '../../../src/server/websites/trackers/sightings.ts';
import { testAccount, testContext, testSite } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

const key = (name: string): TrackerKey => ({ kind: 'cookie', name, host: 'q.other.example' });
const underWay = async () => {
  const account = await testAccount(ctx);
  const site = await testSite(ctx);
  const { sweep: id } = await startSweep(ctx, account.id, site.host, {});
  await beginSweep(ctx, id);
  return { account, host: site.host, sweep: await findSweep(ctx.store, id) };
};
const SWITCHES = [
  { words: 'Newsroom', purpose: 'measurement', by: 'words', pages: 2 },
  { words: 'Sponsors', purpose: 'advertising', by: 'trial', pages: 2 },
] as const;

describe('what switches let run', () => {
  it('is stored with the sweep, proposes purposes, and stands in the sealed report', async () => {
    const { sweep } = await underWay();
    await storeCrawl(ctx, sweep, {
      ...{ visitor: 'accepted', notes: [], operated: null, couldChoose: true, whyNot: '', incomplete: false },
      ...{ picture: undefined, pages: [{ url: 'https://a.example/', status: 200, note: '' }] },
      sightings: ['qa', 'qb', 'both', 'neither'].map((name) => ({
        ...key(name),
        sighting: sighting({ visitor: 'accepted', party: 'third' }),
      })),
    });
    const found = [
      { ...SWITCHES[0], trackers: [key('qa'), key('both'), key('of no visitor')] },
      { ...SWITCHES[1], trackers: [key('qb'), key('both')] },
    ];
    await storeSwitches(ctx, sweep, [{ ...SWITCHES[0], trackers: [key('neither')] }]);
    await storeSwitches(ctx, sweep, found);
    const now = await findSweep(ctx.store, sweep.id);
    expect(now.switches).toEqual(SWITCHES);
    const ranWith = await ranWithIn(ctx.store, now);
    const names = new Map(
      (await observedIn(ctx.store, sweep.id)).map((o) => [
        o.tracker.name,
        ranWith(o.id)?.with.map((s) => s.words),
      ]),
    );
    expect(Object.fromEntries(names)).toEqual({
      qa: ['Newsroom'],
      qb: ['Sponsors'],
      both: ['Newsroom', 'Sponsors'],
      neither: [],
    });
    await keepReading(ctx, sweep, READING);
    await ctx.store.transaction((tx) => endSweep(tx, ctx, sweep.id, 'complete'));
    const { report } = await readReport(ctx.store, sweep.id);
    expect(report.switches).toEqual(SWITCHES);
    expect(report.notice?.refuse?.way).toBe('“Maybe later”');
    expect(report.trackers.map((t) => [t.name, t.purpose, t.ranWith])).toEqual(
      expect.arrayContaining([
        ['qa', 'measurement', ['Newsroom']],
        ['qb', 'advertising', ['Sponsors']],
      ]),
    );
  });
});

describe('how a site’s notice is read', () => {
  it('is kept for the site and corrected; the next reading keeps the correction', async () => {
    const { account, host, sweep } = await underWay();
    const reading = async () => (await siteDetail(ctx, host)).reading;
    expect(await reading()).toBeNull();
    await expect(
      correctReading(ctx, account.id, host, { roles: { refuse: 3 }, readAt: READING.readAt }),
    ).rejects.toMatchObject({ status: 409 });
    await keepReading(ctx, sweep, READING);
    expect(await reading()).toEqual(READING);
    await correctReading(ctx, account.id, host, {
      roles: { refuse: 3 },
      switches: { Corner: 'preferences' },
      readAt: READING.readAt,
    });
    expect((await reading())?.roles.refuse).toMatchObject({
      way: [press('Pick'), set(), press('Save these')],
      by: 'person',
    });
    // Other tests write to the same ledger.
    const { rows } = await listEntries(ctx.store, {}, undefined, 50);
    const entry = rows.find((r) => r.action === 'site.reading');
    expect(entry).toMatchObject({
      action: 'site.reading',
      detail: { words: ['refuse by “Pick”, all switches off, “Save these”', '“Corner” is for preferences'] },
    });
    const again = { ...READING, readAt: '2026-11-29T10:00:00.000Z' };
    await keepReading(ctx, sweep, again);
    expect(await reading()).toMatchObject({
      readAt: again.readAt,
      roles: { refuse: { by: 'person' }, accept: { by: 'trial' } },
      switches: [{ by: 'words' }, { purpose: 'preferences', by: 'person' }, {}],
    });
    // Two look at it at once: whoever saw the one before is told.
    await expect(
      correctReading(ctx, account.id, host, { roles: { refuse: 1 }, readAt: READING.readAt }),
    ).rejects.toMatchObject({ status: 409 });
    await expect(
      correctReading(ctx, account.id, host, { roles: { refuse: 40 }, readAt: again.readAt }),
    ).rejects.toMatchObject({ status: 409 });
    await forgetReading(ctx, account.id, host);
    await forgetReading(ctx, account.id, host);
    expect(await reading()).toBeNull();
  });
});
