import { z } from 'zod';
import { listBackups } from '../../../server/backup/backup-runs.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';

/** Backups that were made, the newest first. */
export const GET = endpoint({
  action: 'ledger.read',
  input: z.object({}),
  object: whole('ledger'),
  run: ({ ctx }) => listBackups(ctx.store),
});
