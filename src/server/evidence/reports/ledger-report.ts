import { LEDGER_LIST } from '../../../core/evidence/ledger-list.ts';
import { listReportable, type Reportable } from '../../reports/reportable.ts';
import { listEntries, type ListedEntry } from '../ledger.ts';

/** Entries of the ledger of some days. */
export const LEDGER_REPORT: Reportable = listReportable<ListedEntry>(
  { id: 'evidence.ledger', name: 'Entries of the ledger', see: 'ledger.export' },
  LEDGER_LIST,
  ({ store }) =>
    Promise.resolve({
      cells: (e) => ({
        ...{ id: e.id, at: e.at, actor: e.actorName ?? e.actor, action: e.action },
        ...{ object: `${e.object} ${e.objectId}`, detail: JSON.stringify(e.detail), tree: e.tree },
      }),
      load: (wish, after, size) => listEntries(store, wish, after, size),
    }),
);
