import { z } from 'zod';
import { dataFlows, type DataFlows } from '../../../core/holdings/records/data-flows.ts';
import { SystemContent } from '../../../core/holdings/sources/source.ts';
import { BigId, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { allActivities, recordNames } from './activities.ts';

export interface NamedFlows extends DataFlows {
  /** Names of the detectors and of the activities in them, by id. */
  readonly data: Readonly<Record<string, string>>;
  readonly activities: Readonly<Record<string, string>>;
}

/** Who gives what to whom, as the records say. */
export async function recordFlows(store: Queries): Promise<NamedFlows> {
  const [activities, systems, names] = await Promise.all([
    allActivities(store),
    store.all(
      z.object({ id: BigId, content: JsonColumn(SystemContent) }),
      'SELECT id, content FROM data_system ORDER BY name',
    ),
    recordNames(store),
  ]);
  const found = dataFlows(
    activities,
    systems.map(({ id, content: { name, country, vendors } }) => ({ id, name, country, vendors })),
  );
  const kinds = new Set(found.flows.flatMap((f) => f.data));
  return {
    ...found,
    data: Object.fromEntries([...kinds].map((d) => [d, names.detectors.get(d) ?? d])),
    activities: Object.fromEntries(activities.map((a) => [a.id, a.content.name])),
  };
}
