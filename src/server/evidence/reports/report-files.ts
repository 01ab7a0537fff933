import { z } from 'zod';
import type { Action } from '../../../core/accounts/action.ts';
import { Report } from '../../../core/evidence/reports/report.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Json } from '../../../core/rules/change.ts';
import type { Context } from '../../context.ts';
import { addJob } from '../../jobs/job.ts';
import { openText, sealText } from '../../secret.ts';
import { Bytes, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import type { StoredReport } from './reports.ts';

const PART = 1_000_000;

export const MAKE_REPORT = 'make-report';

/** Queues one making of a report. */
export async function askReport(
  tx: Queries,
  ctx: Context,
  { id, report }: Pick<StoredReport, 'id' | 'report'>,
  by: number | null,
): Promise<number> {
  const file = await tx.run(
    'INSERT INTO report_file (report_id, content, asked_at, asked_by) VALUES (?, ?, ?, ?)',
    [...[id, JSON.stringify(report), toDatetime(ctx.now()), by]],
  );
  await addJob(tx, ctx.now(), {
    ...{ kind: MAKE_REPORT, title: `Making “${report.name}”` },
    about: { object: 'report', id },
    payload: { file: file.id } satisfies Json,
    createdBy: by,
    link: `/evidence/reports/${id}`,
  });
  return file.id;
}

const Row = z.object({
  id: Count,
  report_id: Count,
  content: JsonColumn(Report),
  asked_at: Instant,
  state: z.enum(['waiting', 'ready', 'failed']),
  problem: z.string(),
  made_at: Instant.nullable(),
  keep_until: Instant.nullable(),
  line_count: Count.nullable(),
  size: Count.nullable(),
  digest: Bytes.nullable(),
  ledger_id: z.coerce.string().nullable(),
  people: JsonColumn(z.array(z.number())),
  left_out: JsonColumn(z.array(z.string())),
  needs: JsonColumn(z.array(z.string())),
  fetched: Count,
  gone_at: Instant.nullable(),
});
const COLUMNS = Object.keys(Row.shape)
  .map((c) => `f.${c}`)
  .join(', ');

export interface ReportFile {
  readonly id: number;
  readonly reportId: number;
  readonly report: Report;
  readonly askedAt: string;
  readonly state: 'waiting' | 'ready' | 'failed';
  readonly problem: string;
  readonly madeAt: string | null;
  readonly keepUntil: string | null;
  readonly lines: number | null;
  readonly size: number | null;
  /** SHA-256 of its bytes, in hexadecimal. */
  readonly digest: string | null;
  /** The entry of the ledger that says so. */
  readonly ledgerId: string | null;
  readonly people: readonly number[];
  readonly leftOut: readonly string[];
  /** What somebody must be allowed to do to have it. */
  readonly needs: readonly Action[];
  readonly fetched: number;
  readonly goneAt: string | null;
}

function toFile(r: z.infer<typeof Row>): ReportFile {
  return {
    ...{ id: r.id, reportId: r.report_id, report: r.content, askedAt: r.asked_at, state: r.state },
    ...{ problem: r.problem, madeAt: r.made_at, keepUntil: r.keep_until, lines: r.line_count, size: r.size },
    ...{ digest: r.digest?.toString('hex') ?? null, ledgerId: r.ledger_id, people: r.people },
    ...{ leftOut: r.left_out, needs: r.needs as Action[], fetched: r.fetched, goneAt: r.gone_at },
  };
}

/** The newest of a report, or of all. */
export async function listFiles(store: Queries, report?: number, most = 100): Promise<readonly ReportFile[]> {
  const rows = await store.all(
    Row,
    `SELECT ${COLUMNS} FROM report_file f ${report === undefined ? '' : 'WHERE f.report_id = ?'} ORDER BY f.id DESC LIMIT ?`,
    [...(report === undefined ? [] : [report]), most],
  );
  return rows.map(toFile);
}

/** Throws a RefusedError (404). */
export async function findFile(store: Queries, id: number): Promise<ReportFile> {
  const row = await store.one(Row, `SELECT ${COLUMNS} FROM report_file f WHERE f.id = ?`, [id]);
  if (!row) throw notFound('file');
  return toFile(row);
}

/** Keeps bytes as they come, sealed, part by part; what was kept of an earlier try goes. */
export async function keepParts(
  ctx: Context,
  file: number,
  bytes: AsyncIterable<Uint8Array>,
  signal: AbortSignal,
): Promise<void> {
  await ctx.store.run('DELETE FROM report_part WHERE file_id = ?', [file]);
  let part = 0;
  let held: Uint8Array[] = [];
  let size = 0;
  const put = async () => {
    const body = sealText(ctx.settings.SECRET_KEY, Buffer.concat(held).toString('base64'));
    await ctx.store.run('INSERT INTO report_part (file_id, part, body) VALUES (?, ?, ?)', [
      ...[file, part, Buffer.from(body)],
    ]);
    [held, size, part] = [[], 0, part + 1];
  };
  for await (const chunk of bytes) {
    if (signal.aborted) return;
    held.push(chunk);
    size += chunk.length;
    if (size >= PART) await put();
  }
  if (size > 0) await put();
}

/** The bytes of a file, part by part. */
export async function* readParts({ store, settings }: Context, file: number): AsyncGenerator<Buffer> {
  for (let part = 0; ; part++) {
    const row = await store.one(
      z.object({ body: Bytes }),
      'SELECT body FROM report_part WHERE file_id = ? AND part = ?',
      [file, part],
    );
    if (!row) return;
    yield Buffer.from(openText(settings.SECRET_KEY, row.body.toString()), 'base64');
  }
}

/** Files whose time is over: their bytes go, what they were stays. */
export async function letFilesGo(ctx: Context): Promise<void> {
  const now = toDatetime(ctx.now());
  const over = await ctx.store.all(
    z.object({ id: Count }),
    'SELECT id FROM report_file WHERE gone_at IS NULL AND keep_until < ? ORDER BY keep_until LIMIT 100',
    [now],
  );
  for (const { id } of over)
    await ctx.store.transaction(async (tx) => {
      await tx.run('DELETE FROM report_part WHERE file_id = ?', [id]);
      await tx.run('UPDATE report_file SET gone_at = ? WHERE id = ?', [now, id]);
    });
}
