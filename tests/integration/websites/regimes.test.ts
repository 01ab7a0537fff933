import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { firstNotice } from '../../../src/core/websites/notice/notice.ts';
import { regimeOf, type RegimeRow } from '../../../src/core/websites/notice/regime.ts';
import {
  listRegimes,
  readRegime,
  sayRegime,
  takeBackRegime,
} from '../../../src/server/websites/notices/regimes.ts';
import { findSweep, startSweep, termsOf } from '../../../src/server/websites/sweeps/sweeps.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { moveNotice } from '../notice.ts';
import { RunningVisitor } from './running-visitor.ts';

const plain = testContext();
const ctx = { ...plain, settings: { ...plain.settings, TRUST_PROXY: 'yes' as const } };
afterAll(() => ctx.store.close());

const said = (code: string, over: Partial<RegimeRow> = {}): RegimeRow => ({
  ...{ code, regime: 'on unless refused', law: 'an act', starts: {}, signal: true, months: null },
  ...over,
});

describe('regimes', () => {
  it('are said, changed and taken back, by who saw what is there', async () => {
    const { id } = await testAccount(ctx);
    await sayRegime(ctx, id, said('JP', { starts: { advertising: 'off' } }), 0);
    await expect(sayRegime(ctx, id, said('JP'), 0)).rejects.toMatchObject({ status: 409 });
    await sayRegime(ctx, id, said('JP', { regime: 'inform only' }), 1);
    const row = (await listRegimes(ctx.store)).find((r) => r.code === 'JP');
    expect(row).toMatchObject({ regime: 'inform only', revision: 2, added: true, editedBy: 'Test Person' });
    expect((await readRegime(ctx.store, 'JP')).law).toBe('an act');
    await expect(sayRegime(ctx, id, said('JP', { starts: { nothing: 'off' } }), 2)).rejects.toMatchObject({
      fields: [{ field: 'starts' }],
    });
    await expect(takeBackRegime(ctx, id, 'JP', 1)).rejects.toMatchObject({ status: 409 });
    await takeBackRegime(ctx, id, 'JP', 2);
    expect(await readRegime(ctx.store, 'JP')).toEqual(regimeOf('JP'));
    expect((await listRegimes(ctx.store)).some((r) => r.code === 'JP')).toBe(false);
  });

  it('judge a sweep as they stood when it was asked for', async () => {
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    await sayRegime(ctx, account.id, said('NZ', { starts: { measurement: 'off' } }), 0);
    const { sweep } = await startSweep(ctx, account.id, site.host, { region: 'NZ' });
    await takeBackRegime(ctx, account.id, 'NZ', 1);
    expect(termsOf(await findSweep(ctx.store, sweep)).regime).toEqual(
      said('NZ', { starts: { measurement: 'off' } }),
    );
  });
});

describe('what a visitor’s browser gets', () => {
  let visitor: RunningVisitor;
  let key = '';
  beforeAll(async () => {
    visitor = await RunningVisitor.start(ctx);
    const account = await testAccount(ctx);
    const site = await testSite(ctx);
    key = site.siteKey;
    await moveNotice(ctx, account.id, site.host, 'rehearse', 1);
    await moveNotice(ctx, account.id, site.host, 'put in force', 1);
  });
  afterAll(() => visitor.stop());

  it.each([
    ['DK', { starts: [], signal: [], asks: true }],
    ['CA-QC', { starts: [], signal: [], asks: true }],
    [
      'US-CA',
      { starts: ['preferences', 'measurement', 'advertising'], signal: ['advertising'], asks: false },
    ],
    ['US-VA', { starts: ['preferences', 'measurement', 'advertising'], signal: [], asks: false }],
    ['AU', { starts: ['preferences', 'measurement', 'advertising'], signal: [], asks: false }],
    // Not said by a proxy in a way that can be read: the safe default.
    ['somewhere', { starts: [], signal: [], asks: true }],
  ])('in %s starts and asks as the law there has it', async (region, expected) => {
    const headers = { [ctx.settings.REGION_HEADER]: region };
    const answer = await fetch(`${visitor.origin}/${key}.js`, { headers });
    const settings = /YARE_SETTINGS=(\{.*?\}),YARE_HOLDS/.exec(await answer.text())?.[1] ?? 'null';
    expect(JSON.parse(settings)).toMatchObject({ ...expected, months: firstNotice().askAgainMonths });
    // What a cache keeps for one region is not for another.
    expect(answer.headers.get('cache-control')).toBe('private, max-age=30');
    expect(answer.headers.get('vary')).toContain(ctx.settings.REGION_HEADER);
  });
});
