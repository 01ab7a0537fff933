import { afterAll, expect, it } from 'vitest';
import { z } from 'zod';
import { updateMany } from '../../../src/server/store/update-many.ts';
import { testContext } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

it('sets many rows each to its own, in as few statements as will do, and no others', async () => {
  await ctx.store.connection(async (on) => {
    await on.run(
      'CREATE TEMPORARY TABLE berth (id INT PRIMARY KEY, port INT, ship VARCHAR(20) NULL, length INT)',
    );
    await on.run("INSERT INTO berth SELECT seq, seq % 2, 'none', 0 FROM seq_1_to_1200");
    let statements = 0;
    const counted = { ...on, run: (...a: Parameters<typeof on.run>) => (statements++, on.run(...a)) };
    const rows = new Map(
      Array.from(
        { length: 1100 },
        (_, i) => [i + 1, { ship: i % 3 ? `MS '${i}'` : null, length: i }] as const,
      ),
    );
    await updateMany(counted, 'berth', 'id', rows, 'port = ?', [1]);
    expect(statements).toBe(3);
    const all = await on.all(
      z.object({ id: z.number(), port: z.number(), ship: z.string().nullable(), length: z.number() }),
      'SELECT * FROM berth ORDER BY id',
    );
    for (const r of all) {
      const set = r.port === 1 ? rows.get(r.id) : undefined;
      expect(r).toMatchObject(set ?? { ship: 'none', length: 0 });
    }
    await updateMany(counted, 'berth', 'id', new Map());
    expect(statements).toBe(3);
  });
});
