import { z } from 'zod';
import { LEDGER_LIST } from '../../../core/evidence/ledger-list.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import { ledgerActions, ledgerState, listEntries } from '../../../server/evidence/ledger.ts';
import { pageShape } from '../../../server/lists/list-source.ts';

export const GET = endpoint({
  action: 'ledger.read',
  input: z.object(pageShape(LEDGER_LIST)),
  object: whole('ledger'),
  run: async ({ ctx, input }) => {
    const page = await listEntries(ctx.store, input, input.after, input.size);
    if (input.after !== undefined) return page;
    const [state, actions] = await Promise.all([ledgerState(ctx.store), ledgerActions(ctx.store)]);
    return { ...page, state, actions };
  },
});
