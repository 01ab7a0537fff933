import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ChoiceSent } from '../../../src/core/websites/notice/consent.ts';
import { recordConsent } from '../../../src/server/websites/consents/consent-intake.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import {
  endOldConsents,
  eraseVisitor,
  readLogMonths,
  sayLogMonths,
} from '../../../src/server/websites/consents/consent-erasure.ts';
import { consentLines } from '../../../src/server/websites/consents/consent-lines.ts';
import { proveConsent } from '../../../src/server/websites/consents/consent-proof.ts';
import { erasedAmong } from '../../../src/server/websites/consents/erased.ts';
import {
  consentFacets,
  countConsents,
  listConsents,
} from '../../../src/server/websites/consents/consents.ts';
import { consentRatesBy } from '../../../src/server/websites/consents/rates.ts';
import { purposeUses } from '../../../src/server/websites/notices/purpose-uses.ts';
import { listPurposes, sayPurposes } from '../../../src/server/websites/notices/purposes.ts';
import { findSite, type Site } from '../../../src/server/websites/sites/sites.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { beginTrial, endTrial, viewTrial } from '../../../src/server/websites/notices/notice-trials.ts';
import { findNotice } from '../../../src/server/websites/notices/notices.ts';
import { moveNotice, saveDraft } from '../notice.ts';
import { RunningVisitor } from './running-visitor.ts';

const ctx = testContext();
let visitor: RunningVisitor;
let account = 0;
beforeAll(async () => {
  visitor = await RunningVisitor.start(ctx);
  account = (await testAccount(ctx)).id;
});
afterAll(async () => {
  visitor.stop();
  await ctx.store.close();
});

async function siteInForce(): Promise<Site> {
  const { host } = await testSite(ctx);
  await moveNotice(ctx, account, host, 'rehearse', 1);
  await moveNotice(ctx, account, host, 'put in force', 1);
  // The service knows a new site within a quarter of a second.
  await new Promise((done) => setTimeout(done, 300));
  return findSite(ctx.store, host);
}
const VISITORS = ['aa', 'bb'].map((k) => k.repeat(16)) as [string, string];

async function choose(site: Site, over: Parameters<RunningVisitor['choice']>[1]) {
  const at = { siteKey: site.site_key, host: site.host };
  const answer = await visitor.send(at, visitor.choice(site.site_key, over));
  expect(answer.status, await answer.clone().text()).toBe(201);
  return visitor.receiptOf(answer);
}

describe('the records of a visitor', () => {
  it('prove one choice with what was shown, and all that the visitor chose', async () => {
    const site = await siteInForce();
    const first = await choose(site, { visitorKey: VISITORS[0], allowed: ['measurement'], language: 'da' });
    await choose(site, { visitorKey: VISITORS[0], allowed: [], language: 'da' });
    await choose(site, { visitorKey: VISITORS[1] });
    await seal(ctx.store, ctx.now());
    const proved = await proveConsent(ctx, site, first.id);
    expect(proved.matches).toBe(true);
    expect(proved.choices.map((c) => c.act)).toEqual(['withdrawn', 'first']);
    expect(proved.notice.texts['da']?.title).toBe('Dit valg på dette websted');
    expect(proved.fields.pii_processing.purposes.find((p) => p.consent_given)?.purpose).toBe('Måling');
    let text = '';
    for await (const lines of consentLines(ctx, site, {})) text += lines;
    const all = text
      .trimEnd()
      .split('\n')
      .map((l) => JSON.parse(l) as { event: { event_state: string } });
    expect(all.map((l) => l.event.event_state)).toEqual(['given', 'withdrawn', 'given']);
  });

  it('are found by days with every other filter, as by looking at each', async () => {
    const site = await siteInForce();
    const days = ['2001-03-01', '2001-03-02', '2001-03-09'];
    for (const [n, day] of days.entries())
      for (const region of ['DK', 'SE'])
        for (const allowed of [[], ['measurement']])
          await recordConsent(
            { ...ctx, now: () => new Date(`${day}T23:59:59.500Z`) },
            {
              ...{ siteId: site.id, host: site.host, notice: undefined, region, address: '198.18.7.99' },
              sent: ChoiceSent.parse(
                visitor.choice(site.site_key, {
                  ...{ allowed, visitorKey: `${n}`.repeat(32), version: 1 },
                  ...(region === 'DK' ? { device: 'phone', page: 'cars', language: 'da' } : {}),
                }),
              ),
            },
          );
    const all = (await listConsents(ctx.store, site.host, {}, undefined, 100)).rows;
    expect(all).toHaveLength(12);
    for (const region of [undefined, 'DK'])
      for (const choice of [undefined, 'refused all'])
        for (const version of [undefined, '1', '7'])
          for (const visitorKey of [undefined, '1'.repeat(32)]) {
            const wish = {
              from: '2001-03-01',
              to: '2001-03-02',
              region,
              choice,
              version,
              visitor: visitorKey,
            };
            const expected = all.filter(
              (r) =>
                r.at < '2001-03-03' &&
                (region === undefined || r.region === region) &&
                (choice === undefined || r.choice === choice) &&
                (version === undefined || r.version === Number(version)) &&
                (visitorKey === undefined || r.visitorKey === visitorKey),
            );
            const found = await listConsents(ctx.store, site.host, wish, undefined, 100);
            expect(found.rows, JSON.stringify(wish)).toEqual(expected);
            expect(await countConsents(ctx.store, site.host, wish)).toBe(expected.length);
          }
    for (const days of [{}, { from: '2001-03-01', to: '2001-03-02' }])
      for (const device of [undefined, 'phone', 'not-told'])
        for (const page of [undefined, '/cars', '/', '/none'])
          for (const language of [undefined, 'da']) {
            const expected = all.filter(
              (r) =>
                ('from' in days ? r.at < '2001-03-03' : true) &&
                (device === undefined || r.device === (device === 'phone' ? 'phone' : '')) &&
                (page === undefined || `/${r.page}` === page) &&
                (language === undefined || r.language === language),
            );
            const wish = { ...days, device, page, language };
            const found = await listConsents(ctx.store, site.host, wish, undefined, 100);
            expect(found.rows, JSON.stringify(wish)).toEqual(expected);
          }
    const facets = await consentFacets(ctx.store, site.host, {
      from: '2001-03-01',
      to: '2001-03-02',
      region: 'DK',
    });
    expect(facets).toMatchObject({
      region: { DK: 4, SE: 4 },
      choice: { 'refused all': 2 },
      version: { 1: 4 },
      device: { phone: 4 },
      page: { '/cars': 4 },
    });
    expect(await consentFacets(ctx.store, site.host, {})).toMatchObject({
      device: { phone: 6, 'not-told': 6 },
      page: { '/cars': 6, '/': 6 },
    });
  });

  it('are erased on request; the ledger still adds up, and tells a removal that nobody asked for', async () => {
    const site = await siteInForce();
    const gone = await choose(site, { visitorKey: VISITORS[0] });
    const stays = await choose(site, { visitorKey: VISITORS[1] });
    await expect(eraseVisitor(ctx, account, site.host, 'cc'.repeat(16), 'x')).rejects.toMatchObject({
      fields: [{ field: 'visitorKey' }],
    });
    expect(await eraseVisitor(ctx, account, site.host, VISITORS[0], 'asked by letter')).toEqual({
      erased: 1,
    });
    await expect(proveConsent(ctx, site, gone.id)).rejects.toMatchObject({ status: 404 });
    // The ledger itself tells what is gone, and what was taken away by somebody else is not among it.
    expect([...(await erasedAmong(ctx.store, [gone.id, stays.id]))]).toEqual([gone.id]);
  }, 60_000);

  it('leave once they are older than the log keeps them, never sooner than an answer holds', async () => {
    const site = await siteInForce();
    // Long ago, so that nothing else of these tests is older than what leaves.
    const at = (iso: string) => ({ ...ctx, now: () => new Date(iso) });
    const old = await recordConsent(at('2001-01-15T10:00:00Z'), {
      ...{ siteId: site.id, host: site.host, notice: undefined, region: 'DK', address: '198.18.7.99' },
      sent: ChoiceSent.parse(visitor.choice(site.site_key, { visitorKey: VISITORS[0] })),
    });
    await expect(sayLogMonths(ctx, account, 2, null)).rejects.toMatchObject({
      fields: [{ field: 'months' }],
    });
    await sayLogMonths(ctx, account, 24, null);
    await expect(sayLogMonths(ctx, account, 36, null)).rejects.toMatchObject({ status: 409 });
    await endOldConsents(at('2003-01-10T00:00:00Z'));
    expect((await proveConsent(ctx, site, old.id)).matches).toBeDefined();
    await endOldConsents(at('2003-01-20T00:00:00Z'));
    await expect(proveConsent(ctx, site, old.id)).rejects.toMatchObject({ status: 404 });
    expect([...(await erasedAmong(ctx.store, [old.id]))]).toEqual([old.id]);
    await sayLogMonths(ctx, account, null, 24);
    expect(await readLogMonths(ctx.store)).toBeNull();
  }, 60_000);
});

describe('rates', () => {
  it('count each visitor once by the latest answer, tell times shown, and withhold a small group', async () => {
    const site = await siteInForce();
    const key = (n: number) => n.toString(16).padStart(32, '0');
    for (let n = 0; n < 14; n++)
      await choose(site, {
        visitorKey: key(n),
        allowed: n < 5 ? [] : ['measurement'],
        device: n < 12 ? 'phone' : 'desktop',
      });
    await choose(site, { visitorKey: key(13), allowed: [], device: 'desktop' });
    const shown = { version: 1, language: 'en', device: 'phone', page: 'offers' };
    const tell = (body: unknown) =>
      fetch(`${visitor.origin}/${site.site_key}/shown`, { method: 'POST', body: JSON.stringify(body) });
    for (let n = 0; n < 3; n++) expect((await tell(shown)).status).toBe(204);
    expect((await tell({ ...shown, page: 'a/../b?' })).status).toBe(400);
    await tell({ ...shown, version: 7 });
    await visitor.service.shown.flush();
    const { all, rows } = await consentRatesBy(ctx, site.host, { by: 'device', days: 30 });
    expect(all).toMatchObject({ answered: 14, shown: 3 });
    expect(all.shares?.refused.share).toBeCloseTo(6 / 14, 6);
    expect(rows).toMatchObject([
      { key: 'phone', answered: 12, shown: 3, shares: { purposes: { measurement: { share: 7 / 12 } } } },
      { key: 'desktop', answered: 2, shown: null, shares: null },
    ]);
    const weeks = await consentRatesBy(ctx, site.host, { by: 'week', days: 30 });
    expect(weeks.rows).toHaveLength(1);
    expect(weeks.rows[0]?.key).toMatch(/^\d{4}-\d\d-\d\d$/);
  }, 60_000);
});

describe('purposes', () => {
  it('are renamed, added, ordered, and taken out only where nothing points at them', async () => {
    const site = await siteInForce();
    await choose(site, { visitorKey: VISITORS[0] });
    const first = await listPurposes(ctx.store);
    const uses = await purposeUses(ctx.store);
    expect(uses['measurement']?.records).toBeGreaterThan(0);
    expect(uses['measurement']?.notices).toContain(site.host);
    const added = { code: 'research', name: 'Research', essential: false, shares: false };
    const next = [
      first[0]!,
      added,
      ...first.slice(1).map((p) => (p.code === 'measurement' ? { ...p, name: 'Counting' } : p)),
    ];
    const say = (list: typeof first, saw: typeof first) => sayPurposes(ctx, account, list, saw, purposeUses);
    await say(next, first);
    expect((await listPurposes(ctx.store)).map((p) => p.name)).toEqual([
      ...['Essential', 'Research', 'Preferences', 'Counting', 'Advertising'],
    ]);
    await expect(say(first, first)).rejects.toMatchObject({ status: 409 });
    await expect(
      say(
        next.filter((p) => p.code !== 'measurement'),
        next,
      ),
    ).rejects.toMatchObject({
      fields: [{ field: 'purposes' }],
    });
    await say(first, next);
    expect(await listPurposes(ctx.store)).toEqual(first);
  });
});

describe('two versions on trial', () => {
  it('are served by the visitor’s key, counted apart, and ended', async () => {
    const site = await siteInForce();
    await expect(beginTrial(ctx, account, site.host, 50)).rejects.toMatchObject({
      fields: [{ field: 'version' }],
    });
    const { content, revision } = await findNotice(ctx.store, site.host);
    const saved = await saveDraft(ctx, account, site.host, revision, content, {
      ...content,
      layout: 'corner card',
    });
    await moveNotice(ctx, account, site.host, 'rehearse', saved.revision);
    await beginTrial(ctx, account, site.host, 50);
    await new Promise((done) => setTimeout(done, 2100));
    const body = await (await fetch(`${visitor.origin}/${site.site_key}.js`)).text();
    const settings = JSON.parse(/YARE_SETTINGS=(\{.*?\}),YARE_HOLDS/.exec(body)?.[1] ?? 'null') as {
      trial: { share: number; version: number; looks: { layout: string } };
    };
    expect(settings.trial).toMatchObject({ share: 50, version: 2, looks: { layout: 'corner card' } });
    const key = (n: number) => n.toString(16).padStart(32, '0');
    for (let n = 0; n < 24; n++)
      await choose(site, {
        visitorKey: key(n),
        version: n % 2 ? 2 : 1,
        allowed: n % 4 === 0 ? [] : ['measurement'],
      });
    const { rates, verdict } = await viewTrial(ctx, site.host);
    expect(rates.map((r) => [r.version, r.rate?.answered, r.rate?.shares?.refused.share])).toEqual([
      [1, 12, 0.5],
      [2, 12, 0],
    ]);
    expect(verdict).toMatchObject({ better: 2, warning: '' });
    await endTrial(ctx, account, site.host);
    await expect(endTrial(ctx, account, site.host)).rejects.toMatchObject({ status: 404 });
    // Once the other version is in force there is nothing left to try.
    await beginTrial(ctx, account, site.host, 10);
    const { revision: now } = await findNotice(ctx.store, site.host);
    await moveNotice(ctx, account, site.host, 'put in force', now);
    expect((await viewTrial(ctx, site.host)).trial).toBeNull();
  }, 30_000);
});
