import { z } from 'zod';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { ledgerActions, LedgerFilter, ledgerState, listEntries } from '../../../server/evidence/ledger.ts';
import { PageSize } from '../../../server/store/page.ts';

export const GET = endpoint({
  action: 'ledger.read',
  input: LedgerFilter.extend({ after: z.string().max(500).optional(), size: PageSize }),
  object: whole('ledger'),
  run: async ({ ctx, input }) => {
    const page = await listEntries(ctx.store, input, input.after, input.size);
    if (input.after !== undefined) return page;
    const [state, actions] = await Promise.all([ledgerState(ctx.store), ledgerActions(ctx.store)]);
    return { ...page, state, actions };
  },
});
