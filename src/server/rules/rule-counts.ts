import { z } from 'zod';
import { versionInForce, type Stage } from '../../core/rules/rule.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { keepToWithin } from '../accounts/scope-condition.ts';
import { Where } from '../store/where.ts';
import { Count } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { RuleKind } from './rule-kind.ts';
import { StageColumn } from './stage-column.ts';

/** Rules that take effect, and those that are rehearsed. */
export interface RuleCounts {
  readonly inForce: number;
  readonly rehearsing: number;
}

const counted = (stage: Stage) => ({
  inForce: versionInForce(stage) === undefined ? 0 : 1,
  rehearsing: stage.state === 'rehearsing' ? 1 : 0,
});

/** Keeps the counts of a kind with a move, in its transaction. */
export async function countMove(tx: Queries, kind: string, before: Stage, after: Stage): Promise<void> {
  const [was, is] = [counted(before), counted(after)];
  const [inForce, rehearsing] = [is.inForce - was.inForce, is.rehearsing - was.rehearsing];
  if (inForce !== 0 || rehearsing !== 0)
    await tx.run(
      `INSERT INTO rule_count (kind, in_force, rehearsing) VALUES (?, ?, ?)
       ON DUPLICATE KEY UPDATE in_force = in_force + VALUES(in_force), rehearsing = rehearsing + VALUES(rehearsing)`,
      [kind, inForce, rehearsing],
    );
}

/** Of these kinds together, as kept. */
export async function ruleCounts(store: Queries, kinds: readonly string[]): Promise<RuleCounts> {
  if (kinds.length === 0) return { inForce: 0, rehearsing: 0 };
  const row = await store.one(
    z.object({ inForce: Count, rehearsing: Count }),
    'SELECT SUM(in_force) AS inForce, SUM(rehearsing) AS rehearsing FROM rule_count WHERE kind IN (?)',
    [kinds],
  );
  return row ?? { inForce: 0, rehearsing: 0 };
}

/** Of these kinds together, of what an account that is kept to a part may see. */
export async function countRulesWithin(
  store: Queries,
  kinds: readonly string[],
  account: Pick<Account, 'scope'>,
): Promise<RuleCounts> {
  const where = keepToWithin(new Where().among('kind', kinds), account);
  const rows = await store.all(
    z.object({ stage: StageColumn }),
    `SELECT stage FROM rule WHERE ${where.sql}`,
    [...where.params],
  );
  return rows.map((r) => counted(r.stage)).reduce(addCounts, { inForce: 0, rehearsing: 0 });
}

export function addCounts(a: RuleCounts, b: RuleCounts): RuleCounts {
  return { inForce: a.inForce + b.inForce, rehearsing: a.rehearsing + b.rehearsing };
}

/** Counts a kind anew, whatever was kept. */
export async function recountKind(tx: Queries, { object }: Pick<RuleKind<unknown>, 'object'>): Promise<void> {
  await tx.all(z.object({ kind: z.string() }), 'SELECT kind FROM rule_count WHERE kind = ? FOR UPDATE', [
    object,
  ]);
  const rows = await tx.all(
    z.object({ stage: StageColumn, n: Count }),
    'SELECT stage, COUNT(*) AS n FROM rule WHERE kind = ? GROUP BY stage LOCK IN SHARE MODE',
    [object],
  );
  const sum = (of: keyof RuleCounts) => rows.reduce((n, r) => n + counted(r.stage)[of] * r.n, 0);
  await tx.run('REPLACE INTO rule_count (kind, in_force, rehearsing) VALUES (?, ?, ?)', [
    object,
    sum('inForce'),
    sum('rehearsing'),
  ]);
}
