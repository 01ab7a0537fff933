import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { freshDatabase } from '../../fresh-database.ts';
import { DEMO_PASSWORD } from '../../../demo/accounts/area.ts';
import { emailOf, PEOPLE } from '../../../demo/accounts/people.ts';
import { isEmpty, loadDemo } from '../../../demo/load.ts';
import { Random } from '../../../demo/random.ts';
import { OFFICER, signIn } from '../context.ts';
import { tempFolder } from '../holdings/estate.ts';
import { BUILT_IN_ROLES } from '../../../src/core/accounts/roles/built-in-role.ts';
import { fairness } from '../../../src/core/websites/notice/fairness.ts';
import type { Context } from '../../../src/server/context.ts';
import { ledgerState } from '../../../src/server/evidence/ledger.ts';
import { verifyWhole } from '../../../src/server/evidence/verify.ts';
import { readSettings } from '../../../src/server/settings.ts';
import { Count } from '../../../src/server/store/columns.ts';
import type { Store } from '../../../src/server/store/pool.ts';
import { valueOfRows } from '../../../src/core/figures/figure-row.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { CONSENT_WITNESS, openConsent } from '../../../src/server/websites/consents/consent-record.ts';
import { consentRates } from '../../../src/server/websites/consents/consent-rates.ts';
import { listConsents } from '../../../src/server/websites/consents/consents.ts';
import { connectSource, findSource, listSources } from '../../../src/server/holdings/sources/sources.ts';
import { findNotice } from '../../../src/server/websites/notices/notices.ts';
import { listPurposes } from '../../../src/server/websites/notices/purposes.ts';
import { findSite, listSites } from '../../../src/server/websites/sites/sites.ts';
import {
  differenceSinceLast,
  readReport,
  REPORT_WITNESS,
} from '../../../src/server/websites/sweeps/sweep-end.ts';
import { latestSweeps } from '../../../src/server/websites/sweeps/sweeps.ts';

const BOOKING = 'brindlestrait.localhost:8732';
let store: Store;
let ctx: Context;
const told: string[] = [];
const folder = tempFolder();

beforeAll(async () => {
  const fresh = await freshDatabase('yare_demo');
  ({ store } = fresh);
  await store.run('DROP DATABASE IF EXISTS brindle_booking');
  ctx = {
    store,
    settings: readSettings({ SECRET_KEY: 'ab'.repeat(32), DATABASE_URL: fresh.url, DATA_DIR: folder.path }),
    now: () => new Date(),
  };
  expect(await isEmpty(store)).toBe(true);
  await loadDemo(ctx, (words) => told.push(words));
}, 900_000);
afterAll(async () => {
  await store.close();
  folder.remove();
});

const count = async (table: string, where = '1 = 1') =>
  (await store.one(z.object({ n: Count }), `SELECT COUNT(*) AS n FROM ${table} WHERE ${where}`))?.n ?? 0;

describe('the demo', () => {
  it('has figures whose rows make their number, each of them', async () => {
    const { AREAS } = await import('../../../src/server/areas.ts');
    const figures = AREAS.flatMap((a) => a.figures ?? []);
    expect(figures.length).toBeGreaterThan(90);
    let withRows = 0;
    for (const figure of figures) {
      const [value, rows] = await store.transaction(async (tx) => [
        (await figure.value(tx, ctx.now(), ctx)).value,
        await figure.rows(tx, ctx.now(), ctx),
      ]);
      const made = valueOfRows(figure, rows);
      if (value === null) expect(rows, figure.id).toEqual([]);
      else expect(made ?? Number.NaN, figure.id).toBeCloseTo(value, 9);
      expect(new Set(rows.map((r) => r.key)).size, figure.id).toBe(rows.length);
      for (const r of rows)
        expect(r.link === '' || r.link.startsWith('/'), `${figure.id} ${r.link}`).toBe(true);
      for (const part of rows.flatMap((r) => Object.keys(r.parts)))
        expect(figure.parts ?? [], figure.id).toContain(part);
      if (rows.length > 0) withRows += 1;
    }
    expect(withRows).toBeGreaterThan(30);
  }, 120_000);

  it('has eight people, every role among them, who can sign in', async () => {
    expect(PEOPLE).toHaveLength(8);
    expect(new Set(PEOPLE.map((p) => p.role))).toEqual(new Set(BUILT_IN_ROLES));
    const { account } = await signIn(ctx, {
      email: emailOf('Emil Varga'),
      password: DEMO_PASSWORD,
      address: '198.18.0.1',
      userAgent: '',
    });
    expect(account).toMatchObject({ roles: [{ id: 'auditor' }], name: 'Emil Varga' });
  });

  it('is big enough to be real, over ninety days, and nothing of it lies in the future', async () => {
    expect(await count('consent_record')).toBeGreaterThan(30_000);
    expect(await count('consent_record', 'at > UTC_TIMESTAMP(3)')).toBe(0);
    expect(await count('consent_record', 'at < UTC_TIMESTAMP(3) - INTERVAL 91 DAY')).toBe(0);
    expect(
      await count('consent_record', "address <> '' AND address NOT LIKE '%.0' AND address NOT LIKE '%::'"),
    ).toBe(0);
    expect(told.join('\n')).toMatch(/33,560 consent records/);
  });

  it('has a whole ledger, in which every consent record is proved', async () => {
    const { entries, unsealed } = await ledgerState(store);
    const witnesses = [CONSENT_WITNESS, REPORT_WITNESS];
    const verified = await verifyWhole(store, ctx.now(), { witnesses });
    expect(verified).toMatchObject({ ok: true, entries: entries - unsealed });
    expect(verified.records).toBeGreaterThan(30_000);
    const { id: booking } = await findSite(store, BOOKING);
    const page = await listConsents(store, BOOKING, {}, undefined, 500);
    for (const r of [page.rows[0]!, page.rows[250]!, page.rows[499]!])
      expect(await openConsent(store, booking, r.id)).toMatchObject({ matches: true });
  });

  it('tells its moments: a leak, a chat nobody sorted, what came and went', async () => {
    const { rows: sites } = await listSites(store, {}, {}, undefined, 50);
    expect(sites.map((s) => [s.stage.state, s.leaks > 0, s.sweptAt === null])).toEqual([
      ['in force', true, false],
      ['in force', false, false],
      ['rehearsing', false, false],
      ['draft', false, true],
    ]);
    const { difference } = (await differenceSinceLast(store, (await findSite(store, BOOKING)).id))!;
    expect(difference.added.map((t) => t.name)).toContain('chat_seen');
    expect(difference.gone.map((t) => t.name)).toEqual(['old_banner']);
    expect(difference.lives).toMatchObject([
      { tracker: { name: 'wave_uid' }, before: '30 days', after: '13 months' },
    ]);
    const kinds = [...new Set((await todayItems(ctx, OFFICER)).map((i) => i.kind))];
    // Which requests run out just now hangs on weekends and holidays.
    expect(kinds.filter((k) => !k.startsWith('request'))).toEqual([
      'leak',
      'incident open',
      'change',
      'alert raised',
      'asked by a person',
      'unsorted',
    ]);
    expect(kinds).toContain('request late');
  });

  it('has lookouts that raised, in all states, and what rules kept and people asked', async () => {
    expect(await count('rule', "kind = 'lookout'")).toBe(12);
    expect(await count('alert', "state IN ('new', 'looked into')")).toBe(4);
    expect(await count('alert', "state = 'solved'")).toBeGreaterThan(3);
    expect(await count('alert', "state = 'set aside'")).toBeGreaterThan(1);
    // Every act of an alert is one that is on record.
    expect(
      await count(
        'alert_event',
        'NOT EXISTS (SELECT 1 FROM activity_event e WHERE e.at = alert_event.at AND e.id = alert_event.id)',
      ),
    ).toBe(0);
    expect(await count('kept_evidence', "state = 'kept' AND body IS NOT NULL")).toBe(12);
    expect(await count('handling_question', 'allowed IS NULL')).toBe(2);
    expect(await count('device', "name LIKE 'LT-% MS Corrie'")).toBe(1);
  });

  it('has an estate of real files behind its sources, surveyed as soon as there is a worker', async () => {
    expect(await count('data_system')).toBe(14);
    expect(await count('source')).toBe(25);
    expect(await count('listing', 'next_run <= UTC_TIMESTAMP(3)')).toBe(1);
    expect(await count('found_store')).toBe(403);
    expect(await count('activity')).toBe(23);
    expect(await count('survey', 'next_run <= UTC_TIMESTAMP(3)')).toBe(6);
    const kinds = new Set((await listSources(ctx, OFFICER, {}, undefined, 50)).rows.map((s) => s.kind));
    expect(kinds).toEqual(new Set(['folder', 'mail folder', 'mariadb', 'object store']));
    for (const s of (await listSources(ctx, OFFICER, {}, undefined, 50)).rows) {
      const source = await findSource(store, s.id);
      if (source.address.kind === 'object store') continue;
      const allowed = {
        ...ctx,
        settings: { ...ctx.settings, ALLOWED_PRIVATE: new URL(ctx.settings.DATABASE_URL ?? '').host },
      };
      const connector = await connectSource(allowed, source);
      const { places, items } = await connector.list('');
      await connector.close();
      expect(places.length + items.length, s.name).toBeGreaterThan(0);
    }
  });

  it('has sweeps as evidence: sealed reports with pictures, each proved', async () => {
    const [sweep] = await latestSweeps(store, (await findSite(store, BOOKING)).id);
    const sealed = await readReport(store, sweep!.id);
    expect(sealed).toMatchObject({ matches: true, report: { site: BOOKING, state: 'complete' } });
    expect(sealed.report.visitors.map((v) => typeof v.picture)).toEqual(Array(5).fill('string'));
    expect(sealed.report.counts).toMatchObject({ pages: sweep!.pages, leaks: sweep!.leaks });
  });

  it('has rates that differ by region and notices that are fair', async () => {
    const rates = await consentRates(ctx, BOOKING, 30);
    const share = Object.fromEntries(rates.byRegion.map((r) => [r.region, r.share.share]));
    expect(share['DE']).toBeLessThan(share['DK']!);
    const purposes = await listPurposes(store);
    for (const site of (await listSites(store, {}, {}, undefined, 50)).rows)
      expect(fairness((await findNotice(store, site.host)).content, purposes).filter((f) => !f.met)).toEqual(
        [],
      );
  });

  it('leaves a database alone that holds something', async () => {
    expect(await isEmpty(store)).toBe(false);
  });
});

it('comes out of a generator that repeats itself for a seed', () => {
  const draw = (seed: number) => {
    const random = new Random(seed);
    return [
      random.next(),
      random.below(100),
      random.pick(['a', 'b', 'c']),
      random.weighted({ x: 1, y: 3 }),
      random.bytes(4).toString('hex'),
    ];
  };
  expect(draw(7)).toEqual(draw(7));
  expect(draw(7)).not.toEqual(draw(8));
  const random = new Random(1);
  const draws = Array.from({ length: 4000 }, () => random.weighted({ rare: 1, often: 9 }));
  expect(draws.filter((d) => d === 'rare').length / draws.length).toBeCloseTo(0.1, 1);
});
