import { z } from 'zod';
import type { Context } from '../context.ts';
import type { Elsewhere } from '../desk/elsewhere.ts';
import { BigId, JsonColumn } from '../store/columns.ts';
import { Health } from './sources/sources.ts';

/** What sources have to grant before anything in them is read. */
export async function holdingsElsewhere({ store }: Context): Promise<readonly Elsewhere[]> {
  const sources = await store.all(
    z.object({ id: BigId, name: z.string(), health: JsonColumn(Health.nullable()) }),
    'SELECT id, name, health FROM source ORDER BY name',
  );
  return sources.map(({ id, name, health }) => ({
    ...{ action: 'holdings.survey', system: name, link: `/holdings/sources/${id}` },
    needs: 'reading what lies in it',
    told: health === null ? 'not tried' : health.ok ? 'granted' : 'refused',
    said: health?.ok === false ? health.words : '',
  }));
}
