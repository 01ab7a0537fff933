import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NEW_ACTIVITY, type ActivityContent } from '../../../src/core/holdings/records/activity.ts';
import { AREAS } from '../../../src/server/areas.ts';
import { askLens } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { readLens } from '../../../src/server/holdings/items/explorer.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import { addActivity } from '../../../src/server/holdings/records/activities.ts';
import { testItem, testSource } from '../holdings/estate-rows.ts';
import { testAccount, testContext, testSite, unique } from '../context.ts';

const ctx = testContext();
const NOW = '2026-11-30T10:00:00Z';
const FIGURES = new Map(AREAS.flatMap((a) => a.figures ?? []).map((f) => [f.id, f]));
const valueOf = async (id: string) => {
  const figure = FIGURES.get(id);
  if (!figure) throw new Error(id);
  return figure.value(ctx.store, ctx.now(), ctx);
};
/** Rows that this file made, to be taken away. */
const MADE: (readonly [table: string, where: string, value: string | number])[] = [];

beforeAll(() => {
  ctx.at(NOW);
});
afterAll(async () => {
  for (const [table, where, value] of MADE.toReversed())
    await ctx.store.run(`DELETE FROM ${table} WHERE ${where} = ?`, [value]);
  await ctx.store.close();
});

async function insert(table: string, row: Readonly<Record<string, string | number | Buffer | null>>) {
  const columns = Object.keys(row);
  const { id } = await ctx.store.run(
    `INSERT INTO ${table} (${columns.join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
    Object.values(row),
  );
  return id;
}
async function kept(table: string, row: Parameters<typeof insert>[1]) {
  const id = await insert(table, row);
  MADE.push([table, 'id', id]);
  return id;
}

describe('every figure', () => {
  it.each([...FIGURES.keys()])('%s is counted: at most what it is out of', async (id) => {
    const { value, of } = await valueOf(id);
    expect(value === null || value >= 0).toBe(true);
    const figure = FIGURES.get(id);
    if (of !== undefined && value !== null && figure?.unit !== '%' && id !== 'websites.allowing')
      expect(value).toBeLessThanOrEqual(of);
    expect(figure?.definition.length).toBeGreaterThan(20);
    expect(figure?.link.startsWith('/')).toBe(true);
  });
});

/** What a figure counts more after something was done: its value, and what it is out of. */
async function adds(id: string, act: () => Promise<unknown>): Promise<readonly [number, number]> {
  const before = await valueOf(id);
  await act();
  const after = await valueOf(id);
  return [(after.value ?? 0) - (before.value ?? 0), (after.of ?? 0) - (before.of ?? 0)];
}

const activity = async (more: Partial<ActivityContent>) => {
  const id = await ctx.store.transaction((tx) =>
    addActivity(tx, ctx.now(), null, {
      ...{ ...NEW_ACTIVITY, name: unique('Activity '), purpose: 'Boarding', people: ['passengers'] },
      ...{ data: ['email'], retention: 'two weeks', measures: 'locked', owner: 'Port', review: '2027-01-01' },
      ...more,
    }),
  );
  MADE.push(['activity', 'id', id]);
};

describe('figures of the record', () => {
  it.each<[string, Partial<ActivityContent>, number]>([
    ['holdings.records-incomplete', {}, 0],
    ['holdings.records-incomplete', { people: [] }, 1],
    ['holdings.records-incomplete', { measures: '  ' }, 1],
    ['holdings.records-without-purpose', { purpose: '' }, 1],
    ['holdings.records-without-retention', { retention: '' }, 1],
    ['holdings.records-without-owner', { owner: '' }, 1],
    ['holdings.records-without-review', { review: '' }, 1],
    ['holdings.records-without-review', {}, 0],
  ])('%s of %j', async (id, content, more) => {
    expect(await adds(id, () => activity(content))).toEqual([more, 1]);
  });

  it('are held against the estate: what the law needs besides', async () => {
    const us = { name: 'Cloud', country: 'US', safeguard: 'none' as const };
    // What was counted a moment ago is not counted again: another context is asked.
    const count = async (id: string) =>
      (await FIGURES.get(id)?.value(ctx.store, ctx.now(), { ...ctx }))?.value ?? 0;
    const IDS = ['holdings.transfers-unsafe', 'holdings.basis-missing', 'holdings.records-late'];
    const before = await Promise.all(IDS.map(count));
    await activity({
      recipients: [us, { ...us, country: 'DE' }, { ...us, name: 'B', safeguard: 'standard clauses' }],
    });
    await activity({ data: ['health-condition'] });
    await activity({ review: '2026-01-01' });
    const after = await Promise.all(IDS.map(count));
    expect(after.map((n, i) => n - (before[i] ?? 0))).toEqual([1, 1, 1]);
  });
});

describe('figures of what is held', () => {
  const changed = (item: number, at: string) =>
    ctx.store.run('UPDATE item SET people = 3, changed_at = ? WHERE id = ?', [at, item]);
  const found = async (detector: string, level: boolean, on?: number) => {
    const item = on ?? (await testItem(ctx, await testSource(ctx)));
    await ctx.store.run(
      'INSERT INTO finding (item_id, detector, rehearsed, version, matches, distinct_values, confidence) VALUES (?, ?, 0, 1, 1, 1, 0.9)',
      [item, detector],
    );
    MADE.push(['finding', 'item_id', item]);
    if (!level) return;
    await ctx.store.run(
      "INSERT INTO item_level (item_id, level, set_by, reason, set_at) VALUES (?, 'internal', 'hand', '', UTC_TIMESTAMP())",
      [item],
    );
    MADE.push(['item_level', 'item_id', item]);
  };
  it.each<[string, string, boolean, readonly [number, number]]>([
    ['holdings.special-unlevelled', 'health-condition', false, [1, 1]],
    ['holdings.special-unlevelled', 'health-condition', true, [0, 1]],
    ['holdings.special-unlevelled', 'email', false, [0, 0]],
    ['holdings.children-unlevelled', 'child', false, [1, 1]],
    ['protection.by-hand-unsaid', 'email', true, [1, 1]],
  ])('%s of an item with %s, levelled: %s', async (id, detector, level, more) => {
    expect(await adds(id, () => found(detector, level))).toEqual(more);
  });

  const nothing = () => Promise.resolve();
  it.each<[string, number, (item: number) => Promise<unknown>]>([
    ['holdings.special-unlevelled', 2, nothing],
    ['holdings.children-unlevelled', 1, nothing],
    ['holdings.credentials', 1, nothing],
    // The day itself is not longer ago than seven years.
    ['holdings.untouched', 1, (item) => changed(item, '2019-11-29 23:59:59')],
    ['holdings.untouched', 0, (item) => changed(item, '2019-11-30 00:00:00')],
  ])('%s opens to just the items that it counts: %i', async (id, n, more) => {
    const source = await testSource(ctx);
    const shown = async () =>
      (
        await askLens(ctx, {
          lens: readLens(new URLSearchParams(FIGURES.get(id)?.link.split('?')[1]).get('lens') ?? ''),
          today: NOW.slice(0, 10),
          sources: [String(source)],
          ask: { what: 'figures' },
        })
      ).items;
    const [counted] = await adds(id, async () => {
      const items = [await testItem(ctx, source), await testItem(ctx, source), await testItem(ctx, source)];
      for (const [i, detector] of ['health-condition', 'child', 'password'].entries())
        await found(detector, false, items[i]);
      await found('email', true, items[2]);
      await more(items[0] ?? 0);
      await ctx.store.transaction((tx) => touchBlocks(tx, items));
    });
    expect([counted, await shown()]).toEqual([n, n]);
  });

  it('count sources that belong to nothing, and stores that nobody sorted', async () => {
    const [alone] = await adds('holdings.sources-without-system', async () => {
      const source = await testSource(ctx);
      await ctx.store.run('UPDATE source SET system_id = NULL WHERE id = ?', [source]);
    });
    expect(alone).toBe(1);
    const listing = await kept('listing', {
      ...{ name: unique('Account '), content: '{}', address: '{}', created_at: '2026-01-01' },
    });
    const store = (standing: string, news: string) => async () => {
      const hash = createHash('sha256').update(unique('s')).digest().subarray(0, 16);
      await ctx.store.run(
        `INSERT INTO found_store (listing_id, hash, name, kind, content, news, standing, first_seen, seen_at)
         VALUES (?, ?, 'S', 'folder', '{}', ?, ?, '2026-01-01', '2026-01-01')`,
        [listing, hash, news, standing],
      );
      MADE.push(['found_store', 'listing_id', listing]);
    };
    expect(await adds('holdings.stores-open', store('open', 'new'))).toEqual([1, 1]);
    expect(await adds('holdings.stores-open', store('aside', 'same'))).toEqual([0, 1]);
    expect(await adds('holdings.stores-open', store('open', 'gone'))).toEqual([0, 0]);
  });
});

describe('figures of sites', () => {
  it('count those not swept whole in a month', async () => {
    const sweep = (site: number, state: string, on: string) =>
      kept('sweep', {
        ...{ site_id: site, state, visitors: '[]', scope: '{}', pages: 3, notes: '[]' },
        ...{ created_at: on, finished_at: on },
      });
    const site = async (state: string | null, on = '2026-11-20') => {
      const { id } = await testSite(ctx);
      if (state) await sweep(id, state, on);
    };
    for (const [state, on, more] of [
      [null, '2026-11-20', 1],
      ['complete', '2026-11-20', 0],
      ['complete', '2026-10-20', 1],
      ['cancelled', '2026-11-20', 1],
    ] as const)
      expect(await adds('websites.sweeps-old', () => site(state, on))).toEqual([more, 1]);
  });

  it('count those where many choose and nobody changes their mind', async () => {
    const choices = async (n: number, withdrawn: boolean) => {
      const { id: site } = await testSite(ctx);
      const rows = Array.from({ length: n }, (_, i) => [
        createHash('sha256')
          .update(unique(`c${i}`))
          .digest()
          .subarray(0, 16),
        ...['2026-11-20 10:00:00', site, 1, 'allowed all', withdrawn && i === 0 ? 'withdrawn' : 'first'],
        ...['', '', 'en', 'DK', '', Buffer.alloc(16), 1],
      ]);
      await ctx.store.run(
        'INSERT INTO consent_record (id, at, site_id, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id) VALUES ?',
        [rows],
      );
      MADE.push(['consent_record', 'site_id', site]);
    };
    expect(await adds('websites.never-withdrawn', () => choices(200, false))).toEqual([1, 1]);
    expect(await adds('websites.never-withdrawn', () => choices(200, true))).toEqual([0, 1]);
    expect(await adds('websites.never-withdrawn', () => choices(199, false))).toEqual([0, 0]);
  });
});

describe('figures of accounts and acts', () => {
  it('count who may do everything, tokens that lie idle, and what waits for a second person', async () => {
    expect(await adds('accounts.officers', () => testAccount(ctx))).toEqual([1, 1]);
    expect(await adds('accounts.officers', () => testAccount(ctx, 'auditor'))).toEqual([0, 1]);
    const token = (made: string, used: string | null, ended: string | null) => () =>
      kept('program', {
        ...{ name: unique('p'), token_hash: createHash('sha256').update(unique('t')).digest() },
        ...{ scope: 'listing', made_at: made, used_at: used, ended_at: ended },
      });
    expect(await adds('accounts.programs-idle', token('2026-01-01', null, null))).toEqual([1, 1]);
    expect(await adds('accounts.programs-idle', token('2026-01-01', '2026-11-29', null))).toEqual([0, 1]);
    expect(await adds('accounts.programs-idle', token('2026-01-01', null, '2026-02-01'))).toEqual([0, 0]);
  });

  it('count acts that are not sealed, once they are an hour old', async () => {
    const entry = (at: string) => async () => {
      await insert('ledger_entry', {
        ...{ at, actor: 'system', action: 'test', object: 'site', object_id: '1', detail: '{}' },
      });
    };
    expect(await adds('evidence.unsealed', entry('2026-11-30 08:00:00'))).toEqual([1, 1]);
    expect(await adds('evidence.unsealed', entry('2026-11-30 09:30:00'))).toEqual([0, 1]);
    await ctx.store.run("DELETE FROM ledger_entry WHERE action = 'test'");
  });

  it('count letters that failed, of late', async () => {
    const letter = (state: string, on: string) => () =>
      kept('outgoing_message', {
        ...{ channel: 'mail', message_key: unique('m'), content: '', object: 'x', object_id: '1' },
        ...{ state, run_at: on, created_at: on },
      });
    expect(await adds('accounts.messages-failed', letter('failed', '2026-11-01'))).toEqual([1, 1]);
    expect(await adds('accounts.messages-failed', letter('sent', '2026-11-01'))).toEqual([0, 1]);
    expect(await adds('accounts.messages-failed', letter('failed', '2026-01-01'))).toEqual([0, 0]);
  });
});

describe('figures of disposals', () => {
  const disposal = (state: string, more: object = {}) =>
    kept('disposal', {
      ...{ rule_id: '1', rule_version: 1, rule_name: 'R', follows: 'delete', owner: 'o', state, needed: 1 },
      ...{ silent: 'officer', undo_days: 7, made_at: '2026-10-01', ...more },
    });
  it('count who does not answer, and what ended without a certificate', async () => {
    expect(
      await adds('retention.answers-late', () => disposal('asked', { answer_by: '2026-11-29' })),
    ).toEqual([1, 1]);
    expect(
      await adds('retention.answers-late', () => disposal('asked', { answer_by: '2026-12-29' })),
    ).toEqual([0, 1]);
    expect(await adds('retention.uncertified', () => disposal('done', { ended_at: '2026-11-01' }))).toEqual([
      1, 1,
    ]);
    expect(
      await adds('retention.uncertified', () =>
        disposal('done', { ended_at: '2026-11-01', certificate: '{}' }),
      ),
    ).toEqual([0, 1]);
  });
});
