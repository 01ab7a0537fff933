import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import type { Context } from '../context.ts';
import { askLens } from '../holdings/offers.ts';
import { Count } from '../store/columns.ts';
import { LEVEL_RUN } from './runs/level-run.ts';

const MOTION = {
  handling: Count,
  devices: Count,
  groups: Count,
  activity: Count,
  lookouts: Count,
  alerts: Count,
  evidence: Count,
};
const Row = z.object({ levels: Count, rules: Count, publications: Count, runs: Count, ...MOTION });

/** How many there are of each kind of object in Protection, and how many items have no level. */
export async function protectionShelf(ctx: Context, account: Pick<Account, 'scope'>) {
  const [counts, unlevelled] = await Promise.all([
    ctx.store.one(
      Row,
      `SELECT (SELECT COUNT(*) FROM rule WHERE kind = 'level') AS levels,
         (SELECT COUNT(*) FROM rule WHERE kind = 'level rule') AS rules,
         (SELECT COUNT(*) FROM rule WHERE kind = 'publication') AS publications,
         (SELECT COUNT(*) FROM rule WHERE kind = 'handling rule') AS handling,
         (SELECT COUNT(*) FROM device WHERE ended_at IS NULL) AS devices,
         (SELECT COUNT(*) FROM named_group) AS groups,
         (SELECT COUNT(*) FROM rule WHERE kind = 'lookout') AS lookouts,
         (SELECT COUNT(*) FROM alert WHERE state IN ('new', 'looked into')) AS alerts,
         (SELECT COUNT(*) FROM kept_evidence WHERE state IN ('kept', 'giving back')) AS evidence,
         (SELECT n FROM activity_count WHERE id = 1) AS activity,
         (SELECT COUNT(*) FROM run WHERE kind = ?) AS runs`,
      [LEVEL_RUN.kind],
    ),
    askLens(ctx, {
      lens: { fact: 'level', is: 'unknown' },
      today: ctx.now().toISOString().slice(0, 10),
      sources: account.scope?.['source'] ?? null,
      mayBeOld: true,
      ask: { what: 'count' },
    }),
  ]);
  return {
    ...(counts ?? {
      levels: 0,
      rules: 0,
      publications: 0,
      runs: 0,
      handling: 0,
      devices: 0,
      groups: 0,
      activity: 0,
      lookouts: 0,
      alerts: 0,
      evidence: 0,
    }),
    unlevelled,
  };
}
