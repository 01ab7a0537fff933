import { FORMATS } from '../../../core/evidence/reports/report.ts';
import { countWords, dateWords, sizeWords, whenWords } from '../../desk/words.ts';
import { useMay } from '../../desk/account-context.ts';
import { fileLink, type MadeFile } from './use-reports.ts';
import css from '../boards/boards.module.css';

/** Files of reports: when each was made, how it can be proved, and until when it can be fetched. */
export function FileTable({
  files,
  named = false,
}: {
  readonly files: readonly MadeFile[];
  /** Of several reports. */
  readonly named?: boolean;
}) {
  const mayLedger = useMay('ledger.read');
  return (
    <table className={css['plain']} aria-label="Files">
      <thead>
        <tr>
          <th scope="col">Made</th>
          {named && <th scope="col">Report</th>}
          <th scope="col">Holds</th>
          <th scope="col">Proof</th>
          <th scope="col">Kept until</th>
        </tr>
      </thead>
      <tbody>
        {files.map((f) => (
          <tr key={f.id}>
            <th scope="row">
              {f.state === 'ready' && f.goneAt === null ? (
                <a href={fileLink(f)} download>
                  {whenWords(f.madeAt ?? f.askedAt)}
                </a>
              ) : (
                whenWords(f.madeAt ?? f.askedAt)
              )}
            </th>
            {named && (
              <td>
                <a href={`/evidence/reports/${f.reportId}`}>{f.report.name}</a>
              </td>
            )}
            <td>
              {f.state === 'waiting'
                ? '○ being made'
                : f.state === 'failed'
                  ? `◆ ${f.problem}`
                  : `${countWords(f.lines ?? 0, 'row')}, ${FORMATS[f.report.format]}, ${sizeWords(f.size ?? 0)}`}
              {f.leftOut.length > 0 && (
                <>
                  <br />◆ Not told, since their roles do not include it: {f.leftOut.join(', ')}
                </>
              )}
            </td>
            <td>
              {f.digest && (
                <>
                  <code title={f.digest}>{f.digest.slice(0, 12)}…</code>{' '}
                  {mayLedger && f.ledgerId && (
                    <a href={`/evidence/ledger?entry=${f.ledgerId}`}>entry {f.ledgerId}</a>
                  )}
                </>
              )}
            </td>
            <td>{f.goneAt ? 'gone' : f.keepUntil ? dateWords(f.keepUntil) : ''}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
