import { z } from 'zod';
import { takesChanges } from '../../core/access/sources/access-source.ts';
import type { Context } from '../context.ts';
import { toldBy, type Elsewhere } from '../desk/elsewhere.ts';
import { Count } from '../store/columns.ts';
import { allAccessSources } from './sources/access-sources.ts';

/** What sources of rights have to grant, as the last reading and changes showed. */
export async function accessElsewhere({ store }: Context): Promise<readonly Elsewhere[]> {
  const [sources, steps] = await Promise.all([
    allAccessSources(store),
    store.all(
      z.object({ source_id: z.number(), done: Count, failed: Count, said: z.string().nullable() }),
      `SELECT source_id, SUM(state IN ('done', 'already')) AS done, SUM(state = 'failed') AS failed,
         MAX(IF(state = 'failed', told, NULL)) AS said FROM access_step GROUP BY source_id`,
    ),
  ]);
  return sources.flatMap(({ id, name, address, content, problem, read_at }): Elsewhere[] => {
    const at = { system: name, link: `/access/sources/${id}` };
    const step = steps.find((s) => s.source_id === id);
    const writes = content.writes && takesChanges(address.kind);
    const changed = writes ? toldBy(step?.done ?? 0, step?.failed ?? 0) : 'no way';
    return [
      {
        ...{ ...at, action: 'access.sources', needs: 'reading who is there and what is granted' },
        told: problem !== null ? 'refused' : read_at === null ? 'not tried' : 'granted',
        said: problem ?? '',
      },
      {
        ...{ ...at, action: 'access.change', told: changed },
        needs: writes
          ? 'changing what is granted'
          : 'nothing: whoever owns it is asked to make each change by hand',
        said: changed === 'refused' ? (step?.said ?? '') : '',
      },
    ];
  });
}
