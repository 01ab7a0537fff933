import { z } from 'zod';
import { unitMark, groupMark } from '../../core/accounts/staff/audience.ts';
import { itemVocabulary } from '../../core/holdings/offers.ts';
import { clockId } from '../../core/retention/clock/clock-content.ts';
import type { RetentionNames } from '../../core/retention/rules/retention-rule.ts';
import { nesting } from '../accounts/staff/staff.ts';
import { itemNames } from '../holdings/offers.ts';
import type { Queries } from '../store/pool.ts';

/** What can be named in retention rules, bounds and holds, as it is now. */
export async function retentionNames(store: Queries): Promise<RetentionNames> {
  const [items, groups, units, clocks] = await Promise.all([
    itemNames(store),
    nesting(store),
    store.all(
      z.object({ unit: z.string() }),
      "SELECT DISTINCT unit FROM staff WHERE unit <> '' ORDER BY unit",
    ),
    store.all(
      z.object({ id: z.number(), name: z.string() }),
      'SELECT id, name FROM retention_clock ORDER BY name',
    ),
  ]);
  return {
    items: itemVocabulary(items),
    sources: [...items.sources].map(([value, words]) => ({ value, words })),
    groups: [
      ...units.map(({ unit }) => ({ value: unitMark(unit), words: unit, detail: 'unit' })),
      ...[...groups].map(([name, within]) => ({
        value: groupMark(name),
        words: name,
        detail: within.length > 0 ? `group in ${within.join(', ')}` : 'group',
      })),
    ],
    clocks: clocks.map((c) => ({ value: clockId(c.id), words: c.name })),
  };
}
