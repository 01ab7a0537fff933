import { z } from 'zod';
import { versionInForce } from '../../core/rules/rule.ts';
import type { RuleKind } from '../rules/rule-kind.ts';
import { ruleCounts } from '../rules/rule-counts.ts';
import { StageColumn } from '../rules/stage-column.ts';
import type { Figure } from './figure.ts';

/** How many rules of a kind take effect now. */
export function ruleFigure<T>({
  kind,
  of,
  ...words
}: Omit<Figure, 'value' | 'rows' | 'unit' | 'parts'> & {
  readonly unit?: string;
  readonly kind: Pick<RuleKind<T>, 'object' | 'place'>;
  readonly of?: Figure['value'];
}): Figure {
  return {
    unit: 'rule',
    ...words,
    value: async (store, now, ctx) => {
      const all = await of?.(store, now, ctx);
      return {
        value: (await ruleCounts(store, [kind.object])).inForce,
        ...(typeof all?.value === 'number' ? { of: all.value } : {}),
      };
    },
    rows: async (store) => {
      const rules = await store.all(
        z.object({ id: z.string(), name: z.string(), stage: StageColumn }),
        'SELECT id, name, stage FROM rule WHERE kind = ? ORDER BY name, id',
        [kind.object],
      );
      return Promise.all(
        rules
          .filter((r) => versionInForce(r.stage) !== undefined)
          .map(async ({ id, name }) => ({
            ...{ key: id, name, n: 1, parts: {} },
            link: kind.place ? await kind.place(store, id) : '',
          })),
      );
    },
  };
}
