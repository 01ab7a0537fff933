import { z } from 'zod';
import { Addresses } from '../../../../../core/evidence/reports/report.ts';
import { setAddresses } from '../../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../server/http/whole.ts';

/** To whom without an account a report goes from now on. */
export const PUT = endpoint({
  action: 'reports.send',
  input: z.object({ id: z.coerce.number().int().positive(), addresses: Addresses }),
  object: whole('report'),
  run: ({ ctx, account, input }) => setAddresses(ctx, account.id, input.id, input.addresses),
});
