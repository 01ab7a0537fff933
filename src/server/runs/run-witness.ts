import type { Witness } from '../evidence/verify.ts';
import { digestsNow } from './run-digest.ts';
import { resultsValue } from './run-work.ts';

/** Results of runs, read again. */
export const RUN_WITNESS: Witness = {
  action: 'run.end',
  field: 'digest',
  what: 'results of run',
  table: 'run',
  told: 'ended_at IS NOT NULL',
  values: async (store, ids) =>
    new Map(
      [...(await digestsNow(store, ids))].map(([id, hex]) => [id, resultsValue(Buffer.from(hex, 'hex'))]),
    ),
};
