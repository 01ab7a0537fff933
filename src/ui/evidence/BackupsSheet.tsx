import { useQuery } from '@tanstack/react-query';
import type * as backupsApi from '../../pages/api/evidence/backups.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { request } from '../desk/request.ts';
import { numberWords, sizeWords, whenWords } from '../desk/words.ts';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import css from './boards/boards.module.css';

/** Backups that were made, and when one was last restored and found in order. */
export function BackupsSheet() {
  const backups = useQuery({
    queryKey: ['backups'],
    queryFn: () => request<AnswerOf<typeof backupsApi.GET>>('GET', '/api/evidence/backups'),
  });
  if (backups.isError) return <Failure error={backups.error} onRetry={() => void backups.refetch()} />;
  if (!backups.data) return <Loading what="backups" />;
  const proved = backups.data.find((b) => b.provedAt !== null);
  return (
    <>
      <SheetHead
        title="Backups"
        detail={
          proved?.provedAt
            ? `One was last restored and found in order ${whenWords(proved.provedAt)}, with ${numberWords(proved.entries ?? 0)} ledger entries`
            : '◆ No backup was ever restored and found in order'
        }
      />
      {backups.data.length === 0 ? (
        <Empty title="No backup was made yet">
          Whoever runs this makes one with ./yare backup FILE --prove, or every day by setting BACKUP_DIR.
        </Empty>
      ) : (
        <table className={css['plain']} aria-label="Backups">
          <thead>
            <tr>
              <th scope="col">Made</th>
              <th scope="col">File</th>
              <th scope="col">Proved</th>
              <th scope="col">SHA-256</th>
            </tr>
          </thead>
          <tbody>
            {backups.data.map((b) => (
              <tr key={b.digest}>
                <th scope="row">{whenWords(b.madeAt)}</th>
                <td>
                  <code>{b.file}</code>, {sizeWords(b.size)}
                </td>
                <td>
                  {b.problem ? `◆ ${b.problem}` : b.provedAt ? `✓ ${whenWords(b.provedAt)}` : '○ not yet'}
                </td>
                <td>
                  <code title={b.digest}>{b.digest.slice(0, 12)}…</code>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
