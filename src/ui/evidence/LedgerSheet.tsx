import { LEDGER_LIST } from '../../core/evidence/ledger-list.ts';
import type * as evidenceLedgerApi from '../../pages/api/evidence/ledger.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { useQuery } from '@tanstack/react-query';
import type { LedgerState, ListedEntry } from '../../server/evidence/ledger.ts';
import type { Page } from '../../server/store/page.ts';
import { useMay } from '../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../desk/location.ts';
import { queryString, request } from '../desk/request.ts';
import { numberWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { DataTable, type Column } from '../parts/DataTable.tsx';
import { ListFilters } from '../lists/ListFilters.tsx';
import { useList } from '../lists/use-list.ts';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Empty } from '../parts/states.tsx';
import { detailWords } from './entry-words.ts';
import css from './evidence.module.css';

export interface FirstLedgerPage extends Page<ListedEntry> {
  readonly state: LedgerState;
  readonly actions: readonly string[];
}

export function useLedgerState() {
  return useQuery({
    queryKey: ['ledger-state'],
    queryFn: () => request<AnswerOf<typeof evidenceLedgerApi.GET>>('GET', '/api/evidence/ledger?size=1'),
  });
}

const COLUMNS: readonly Column<ListedEntry>[] = [
  { key: 'id', title: 'Entry', align: 'right', width: '64px', cell: (e) => numberWords(Number(e.id)) },
  { key: 'at', title: 'Time', width: '132px', cell: (e) => <time dateTime={e.at}>{whenWords(e.at)}</time> },
  {
    key: 'actor',
    title: 'Who',
    cell: (e) => <span className={css['nowrap']}>{e.actorName ?? e.actor}</span>,
  },
  { key: 'action', title: 'What', cell: (e) => <code>{e.action}</code> },
  {
    key: 'object',
    title: 'Of',
    optional: true,
    cell: (e) => (
      <span className={css['nowrap']}>
        {e.object} {e.objectId.length > 10 ? `${e.objectId.slice(0, 8)}…` : e.objectId}
      </span>
    ),
  },
  {
    key: 'detail',
    title: 'Detail',
    optional: true,
    fills: true,
    cell: (e) => detailWords(e.detail),
  },
  {
    key: 'tree',
    title: 'Sealed',
    align: 'right',
    cell: (e) => <span className={css['nowrap']}>{e.tree === null ? '○ soon' : `tree ${e.tree}`}</span>,
  },
];

export function LedgerSheet() {
  const { query } = useDeskLocation();
  const mayExport = useMay('ledger.export');
  const first = useLedgerState();
  const list = useList(LEDGER_LIST);
  const state = first.data?.state;
  return (
    <>
      <SheetHead
        title="Ledger"
        detail={
          state
            ? `${numberWords(state.entries)} entries · ${numberWords(state.trees)} sealed trees · ${state.unsealed ? `${numberWords(state.unsealed)} waiting to be sealed` : 'all sealed'}`
            : '…'
        }
        actions={
          <>
            <Button onClick={() => setQuery({ verify: 'now', entry: null })}>Verify it now</Button>
            {mayExport && (
              <a className={css['export']} href="/api/evidence/export" download>
                Export as evidence
              </a>
            )}
          </>
        }
      />
      <div className={css['space']} />
      <DataTable
        label="Ledger entries"
        name="ledger"
        columns={COLUMNS}
        queryKey={['ledger', list.asked]}
        load={(after) =>
          request<AnswerOf<typeof evidenceLedgerApi.GET>>(
            'GET',
            `/api/evidence/ledger${queryString({ ...list.asked, after })}`,
          )
        }
        rowKey={(e) => e.id}
        rowName={(e) => `Entry ${e.id}, ${e.action}`}
        opened={query.get('entry') ?? undefined}
        onOpen={(e) => setQuery({ entry: e.id, verify: null }, 'push')}
        filters={
          <ListFilters
            list={LEDGER_LIST}
            shown={list}
            only={['action', 'from', 'to']}
            values={{ action: first.data?.actions ?? [] }}
          />
        }
        empty={<Empty title="No entry matches">Widen the filter.</Empty>}
      />
    </>
  );
}
