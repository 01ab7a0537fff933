import { afterAll, describe, expect, it } from 'vitest';
import { firstNotice, type NoticeContent } from '../../src/core/websites/notice.ts';
import type { Sighting } from '../../src/core/websites/tracker.ts';
import { isNoDifference } from '../../src/core/websites/sweep-difference.ts';
import { listEntries, seal } from '../../src/server/evidence/ledger.ts';
import {
  consentRates,
  countConsents,
  listConsents,
  openConsent,
  recordConsent,
} from '../../src/server/websites/consents.ts';
import {
  findNotice,
  listVersions,
  moveNotice,
  saveDraft,
  servedNotice,
  takeBack,
} from '../../src/server/websites/notices.ts';
import { editSite, findSite, insertSite, listSites } from '../../src/server/websites/sites.ts';
import {
  beginSweep,
  differenceSinceLast,
  endSweep,
  findSweep,
  startSweep,
  storeCrawl,
  visitorsDone,
} from '../../src/server/websites/sweeps.ts';
import {
  countTrackers,
  decidePurpose,
  listTrackers,
  openTracker,
  restoreDecisions,
  TrackerFilter,
} from '../../src/server/websites/trackers.ts';
import { everyRow } from '../../src/server/store/page.ts';
import { todayItems } from '../../src/server/today/items.ts';
import { testAccount, testContext, testSite } from './context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
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
    expect((await listVersions(ctx.store, site.host))[0]?.changes).toEqual([
      'Ask again after: 6 months → 3 months',
    ]);
    await takeBack(ctx, account.id, site.host, 1);
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
    const choose = (allowed: string[], region = 'DK', visitorKey = KEY) =>
      recordConsent(ctx, {
        notice,
        region,
        address: '198.18.7.99',
        sent: { version: 1, allowed, language: 'da', visitorKey },
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
    const opened = await openConsent(ctx.store, other.id);
    expect(opened).toMatchObject({ matches: true, record: { address: '198.18.7.0', region: 'US-CA' } });
    await ctx.store.run("UPDATE consent_record SET region = 'DE' WHERE id = UNHEX(REPLACE(?, '-', ''))", [
      other.id,
    ]);
    expect((await openConsent(ctx.store, other.id)).matches).toBe(false);

    expect(await countConsents(ctx.store, site.host, { choice: 'refused all' })).toBe(1);
    const first = await listConsents(ctx.store, site.host, {}, undefined, 3);
    const second = await listConsents(ctx.store, site.host, {}, first.next!, 3);
    expect(new Set([...first.rows, ...second.rows].map((r) => r.id)).size).toBe(4);
    // The visitor who changed their mind counts once, as they ended.
    expect(await consentRates(ctx, site.host, 30)).toMatchObject({
      choices: 2,
      allowedSomething: { share: 0.5 },
    });
    await expect(
      recordConsent(ctx, {
        notice,
        region: 'DK',
        address: '',
        sent: { version: 7, allowed: [], language: 'da', visitorKey: KEY },
      }),
    ).rejects.toMatchObject({ fields: [{ field: 'version' }] });
    await expect(openConsent(ctx.store, 'not-an-id')).rejects.toMatchObject({ status: 404 });
  });
});

describe('a sweep', () => {
  const sighting = (visitor: Sighting['visitor'], over: Partial<Sighting> = {}): Sighting => ({
    visitor,
    pages: 2,
    firstPage: 'https://a.example/',
    party: 'third',
    lifetime: 86400 * 390,
    setBy: 'script',
    valueLength: 22,
    valueBits: 80,
    cause: [{ what: 'page', url: 'https://a.example/', line: 4 }],
    resource: '',
    ...over,
  });
  const crawled = (visitor: Sighting['visitor'], names: string[]) => ({
    visitor,
    notes: [],
    operated: null,
    couldChoose: true,
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
      await endSweep(ctx, id, 'complete');
      return id;
    };
    const first = await sweepOnce(['visitor_count'], ['visitor_count', 'q', hostile]);
    expect(await countTrackers(ctx.store, first)).toEqual({ all: 3, leaks: 1, unsorted: 0 });
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
    await restoreDecisions(ctx, account.id, site.host, before);
    expect((await countTrackers(ctx.store, first)).leaks).toBe(1);
    expect((await listSites(ctx.store)).find((s) => s.host === site.host)).toMatchObject({
      leaks: 1,
      trackers: 3,
      pages: 1,
    });
    expect((await todayItems(ctx.store)).some((i) => i.kind === 'leak' && i.words.includes(site.host))).toBe(
      true,
    );

    await sweepOnce([], ['visitor_count', 'new_one']);
    const found = await findSite(ctx.store, site.host);
    const since = await differenceSinceLast(ctx.store, found.id);
    expect(since?.difference).toMatchObject({
      leaksNoMore: [{ tracker: { name: 'visitor_count' }, visitors: ['before'] }],
      added: [{ name: 'new_one' }],
    });
    expect(isNoDifference(since!.difference)).toBe(false);
  });
});

it('keeps the limits of a site’s sweeps, and tells the ledger what changed', async () => {
  const account = await testAccount(ctx);
  const site = await testSite(ctx);
  await editSite(ctx, account.id, site.host, { maxPages: 40 });
  await editSite(ctx, account.id, site.host, { maxPages: 40 });
  const { sweep } = await startSweep(ctx, account.id, site.host, {});
  expect(await findSweep(ctx.store, sweep)).toMatchObject({ max_pages: 40, max_seconds: 1800 });
  const entries = await listEntries(
    ctx.store,
    { object: 'site', objectId: String(site.id), action: 'site.edit' },
    undefined,
    9,
  );
  expect(entries.rows.map((e) => e.detail)).toMatchObject([{ words: ['Most pages of a sweep: 250 → 40'] }]);
});

it('takes a site in once, whoever is first', async () => {
  const site = await testSite(ctx);
  await expect(
    ctx.store.transaction((tx) =>
      insertSite(tx, ctx.now(), { host: site.host, startUrl: 'https://x/', name: 'x', by: null }),
    ),
  ).rejects.toMatchObject({ status: 409, fields: [{ field: 'address' }] });
});
