import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { scheduleWords } from '../../../core/schedule/schedule.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { go } from '../../desk/location.ts';
import { FileTable } from './FileTable.tsx';
import { useFiles, useReports } from './use-reports.ts';
import css from '../boards/boards.module.css';

/** What is made by itself next, and what can be fetched. */
export function ReportsOverview() {
  const reports = useReports();
  const files = useFiles();
  if (reports.isError) return <Failure error={reports.error} onRetry={() => void reports.refetch()} />;
  if (!reports.data) return <Loading what="reports" />;
  const planned = reports.data
    .filter((r) => r.nextAt !== null)
    .toSorted((a, b) => ((a.nextAt ?? '') < (b.nextAt ?? '') ? -1 : 1));
  return (
    <>
      <SheetHead
        title="Reports"
        detail={`${countWords(planned.length, 'is', 'are')} made by ${planned.length === 1 ? 'itself' : 'themselves'}; each file stands in the ledger with its digest`}
      />
      {planned.length > 0 && (
        <table className={css['plain']} aria-label="Made by themselves">
          <thead>
            <tr>
              <th scope="col">Report</th>
              <th scope="col">When</th>
              <th scope="col">Next</th>
              <th scope="col">Last</th>
            </tr>
          </thead>
          <tbody>
            {planned.map((r) => (
              <tr key={r.id}>
                <th scope="row">
                  <a
                    href={`/evidence/reports/${r.id}`}
                    onClick={(e) => {
                      if (e.ctrlKey || e.metaKey || e.shiftKey) return;
                      e.preventDefault();
                      go(`/evidence/reports/${r.id}`);
                    }}
                  >
                    {r.name}
                  </a>
                </th>
                <td>{r.schedule ? scheduleWords(r.schedule) : ''}</td>
                <td>{r.nextAt ? whenWords(r.nextAt) : ''}</td>
                <td>{r.lastAt ? whenWords(r.lastAt) : 'never yet'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2 className={css['title']}>What can be fetched</h2>
      {files.data && files.data.length > 0 ? (
        <FileTable files={files.data} named />
      ) : (
        <Empty title="Nothing was made yet">
          A report tells of an area, a board, a figure or a list, once or by itself.
        </Empty>
      )}
    </>
  );
}
