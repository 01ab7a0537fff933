import { AREAS } from '../areas.ts';
import { recountKind } from '../rules/rule-counts.ts';
import type { Queries } from '../store/pool.ts';

/** Counts the rules of all areas anew, whatever was kept. */
export async function recountRules(tx: Queries): Promise<void> {
  for (const { kind } of AREAS.flatMap((a) => a.rules ?? [])) await recountKind(tx, kind);
}
