import { z } from 'zod';
import type { Context } from '../context.ts';
import { Count } from '../store/columns.ts';

const Row = z.object({
  rules: Count,
  bounds: Count,
  holds: Count,
  clocks: Count,
  disposals: Count,
  waiting: Count,
});

/** How many there are of each kind of object in Retention. */
export async function retentionShelf({ store }: Context) {
  const row = await store.one(
    Row,
    `SELECT (SELECT COUNT(*) FROM rule WHERE kind = 'retention rule') AS rules,
       (SELECT COUNT(*) FROM rule WHERE kind = 'bound') AS bounds,
       (SELECT COUNT(*) FROM rule WHERE kind = 'hold' AND state <> 'retired') AS holds,
       (SELECT COUNT(*) FROM retention_clock) AS clocks,
       (SELECT COUNT(*) FROM disposal) AS disposals,
       (SELECT COUNT(*) FROM disposal WHERE state = 'asked') AS waiting`,
  );
  return row ?? { rules: 0, bounds: 0, holds: 0, clocks: 0, disposals: 0, waiting: 0 };
}
