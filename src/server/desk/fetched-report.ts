import { RefusedError } from '../../core/refusal.ts';
import type { Context } from '../context.ts';
import { record, type Actor } from '../evidence/ledger.ts';
import { readParts, type ReportFile } from '../evidence/reports/report-files.ts';
import { streamed } from '../http/csv.ts';
import type { Outgoing } from '../http/outgoing.ts';
import { fileName, MEDIA_TYPES } from './make-report-job.ts';

/** A file of a report as a download; the ledger knows who had it. Throws a RefusedError (404) for one that is gone. */
export async function fetched(
  ctx: Context,
  file: ReportFile,
  by: Actor,
  outgoing: Outgoing,
): Promise<Response> {
  if (file.state !== 'ready') throw new RefusedError('It is not made yet.', [], 409);
  const isOver = file.keepUntil !== null && Date.parse(file.keepUntil) <= ctx.now().getTime();
  if (file.goneAt !== null || isOver)
    throw new RefusedError('It was kept as long as it was to be, and is gone. Have it made again.', [], 404);
  await ctx.store.transaction(async (tx) => {
    await tx.run('UPDATE report_file SET fetched = fetched + 1 WHERE id = ?', [file.id]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'report.fetch', object: 'report', objectId: file.reportId },
      detail: { file: file.id },
    });
  });
  return streamed(fileName(file), MEDIA_TYPES[file.report.format], outgoing, readParts(ctx, file.id));
}
