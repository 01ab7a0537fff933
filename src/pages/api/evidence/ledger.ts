import { z } from 'zod';
import { LEDGER_LIST } from '../../../core/evidence/ledger-list.ts';
import { endpoint } from '../../../server/http/endpoint.ts';
import { whole } from '../../../server/http/whole.ts';
import {
  ledgerActions,
  ledgerState,
  listEntries,
  type LedgerState,
  type ListedEntry,
} from '../../../server/evidence/ledger.ts';
import type { Page } from '../../../server/store/page.ts';
import { pageShape } from '../../../server/lists/list-source.ts';

/** A page of entries; with the first, how it stands with the whole ledger and what there is to filter by. */
export interface LedgerPage extends Page<ListedEntry> {
  readonly state?: LedgerState;
  readonly actions?: readonly string[];
}

export const GET = endpoint({
  action: 'ledger.read',
  input: z.object(pageShape(LEDGER_LIST)),
  object: whole('ledger'),
  run: async ({ ctx, input }): Promise<LedgerPage> => {
    const page = await listEntries(ctx.store, input, input.after, input.size);
    if (input.after !== undefined) return page;
    const [state, actions] = await Promise.all([ledgerState(ctx.store), ledgerActions(ctx.store)]);
    return { ...page, state, actions };
  },
});
