import { z } from 'zod';
import { Report } from '../../../core/evidence/reports/report.ts';
import { nextTime } from '../../../core/schedule/schedule.ts';
import type { Context } from '../../context.ts';
import { Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import { askReport } from './report-files.ts';

/** Asks for the reports whose time has come, each once for a time; of several times that were missed, for the last. */
export async function askDueReports(ctx: Context): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const due = await tx.all(
      z.object({ id: Count, content: JsonColumn(Report) }),
      'SELECT id, content FROM report WHERE next_at <= ? ORDER BY next_at LIMIT 20 FOR UPDATE SKIP LOCKED',
      [toDatetime(ctx.now())],
    );
    for (const { id, content } of due) {
      const next = content.schedule && nextTime(content.schedule, ctx.now());
      await tx.run('UPDATE report SET next_at = ? WHERE id = ?', [next ? toDatetime(next) : null, id]);
      await askReport(tx, ctx, { id, report: content }, null);
    }
    return due.length;
  });
}
