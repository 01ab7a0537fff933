import { z } from 'zod';
import type { Context } from '../context.ts';
import { toldBy, type Elsewhere } from '../desk/elsewhere.ts';
import { BigId, Count } from '../store/columns.ts';

/** What sources have to grant before anything goes from them, as disposals showed. */
export async function retentionElsewhere({ store }: Context): Promise<readonly Elsewhere[]> {
  const sources = await store.all(
    z.object({
      ...{ id: BigId, name: z.string(), done: Count, failed: Count, said: z.string().nullable() },
    }),
    `SELECT s.id, s.name, d.done, d.failed, d.said FROM source s LEFT JOIN (
       SELECT source_id, SUM(state IN ('aside', 'gone', 'back')) AS done, SUM(state = 'failed') AS failed,
         MAX(IF(state = 'failed', why, NULL)) AS said FROM disposal_item GROUP BY source_id
     ) d ON d.source_id = s.id ORDER BY s.name`,
  );
  return sources.map(({ id, name, done, failed, said }) => {
    const told = toldBy(done, failed);
    return {
      ...{ action: 'retention.dispose', system: name, link: `/holdings/sources/${id}` },
      needs: 'taking away what lies in it',
      told,
      said: told === 'refused' ? (said ?? '') : '',
    };
  });
}
