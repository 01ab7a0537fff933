import { z } from 'zod';
import type { Context } from '../src/server/context.ts';
import { recountRules } from '../src/server/desk/recount-rules.ts';
import { Count } from '../src/server/store/columns.ts';
import type { Store } from '../src/server/store/pool.ts';
import { AREAS } from './areas.ts';
import { Demo } from './demo.ts';
import { writeLedger } from './ledger.ts';
import { Random } from './random.ts';

export async function isEmpty(store: Store): Promise<boolean> {
  const row = await store.one(
    z.object({ n: Count }),
    'SELECT (SELECT COUNT(*) FROM account) + (SELECT COUNT(*) FROM site) AS n',
  );
  return row?.n === 0;
}

/** Fills an empty database with Brindle Strait Ferries. All or nothing: a demo half loaded is taken back. */
export async function loadDemo(ctx: Context, tell: (words: string) => void): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const demo = new Demo(ctx, tx, new Random(20_261_120), tell);
    for (const area of AREAS) await area.load(demo);
    // What loading itself put on record was not done by anybody.
    await tx.run('DELETE FROM ledger_entry');
    await demo.finish(await writeLedger(tx, demo.lines));
    await recountRules(tx);
    tell(`${demo.lines.length.toLocaleString('en')} ledger entries, sealed day by day`);
  });
}
