import { useMemo } from 'react';
import { FORMATS } from '../../core/evidence/reports/report.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey } from '../desk/keys.ts';
import { go, setQuery, useDeskLocation } from '../desk/location.ts';
import { countWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Shelf } from '../parts/Shelf.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import { BackupsSheet } from './BackupsSheet.tsx';
import { BoardWords, NewBoard } from './boards/BoardDialogs.tsx';
import { BoardSheet } from './boards/BoardSheet.tsx';
import { BoardSoundings } from './boards/BoardSoundings.tsx';
import { useBoards } from './boards/use-boards.ts';
import { EntrySoundings } from './EntrySoundings.tsx';
import { FigureSheet } from './figures/FigureSheet.tsx';
import { FigureSoundings } from './figures/FigureSoundings.tsx';
import { FiguresSheet } from './figures/FiguresSheet.tsx';
import { LedgerSheet } from './LedgerSheet.tsx';
import { LedgerSoundings } from './LedgerSoundings.tsx';
import { NewReport } from './reports/NewReport.tsx';
import { ReportSheet } from './reports/ReportSheet.tsx';
import { ReportsOverview } from './reports/ReportsOverview.tsx';
import { useReports } from './reports/use-reports.ts';

/** What is read and shown to others: boards, reports, their figures, and the ledger that proves them. */
export function EvidenceArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const [what = 'boards', id] = path;
  const keys = useMemo(
    () => [
      ...(what === 'reports'
        ? may(account, 'reports.edit')
          ? newKey('Make a report', 'report')
          : []
        : may(account, 'boards.edit')
          ? newKey('Make a board', 'board')
          : []),
      ...(may(account, 'ledger.read')
        ? [
            {
              press: 'v',
              does: 'Verify the ledger',
              act: () =>
                what === 'ledger'
                  ? setQuery({ verify: 'now', entry: null })
                  : go('/evidence/ledger?verify=now'),
            },
          ]
        : []),
    ],
    [account, what],
  );
  return (
    <Desk
      account={account}
      area="evidence"
      keys={keys}
      register={
        <>
          <EvidenceShelf account={account} what={what} />
          {what === 'boards' && <BoardRegister account={account} chosen={id} />}
          {what === 'reports' && <ReportRegister account={account} chosen={id} />}
        </>
      }
      sheet={
        <>
          <SheetOf what={what} id={id} />
          {query.get('new') === 'board' && <NewBoard />}
          {query.get('new') === 'report' && <NewReport />}
          {query.get('words') === 'board' && id && <BoardWords id={Number(id)} />}
        </>
      }
      soundings={soundingsOf(what, id, query.get('entry'))}
    />
  );
}

function EvidenceShelf({ account, what }: { readonly account: Account; readonly what: string }) {
  const boards = useBoards().data;
  const reports = useReports().data;
  return (
    <Shelf
      entries={[
        { name: 'Boards', count: boards?.length, href: '/evidence/boards', chosen: what === 'boards' },
        { name: 'Reports', count: reports?.length, href: '/evidence/reports', chosen: what === 'reports' },
        { name: 'Figures', count: undefined, href: '/evidence/figures', chosen: what === 'figures' },
        ...(may(account, 'ledger.read')
          ? [
              { name: 'Ledger', count: undefined, href: '/evidence/ledger', chosen: what === 'ledger' },
              { name: 'Backups', count: undefined, href: '/evidence/backups', chosen: what === 'backups' },
            ]
          : []),
      ]}
    />
  );
}

function BoardRegister({
  account,
  chosen,
}: {
  readonly account: Account;
  readonly chosen: string | undefined;
}) {
  const boards = useBoards();
  return (
    <RegisterList
      what="boards"
      rows={(boards.data ?? []).map((b) => ({
        ...{ id: String(b.id), name: b.name, href: `/evidence/boards/${b.id}` },
        detail: countWords(b.figures.length, 'figure'),
      }))}
      chosen={chosen ?? String(boards.data?.[0]?.id ?? '')}
      onChoose={(r) => go(r.href)}
      action={may(account, 'boards.edit') && <Button onClick={() => setQuery({ new: 'board' })}>New</Button>}
      empty="No board yet. One holds up to eight figures that drive what you decide."
    />
  );
}

function ReportRegister({
  account,
  chosen,
}: {
  readonly account: Account;
  readonly chosen: string | undefined;
}) {
  const reports = useReports();
  return (
    <RegisterList
      what="reports"
      rows={(reports.data ?? []).map((r) => ({
        ...{ id: String(r.id), name: r.name, href: `/evidence/reports/${r.id}` },
        detail: `${r.what}, ${FORMATS[r.format]}${r.nextAt ? `, next ${whenWords(r.nextAt)}` : ''}`,
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={
        may(account, 'reports.edit') && <Button onClick={() => setQuery({ new: 'report' })}>New</Button>
      }
      empty="No report yet. One tells of an area, a board, a figure or a list, once or by itself."
    />
  );
}

function SheetOf({ what, id }: { readonly what: string; readonly id: string | undefined }) {
  switch (what) {
    case 'ledger':
      return <LedgerSheet />;
    case 'backups':
      return <BackupsSheet />;
    case 'reports':
      return id ? <ReportSheet key={id} id={Number(id)} /> : <ReportsOverview />;
    case 'figures':
      return id ? <FigureSheet key={id} id={id} /> : <FiguresSheet />;
    default:
      return id ? <BoardSheet key={id} id={Number(id)} /> : <FirstBoard />;
  }
}

/** The first board stands open where none is chosen. */
function FirstBoard() {
  const boards = useBoards();
  if (boards.isError) return <Failure error={boards.error} onRetry={() => void boards.refetch()} />;
  if (!boards.data) return <Loading what="boards" />;
  const [first] = boards.data;
  return first ? (
    <BoardSheet key={first.id} id={first.id} />
  ) : (
    <Empty title="No board yet">Make one of the figures that drive what you decide.</Empty>
  );
}

function FirstSoundings() {
  const first = useBoards().data?.[0];
  return first ? <BoardSoundings id={first.id} /> : null;
}

function soundingsOf(what: string, id: string | undefined, entry: string | null) {
  switch (what) {
    case 'ledger':
      return entry ? <EntrySoundings key={entry} id={entry} /> : <LedgerSoundings />;
    case 'reports':
    case 'backups':
      return undefined;
    case 'figures':
      return id ? <FigureSoundings key={id} id={id} /> : undefined;
    default:
      return id ? <BoardSoundings key={id} id={Number(id)} /> : <FirstSoundings />;
  }
}
