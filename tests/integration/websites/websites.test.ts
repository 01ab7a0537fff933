import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { gzipSync } from 'node:zlib';
import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { readClickPath } from '../../../src/core/websites/sweeps/click-path.ts';
import { KnownTracker } from '../../../src/core/websites/trackers/known-tracker.ts';
import { firstNotice, type NoticeContent } from '../../../src/core/websites/notice/notice.ts';
import type { Sighting } from '../../../src/core/websites/trackers/tracker.ts';
import { isNoDifference } from '../../../src/core/websites/sweeps/sweep-difference.ts';
import { listEntries, seal } from '../../../src/server/evidence/ledger.ts';
import { consentRates } from '../../../src/server/websites/consents/consent-rates.ts';
import {
  consentFacets,
  countConsents,
  listConsents,
} from '../../../src/server/websites/consents/consents.ts';
import { openConsent } from '../../../src/server/websites/consents/consent-record.ts';
import { recordConsent } from '../../../src/server/websites/consents/consent-intake.ts';
import { findNotice, servedNotice } from '../../../src/server/websites/notices/notices.ts';
import { moveNotice, saveDraft, takeBack } from '../notice.ts';
import {
  addKnown,
  editKnown,
  findKnown,
  importKnown,
  listKnown,
  readLibrary,
  removeKnown,
} from '../../../src/server/websites/library/known-trackers.ts';
import { siteDetail } from '../../../src/server/websites/sites/site-detail.ts';
import { hidePaths, openPaths } from '../../../src/server/websites/sites/site-paths.ts';
import type { Context } from '../../../src/server/context.ts';
import {
  editSite,
  findSite,
  insertSite,
  listSites,
  type SiteEdit,
} from '../../../src/server/websites/sites/sites.ts';
import { sighting as seen } from '../../../src/core/websites/trackers/tracker.fixture.ts';
import { storeCrawl } from '../../../src/server/websites/trackers/sightings.ts';
import {
  differenceSinceLast,
  endSweep,
  readPicture,
  readReport,
} from '../../../src/server/websites/sweeps/sweep-end.ts';
import { sweepPdf } from '../../../src/server/websites/sweeps/sweep-pdf.ts';
import { startDueSweeps } from '../../../src/server/websites/sweeps/sweep-upkeep.ts';
import {
  beginSweep,
  findSweep,
  listSweeps,
  markSeen,
  startSweep,
  visitorsDone,
} from '../../../src/server/websites/sweeps/sweeps.ts';
import { cancelJob } from '../../../src/server/desk/job-authority.ts';
import {
  countTrackers,
  listTrackers,
  openTracker,
  TrackerFilter,
} from '../../../src/server/websites/trackers/trackers.ts';
import { decidePurpose, restoreDecisions } from '../../../src/server/websites/trackers/purpose-decisions.ts';
import { everyRow } from '../../../src/server/store/page.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { OFFICER, testAccount, testContext, testSite, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
/** An edit of what is there now. */
async function edit(on: Context, by: number, host: string, change: SiteEdit): Promise<void> {
  const { name, scope, region, chosen, paths, schedule } = await findSite(on.store, host);
  await editSite(on, by, host, change, { name, scope, region, chosen, paths: hidePaths(paths), schedule });
}

const newKey = () => randomBytes(16).toString('hex');
const KEY = 'ab'.repeat(16);

describe('a notice', () => {
  const edited = (over: Partial<NoticeContent>): NoticeContent => ({ ...firstNotice(), ...over });

  it('goes from draft through rehearsal into force, visitors seeing only what is in force', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const serve = async (rehearsing: boolean) =>
      (await servedNotice(ctx.store, site.siteKey, rehearsing))?.notice?.version;
    expect([await serve(false), await serve(true)]).toEqual([undefined, undefined]);
    await moveNotice(ctx, account.id, site.host, 'rehearse', 1);
    expect([await serve(false), await serve(true)]).toEqual([undefined, 1]);
    await moveNotice(ctx, account.id, site.host, 'put in force', 1);
    expect([await serve(false), await serve(true)]).toEqual([1, 1]);
    await saveDraft(ctx, account.id, site.host, 1, firstNotice(), edited({ askAgainMonths: 12 }));
    await moveNotice(ctx, account.id, site.host, 'rehearse', 2);
    expect([await serve(false), await serve(true)]).toEqual([1, 2]);
    await moveNotice(ctx, account.id, site.host, 'end rehearsal', 2);
    expect([await serve(false), await serve(true)]).toEqual([1, 1]);
    await moveNotice(ctx, account.id, site.host, 'pause', 2);
    expect(await serve(false)).toBeUndefined();
    await expect(moveNotice(ctx, account.id, site.host, 'pause', 2)).rejects.toMatchObject({ status: 409 });
  });

  it('asks again only when other purposes are asked for', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    let content = firstNotice();
    for (const next of [
      content,
      edited({ purposes: ['measurement'] }),
      edited({ purposes: ['measurement'], askAgainMonths: 3 }),
    ]) {
      const { revision } = await findNotice(ctx.store, site.host);
      const saved = await saveDraft(ctx, account.id, site.host, revision, content, next);
      await moveNotice(ctx, account.id, site.host, 'put in force', saved.revision);
      content = next;
    }
    expect((await servedNotice(ctx.store, site.siteKey, false))?.notice).toMatchObject({
      version: 3,
      asksSince: 2,
    });
    expect((await findNotice(ctx.store, site.host)).versions[0]?.changes).toEqual([
      'Ask again after: 6 months → 3 months',
    ]);
    await takeBack(ctx, account.id, site.host, 1, (await findNotice(ctx.store, site.host)).revision);
    expect((await findNotice(ctx.store, site.host)).changes).toEqual([
      'Purposes asked for: Preferences, Advertising added',
      'Ask again after: 3 months → 6 months',
    ]);
  });

  it('tells the second of two editors, loses nothing, and merges', async () => {
    const [ines, tove] = [await testAccount(ctx), await testAccount(ctx)];
    const site = await testSite(ctx);
    const base = firstNotice();
    await saveDraft(ctx, ines.id, site.host, 1, base, edited({ askAgainMonths: 12 }));
    const mine = edited({ policyUrl: 'https://a.example/privacy' });
    const refused = await saveDraft(ctx, tove.id, site.host, 1, base, mine).catch((e: unknown) => e);
    expect(refused).toMatchObject({
      status: 409,
      detail: { revision: 2, collisions: [], theirChanges: ['Ask again after: 6 months → 12 months'] },
    });
    const { detail } = refused as {
      detail: { merged: NoticeContent; revision: number; theirs: NoticeContent };
    };
    expect(detail.merged).toMatchObject({ askAgainMonths: 12, policyUrl: mine.policyUrl });
    await saveDraft(ctx, tove.id, site.host, detail.revision, detail.theirs, detail.merged);
    expect((await findNotice(ctx.store, site.host)).content).toMatchObject({
      askAgainMonths: 12,
      policyUrl: mine.policyUrl,
    });
    await expect(moveNotice(ctx, ines.id, site.host, 'put in force', 2)).rejects.toMatchObject({
      status: 409,
    });
  });

  it('stays a draft while something is missing, and says what', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const unfair = edited({ colours: { ...firstNotice().colours, text: '#cccccc' } });
    await saveDraft(ctx, account.id, site.host, 1, firstNotice(), unfair);
    await expect(moveNotice(ctx, account.id, site.host, 'put in force', 2)).rejects.toMatchObject({
      fields: [{ field: 'notice', message: expect.stringContaining('contrast') }],
    });
    expect((await findNotice(ctx.store, site.host)).stage.state).toBe('draft');
  });
});

describe('a consent record', () => {
  it('is stored with its receipt, proved by the ledger, and never with a whole address', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    await moveNotice(ctx, account.id, site.host, 'put in force', 1);
    const notice = (await servedNotice(ctx.store, site.siteKey, false))!.notice!;
    const choose = (allowed: string[], region = 'DK', visitorKey = KEY, version = 1, choiceKey = newKey()) =>
      recordConsent(ctx, {
        siteId: site.id,
        host: site.host,
        notice,
        region,
        address: '198.18.7.99',
        sent: {
          version,
          allowed,
          language: 'da',
          visitorKey,
          choiceKey,
          shown: '',
          tc: '',
          device: 'phone',
          page: 'offers',
        },
      });
    const acts = [
      (await choose(['measurement', 'nonsense'])).act,
      (await choose(['measurement'])).act,
      (await choose([])).act,
    ];
    expect(acts).toEqual(['first', 'repeated', 'withdrawn']);
    const other = await choose(notice.content.purposes as string[], 'US-CA', 'cd'.repeat(16));
    expect(other.choice).toBe('allowed all');
    await seal(ctx.store, ctx.now());
    const opened = await openConsent(ctx.store, site.id, other.id);
    expect(opened).toMatchObject({ matches: true, record: { address: '198.18.7.0', region: 'US-CA' } });
    await ctx.store.run("UPDATE consent_record SET region = 'DE' WHERE id = UNHEX(REPLACE(?, '-', ''))", [
      other.id,
    ]);
    expect((await openConsent(ctx.store, site.id, other.id)).matches).toBe(false);

    expect(await countConsents(ctx.store, site.host, { choice: 'refused all' })).toBe(1);
    const first = await listConsents(ctx.store, site.host, {}, undefined, 3);
    const second = await listConsents(ctx.store, site.host, {}, first.next!, 3);
    expect(new Set([...first.rows, ...second.rows].map((r) => r.id)).size).toBe(4);
    expect(await consentFacets(ctx.store, site.host, { region: 'DK' })).toMatchObject({
      choice: { 'allowed some': 2, 'refused all': 1 },
      region: { DK: 3, DE: 1 },
      version: { 1: 3 },
    });
    expect(await countConsents(ctx.store, site.host, { version: '1' })).toBe(4);
    expect(await countConsents(ctx.store, site.host, { version: '0x1' })).toBe(0);
    // The visitor who changed their mind counts once, as they ended.
    expect(await consentRates(ctx, site.host, 30)).toMatchObject({
      choices: 2,
      allowedSomething: { share: 0.5 },
    });
    await expect(choose([], 'DK', KEY, 7)).rejects.toMatchObject({ fields: [{ field: 'version' }] });
    const elsewhere = await testSite(ctx);
    await expect(openConsent(ctx.store, elsewhere.id, other.id)).rejects.toMatchObject({ status: 404 });
    await expect(openConsent(ctx.store, site.id, 'not-an-id')).rejects.toMatchObject({ status: 404 });
  });
});

describe('a sweep', () => {
  const sighting = (visitor: Sighting['visitor'], over: Partial<Sighting> = {}): Sighting =>
    seen({
      visitor,
      pages: 2,
      party: 'third',
      lifetime: 86400 * 390,
      valueLength: 22,
      valueBits: 80,
      cause: [{ what: 'page', url: 'https://a.example/', line: 4 }],
      ...over,
    });
  const crawled = (visitor: Sighting['visitor'], names: string[]) => ({
    visitor,
    notes: [],
    operated: null,
    couldChoose: true,
    whyNot: '',
    incomplete: false,
    picture: undefined as Buffer | undefined,
    pages: [{ url: 'https://a.example/', status: 200, note: '' }],
    sightings: names.map((name) => ({
      kind: 'cookie' as const,
      name,
      host: 'stats.other.example',
      sighting: sighting(visitor),
    })),
  });

  it('stores what each visitor saw, proposes, judges, and differs from the one before', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const hostile = '=HYPERLINK("x")<script>alert(1)</script>';
    const sweepOnce = async (before: string[], accepted: string[]) => {
      const { sweep: id } = await startSweep(ctx, account.id, site.host, { maxPages: 10, maxMinutes: 1 });
      await expect(
        startSweep(ctx, account.id, site.host, { maxPages: 10, maxMinutes: 1 }),
      ).rejects.toMatchObject({ status: 409 });
      await beginSweep(ctx, id);
      const sweep = await findSweep(ctx.store, id);
      await storeCrawl(ctx, sweep, crawled('before', before));
      expect((await visitorsDone(ctx.store, id)).visitors).toEqual(['before']);
      await storeCrawl(ctx, sweep, crawled('accepted', accepted));
      // A worker that takes over may store a visitor again.
      await storeCrawl(ctx, sweep, crawled('accepted', accepted));
      await ctx.store.transaction((tx) => endSweep(tx, ctx, id, 'complete'));
      return id;
    };
    const first = await sweepOnce(['visitor_count'], ['visitor_count', 'q', hostile]);
    expect(await countTrackers(ctx.store, first)).toEqual({
      all: 3,
      leaks: 1,
      unsorted: 0,
      conflicts: 0,
      attempts: 0,
    });
    const filter = (over: object) => TrackerFilter.parse(over);
    const leaks = await listTrackers(ctx.store, site.host, filter({ show: 'leaks' }), undefined, 10);
    expect(leaks.rows).toMatchObject([
      { name: 'visitor_count', purpose: 'measurement', verdicts: { before: 'leak', accepted: 'allowed' } },
    ]);
    for (const sort of ['place', 'name', 'lifetime', 'pages', 'host', 'kind', 'purpose'] as const)
      for (const order of ['up', 'down'] as const) {
        const names: string[] = [];
        for await (const r of everyRow((after) =>
          listTrackers(ctx.store, site.host, filter({ sort, order }), after, 1),
        ))
          names.push(r.name);
        expect(names.toSorted(), `${sort} ${order}`).toEqual(['visitor_count', 'q', hostile].toSorted());
      }
    expect((await listTrackers(ctx.store, site.host, filter({ text: '%' }), undefined, 10)).rows).toEqual([]);

    const id = leaks.rows[0]!.id;
    await expect(
      decidePurpose(ctx, account.id, site.host, { ids: [id], purpose: 'essential', because: '' }),
    ).rejects.toMatchObject({ fields: [{ field: 'because' }] });
    const before = await decidePurpose(ctx, account.id, site.host, {
      ids: [id],
      purpose: 'essential',
      because: 'counts seats',
    });
    expect((await countTrackers(ctx.store, first)).leaks).toBe(0);
    expect(await openTracker(ctx.store, site.host, id)).toMatchObject({
      because: 'counts seats',
      decidedBy: 'Test Person',
    });
    await expect(restoreDecisions(ctx, account.id, site.host, before, null)).rejects.toMatchObject({
      status: 409,
    });
    await restoreDecisions(ctx, account.id, site.host, before, 'essential');
    expect((await countTrackers(ctx.store, first)).leaks).toBe(1);
    expect(
      (await listSites(ctx.store, {}, { text: site.host }, undefined, 50)).rows.find(
        (s) => s.host === site.host,
      ),
    ).toMatchObject({
      leaks: 1,
      trackers: 3,
      pages: 1,
    });
    expect(
      (await todayItems(ctx, OFFICER)).some((i) => i.kind === 'leak' && i.words.includes(site.host)),
    ).toBe(true);

    await sweepOnce([], ['visitor_count', 'new_one']);
    const found = await findSite(ctx.store, site.host);
    const since = await differenceSinceLast(ctx.store, found.id);
    expect(since?.difference).toMatchObject({
      leaksNoMore: [{ tracker: { name: 'visitor_count' }, visitors: ['before'] }],
      added: [{ name: 'new_one' }],
    });
    expect(isNoDifference(since!.difference)).toBe(false);
  });

  const endOne = async (
    host: string,
    account: { id: number },
    results: ReturnType<typeof crawled>[],
    pages = 1,
  ) => {
    const { sweep: id } = await startSweep(ctx, account.id, host, {});
    await beginSweep(ctx, id);
    for (const r of results)
      await storeCrawl(ctx, await findSweep(ctx.store, id), {
        ...r,
        pages: Array.from({ length: pages }, (_, i) => ({
          url: `https://a.example/${i}`,
          status: 200,
          note: '',
        })),
      });
    await ctx.store.transaction((tx) => endSweep(tx, ctx, id, 'complete'));
    return id;
  };

  it('is evidence: sealed as it ended, provable, and refused once a word of it is changed', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const picture = await readFile('demo/websites/pictures/brindlestrait.localhost-before.jpg');
    const id = await endOne(site.host, account, [
      { ...crawled('before', ['visitor_count']), picture },
      crawled('accepted', ['visitor_count', '=SUM(A1)<img src=x onerror=alert(1)>\u0000']),
    ]);
    await seal(ctx.store, ctx.now());
    const sealed = await readReport(ctx.store, id);
    expect(sealed).toMatchObject({ matches: true, proof: { entry: { action: 'sweep.end' } } });
    expect(sealed.report.visitors.map((v) => v.visitor)).toEqual(['before', 'accepted']);
    expect(sealed.report.counts).toMatchObject({ leaks: 1, trackers: 2 });
    expect((await readPicture(ctx.store, id, 'before')).equals(picture)).toBe(true);
    await expect(readPicture(ctx.store, id, 'gpc')).rejects.toMatchObject({ status: 404 });
    const pdf = await sweepPdf(sealed, new Map([['before', picture]]));
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(pdf.length).toBeGreaterThan(10_000);
    // A decision made later changes the desk, not the evidence.
    const [row] = (
      await listTrackers(ctx.store, site.host, TrackerFilter.parse({ show: 'leaks' }), undefined, 9)
    ).rows;
    await decidePurpose(ctx, account.id, site.host, {
      ids: [row!.id],
      purpose: 'essential',
      because: 'counts seats',
    });
    expect((await findSweep(ctx.store, id)).leaks).toBe(0);
    expect((await readReport(ctx.store, id)).report.counts.leaks).toBe(1);
    await ctx.store.run('UPDATE sweep_report SET body = ? WHERE sweep_id = ?', [
      gzipSync(JSON.stringify({ ...sealed.report, site: 'other.example' })),
      id,
    ]);
    expect((await readReport(ctx.store, id)).matches).toBe(false);
  });

  it('shares decisions between sites, and shows where they conflict', async () => {
    const account = await testAccount(ctx);
    const [a, b] = [await testSite(ctx), await testSite(ctx)];
    const results = [crawled('before', ['zq']), crawled('accepted', ['zq'])];
    await endOne(a.host, account, results);
    await endOne(b.host, account, results);
    const only = async (host: string) =>
      (await listTrackers(ctx.store, host, TrackerFilter.parse({}), undefined, 9)).rows[0]!;
    await decidePurpose(ctx, account.id, a.host, {
      ids: [(await only(a.host)).id],
      purpose: 'advertising',
      because: '',
    });
    expect(await only(b.host)).toMatchObject({
      purpose: 'advertising',
      decided: false,
      verdicts: { before: 'leak' },
    });
    await endOne(b.host, account, results);
    expect(await only(b.host)).toMatchObject({ purpose: 'advertising', conflict: false });
    await decidePurpose(ctx, account.id, b.host, {
      ids: [(await only(b.host)).id],
      purpose: 'measurement',
      because: '',
    });
    expect([(await only(a.host)).conflict, (await only(b.host)).conflict]).toEqual([true, true]);
    const opened = await openTracker(ctx.store, a.host, (await only(a.host)).id);
    expect(opened.elsewhere).toEqual([{ host: b.host, purpose: 'measurement', by: 'Test Person' }]);
    expect(opened.leakingSince).not.toBeNull();
  });

  it('brings to Today what it found for the first time, or far fewer pages than usual, until somebody has seen it', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    await endOne(site.host, account, [crawled('before', ['sid'])], 10);
    const changes = async () =>
      (await todayItems(ctx, OFFICER))
        .filter((i) => i.kind === 'change' && i.words.includes(site.host))
        .map((i) => i.words);
    expect(await changes()).toEqual([]);
    const fewer = await endOne(site.host, account, [crawled('before', ['sid'])], 3);
    expect(await changes()).toEqual([`The sweep of ${site.host}: found 3 pages where 10 are usual`]);
    expect((await findSweep(ctx.store, fewer)).usual_pages).toBe(10);
    await markSeen(ctx, account.id, site.host, fewer);
    await markSeen(ctx, account.id, site.host, fewer);
    expect(await changes()).toEqual([]);
    await endOne(site.host, account, [crawled('before', ['sid', unique('visitor_count_')])], 10);
    expect(await changes()).toEqual([`The sweep of ${site.host}: 1 new leak, 1 new tracker`]);
  });

  it('starts by itself when its time has come, once, and again at the next', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const clock = testContext();
    clock.at('2027-03-01T12:00:00Z');
    await edit(clock, account.id, site.host, {
      schedule: { every: 'week', weekday: 1, day: 1, at: '03:00', zone: 'Europe/Copenhagen' },
    });
    const next = async () => (await findSite(ctx.store, site.host)).next_sweep;
    expect(await next()).toBe('2027-03-08T02:00:00.000Z');
    await startDueSweeps(clock);
    expect(await listSweeps(ctx.store, site.id)).toEqual([]);
    clock.at('2027-03-29T06:00:00Z');
    await Promise.all([startDueSweeps(clock), startDueSweeps(clock), startDueSweeps(clock)]);
    expect(await listSweeps(ctx.store, site.id)).toMatchObject([{ origin: 'schedule', started_by: null }]);
    // Summer time has begun.
    expect(await next()).toBe('2027-04-05T01:00:00.000Z');
    await edit(clock, account.id, site.host, { schedule: null });
    expect(await next()).toBeNull();
    await clock.store.close();
  });

  it('is over when its work was called off before its turn', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const { sweep, job } = await startSweep(ctx, account.id, site.host, {
      visitors: ['gpc', 'before'],
      region: 'US-CA',
    });
    expect(await findSweep(ctx.store, sweep)).toMatchObject({ visitors: ['before', 'gpc'], region: 'US-CA' });
    await cancelJob(ctx, account, job);
    expect((await findSweep(ctx.store, sweep)).state).toBe('cancelled');
    await startSweep(ctx, account.id, site.host, {});
  });
});

describe('how a site is swept', () => {
  it('is kept with the site, and the ledger is told what changed', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    await edit(ctx, account.id, site.host, { scope: { maxPages: 40 } });
    await edit(ctx, account.id, site.host, { scope: { maxPages: 40 } });
    await edit(ctx, account.id, site.host, {
      scope: { exclude: ['/print/*'], robotsOverride: 'our own site' },
    });
    const { sweep } = await startSweep(ctx, account.id, site.host, {});
    expect((await findSweep(ctx.store, sweep)).scope).toMatchObject({
      maxPages: 40,
      maxMinutes: 30,
      exclude: ['/print/*'],
    });
    const entries = await listEntries(
      ctx.store,
      { object: 'site', objectId: String(site.id), action: 'site.edit' },
      undefined,
      9,
    );
    expect(entries.rows.map((e) => (e.detail as { words: string[] }).words)).toEqual([
      [
        'Sweep, no pages like: /print/* added',
        'Sweep, robots.txt not kept to, because: empty → our own site',
      ],
      ['Sweep, most pages: 250 → 40'],
    ]);
    await expect(edit(ctx, account.id, site.host, { chosen: ['nothing-known'] })).rejects.toMatchObject({
      fields: [{ field: 'chosen' }],
    });
  });

  it('keeps the secrets of its paths sealed, shows them to nobody, and keeps them when they come back hidden', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    const signIn = readClickPath('type "ines" in #user\ntype secret "four ports" in #word\nclick "Enter"');
    await edit(ctx, account.id, site.host, { paths: { signIn } });
    const raw = await ctx.store.one(z.object({ paths: z.unknown() }), 'SELECT paths FROM site WHERE id = ?', [
      site.id,
    ]);
    expect(JSON.stringify(raw)).not.toContain('four ports');
    const { paths } = await siteDetail(ctx, site.host);
    expect(paths.signIn[1]).toMatchObject({ secret: true, text: '…' });
    await edit(ctx, account.id, site.host, {
      paths: { signIn: [...paths.signIn.slice(1), ...signIn.slice(0, 1)] },
    });
    const kept = (await findSite(ctx.store, site.host)).paths;
    expect(openPaths(ctx.settings.SECRET_KEY, kept).signIn[0]).toMatchObject({ text: 'four ports' });
    expect(() => openPaths('cd'.repeat(32), kept)).toThrow(/SECRET_KEY/);
    const told = await listEntries(ctx.store, { object: 'site', objectId: String(site.id) }, undefined, 9);
    expect(JSON.stringify(told.rows)).not.toMatch(/four ports|ines/);
  });
});

describe('the library of known trackers', () => {
  it('is added to, changed, taken in from a file, and proposes at the next sweep', async () => {
    const account = await testAccount(ctx);
    const name = unique('known');
    const entry = KnownTracker.parse({ name, purpose: 'preferences', provider: 'Quay' });
    const { id } = await addKnown(ctx, account.id, entry);
    await expect(addKnown(ctx, account.id, entry)).rejects.toMatchObject({
      status: 409,
      fields: [{ field: 'name' }],
    });
    await editKnown(ctx, account.id, id, 1, { ...entry, purpose: 'advertising' });
    await expect(editKnown(ctx, account.id, id, 1, entry)).rejects.toMatchObject({ status: 409 });
    await expect(
      addKnown(ctx, account.id, { ...entry, name: `${name}2`, purpose: 'none' }),
    ).rejects.toMatchObject({
      fields: [{ field: 'purpose' }],
    });
    const more = Array.from({ length: 30 }, (_, i) =>
      KnownTracker.parse({ name: `${name}-${i}`, purpose: 'measurement' }),
    );
    expect(await importKnown(ctx, account.id, [...more, entry])).toEqual({ taken: 30, replaced: 1 });
    await expect(
      importKnown(ctx, account.id, [
        { ...entry, name: `${name}x` },
        { ...entry, purpose: 'none' },
      ]),
    ).rejects.toMatchObject({
      fields: [{ field: 'entry 2, purpose' }],
    });
    const names: string[] = [];
    for await (const k of everyRow((after) => listKnown(ctx.store, { text: name }, after, 7)))
      names.push(k.name);
    expect(new Set(names).size).toBe(31);
    expect((await readLibrary(ctx.store)).find({ kind: 'cookie', name, host: 'a.example' })?.purpose).toBe(
      'preferences',
    );
    await removeKnown(ctx, account.id, id);
    await expect(findKnown(ctx.store, id)).rejects.toMatchObject({ status: 404 });
  });
});

it('takes a site in once, whoever is first', async () => {
  const site = await testSite(ctx);
  await expect(
    ctx.store.transaction((tx) =>
      insertSite(tx, ctx.now(), { host: site.host, startUrl: 'https://x/', name: 'x', by: null }),
    ),
  ).rejects.toMatchObject({ status: 409, fields: [{ field: 'address' }] });
});
