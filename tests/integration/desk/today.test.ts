import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import {
  dismissItem,
  forgetOldItems,
  putOnToday,
  recountToday,
  replaceOnToday,
  takeOffToday,
  todayItems,
} from '../../../src/server/desk/today.ts';
import type { NewItem } from '../../../src/server/desk/today.ts';
import { testAccount, testContext, unique } from '../context.ts';
import { runs } from '../../property-runs.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

const item = (over: Partial<NewItem> & Pick<NewItem, 'key'>): NewItem => ({
  kind: 'process',
  action: 'websites.read',
  words: 'Something',
  detail: '',
  link: '/today',
  since: '2026-11-20T09:00:00.000Z',
  ...over,
});

const Counts = z.object({ action: z.string(), assigned_to: z.number(), items: z.number(), mark: z.number() });
/** As kept, and as counted one by one. */
async function counts(): Promise<{ kept: unknown; counted: unknown }> {
  const kept = await ctx.store.all(
    Counts,
    'SELECT action, assigned_to, items, mark FROM today_count WHERE items <> 0 OR mark <> 0 ORDER BY action, assigned_to',
  );
  const counted = await ctx.store.all(
    Counts,
    'SELECT action, COALESCE(assigned_to, 0) AS assigned_to, COUNT(*) AS items, BIT_XOR(mark) AS mark FROM today_item GROUP BY action, COALESCE(assigned_to, 0) ORDER BY action, 2',
  );
  return { kept, counted };
}

describe('the counts of Today', () => {
  it('are right after any changes, also at the same time', async () => {
    const { id } = await testAccount(ctx);
    const Key = fc.constantFrom('a', 'b', 'c', 'd');
    const Change = fc.oneof(
      fc.record({
        put: fc.array(
          fc.record({
            key: Key,
            words: fc.constantFrom('x', 'y'),
            action: fc.constantFrom('websites.read' as const, 'ledger.read' as const),
            assignedTo: fc.constantFrom(undefined, id),
          }),
          { minLength: 1, maxLength: 3 },
        ),
      }),
      fc.record({ off: Key }),
      fc.record({ replace: fc.uniqueArray(Key, { maxLength: 3 }), source: fc.constantFrom('s1', 's2') }),
    );
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(Change, { maxLength: 3 }), { maxLength: 4 }), async (rounds) => {
        for (const together of rounds)
          await Promise.all(
            together.map((c) =>
              ctx.store.transaction(async (tx) => {
                if ('put' in c)
                  await putOnToday(tx, ...[...new Map(c.put.map((p) => [p.key, item(p)])).values()]);
                else if ('off' in c) await takeOffToday(tx, 'process', c.off);
                else
                  await replaceOnToday(
                    tx,
                    c.source,
                    c.replace.map((k) => item({ key: `${c.source} ${k}` })),
                  );
              }),
            ),
          );
        const { kept, counted } = await counts();
        expect(kept).toEqual(counted);
      }),
      runs(25),
    );
    for (const key of ['a', 'b', 'c', 'd']) await takeOffToday(ctx.store, 'process', key);
    for (const source of ['s1', 's2']) await replaceOnToday(ctx.store, source, []);
  });

  it('are counted anew, whatever was kept', async () => {
    await putOnToday(ctx.store, item({ key: unique('k') }));
    await ctx.store.run('UPDATE today_count SET items = items + 7');
    await ctx.store.transaction(recountToday);
    const { kept, counted } = await counts();
    expect(kept).toEqual(counted);
  });
});

describe('an item of Today', () => {
  const mine = async (who: Parameters<typeof todayItems>[1], key: string) =>
    (await todayItems(ctx, who)).filter((i) => i.key === key);

  it('is for one person alone where it says so, and goes when it is of no more use', async () => {
    const [one, two] = [await testAccount(ctx), await testAccount(ctx)];
    const key = unique('k');
    const until = new Date(ctx.now().getTime() + 60_000);
    await putOnToday(ctx.store, item({ key, assignedTo: one.id, until, due: until, dismissable: true }));
    expect(await mine(one, key)).toMatchObject([{ due: until.toISOString(), dismissable: true }]);
    expect(await mine(two, key)).toEqual([]);
    await expect(dismissItem(ctx, two, 'process', key)).rejects.toMatchObject({ status: 403 });
    await forgetOldItems(ctx);
    expect(await mine(one, key)).toHaveLength(1);
    ctx.at(new Date(until.getTime() + 1).toISOString());
    await forgetOldItems(ctx);
    expect(await mine(one, key)).toEqual([]);
    const { kept, counted } = await counts();
    expect(kept).toEqual(counted);
  });

  it('that ends with what it tells of is not taken off by hand', async () => {
    const officer = await testAccount(ctx);
    const key = unique('k');
    await putOnToday(ctx.store, item({ key }));
    await expect(dismissItem(ctx, officer, 'process', key)).rejects.toMatchObject({ status: 409 });
    await takeOffToday(ctx.store, 'process', key);
    await expect(dismissItem(ctx, officer, 'process', key)).rejects.toMatchObject({ status: 404 });
  });
});
