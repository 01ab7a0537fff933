import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ACCOUNT_FIGURES } from '../../../src/server/accounts/figures.ts';
import { ACCESS_FIGURES } from '../../../src/server/access/figures.ts';
import { HOLDINGS_FIGURES } from '../../../src/server/holdings/figures.ts';
import { RETENTION_FIGURES } from '../../../src/server/retention/figures.ts';
import { testSource } from '../holdings/estate-rows.ts';
import { testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
const NOW = new Date('2026-11-30T10:00:00Z');
const FIGURES = [...ACCOUNT_FIGURES, ...ACCESS_FIGURES, ...HOLDINGS_FIGURES, ...RETENTION_FIGURES];
const valueOf = async (id: string) => {
  const figure = FIGURES.find((f) => f.id === id);
  if (!figure) throw new Error(id);
  return figure.value(ctx.store, NOW, ctx);
};

async function forget(): Promise<void> {
  for (const table of ['access_review', 'hold_notice', 'access_finding_round', 'permission_use'])
    await ctx.store.run(`DELETE FROM ${table}`);
}
beforeAll(forget);
afterAll(async () => {
  await forget();
  await ctx.store.close();
});

describe('figures that tests read', () => {
  it('count sources that no survey read lately, or ever', async () => {
    const before = await valueOf('holdings.sources-old');
    const [old, fresh] = [await testSource(ctx), await testSource(ctx)];
    await testSource(ctx);
    await ctx.store.run("UPDATE source SET read_at = '2026-08-31 00:00:00' WHERE id = ?", [old]);
    await ctx.store.run("UPDATE source SET read_at = '2026-11-29 00:00:00' WHERE id = ?", [fresh]);
    const after = await valueOf('holdings.sources-old');
    expect([after.value, after.of]).toEqual([(before.value ?? 0) + 2, (before.of ?? 0) + 3]);
  });

  it('count custodians who were told long ago and say nothing, of holds that stand', async () => {
    expect(await valueOf('retention.custodians-silent')).toEqual({ value: 0, of: 0 });
    for (const [told, known, released] of [
      ['2026-11-01', null, null],
      ['2026-11-29', null, null],
      ['2026-11-01', '2026-11-02', null],
      ['2026-11-01', null, '2026-11-03'],
      [null, null, null],
    ])
      await ctx.store.run(
        'INSERT INTO hold_notice (hold_id, address, told_at, known_at, released_at) VALUES (?, ?, ?, ?, ?)',
        [...['1', `${unique('c')}@line.example`, told, known, released]] as (string | null)[],
      );
    expect(await valueOf('retention.custodians-silent')).toEqual({ value: 1, of: 3 });
  });

  it('count reviews that are open past their day', async () => {
    expect(await valueOf('access.reviews-late')).toEqual({ value: 0, of: 0 });
    for (const [due, state] of [
      ['2026-11-29', 'open'],
      ['2026-11-30', 'open'],
      ['2026-11-01', 'done'],
    ])
      await ctx.store.run(
        "INSERT INTO access_review (name, scope, due, state, made_at) VALUES (?, '{}', ?, ?, '2026-10-01')",
        [...[unique('review'), due ?? '', state ?? '']],
      );
    expect(await valueOf('access.reviews-late')).toEqual({ value: 1, of: 3 });
  });

  it('count accounts with which nothing was done, once they are old enough', async () => {
    const before = (await valueOf('accounts.idle')).value ?? 0;
    const [old, used, gone] = [await testAccount(ctx), await testAccount(ctx), await testAccount(ctx)];
    await testAccount(ctx);
    await ctx.store.run("UPDATE account SET created_at = '2026-01-01' WHERE id IN (?)", [
      [old.id, used.id, gone.id],
    ]);
    await ctx.store.run('UPDATE account SET disabled_at = created_at WHERE id = ?', [gone.id]);
    await ctx.store.run(
      "INSERT INTO permission_use VALUES (?, 'ledger.read', '2026-01-01', '2026-11-01', 3)",
      [used.id],
    );
    expect((await valueOf('accounts.idle')).value).toBe(before + 1);
  });

  it('say nothing of an estate before one was read', async () => {
    expect(await valueOf('access.leavers')).toEqual({ value: null });
  });
});
