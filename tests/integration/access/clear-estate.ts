import type { Queries } from '../../../src/server/store/pool.ts';

/** The estate is one for all sources: what another test took in would be reached, too. */
export async function clearEstate(store: Queries): Promise<void> {
  for (const table of [
    'access_source',
    'access_event',
    'access_use',
    'access_watch',
    'access_change',
    'access_review',
  ])
    await store.run(`DELETE FROM ${table}`);
  await store.run('UPDATE access_revision SET revision = revision + 1');
}
