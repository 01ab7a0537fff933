import { createHash } from 'node:crypto';
import { z } from 'zod';
import { may, type Account } from '../../core/accounts/authority.ts';
import { outsideScope } from '../../core/accounts/scope.ts';
import { REPORT_READY } from '../../core/evidence/reports/ready-letter.ts';
import { FORMATS } from '../../core/evidence/reports/report.ts';
import { RefusedError } from '../../core/refusal.ts';
import type { Json } from '../../core/rules/change.ts';
import { dayText } from '../../core/text/day.ts';
import { findAccount } from '../accounts/account.ts';
import type { Context } from '../context.ts';
import { lastTree, record } from '../evidence/ledger.ts';
import {
  findFile,
  keepParts,
  MAKE_REPORT,
  readParts,
  type ReportFile,
} from '../evidence/reports/report-files.ts';
import { addressesOf, findReport } from '../evidence/reports/reports.ts';
import { counting, ledgerLines, writeReport } from '../evidence/reports/write-report.ts';
import { signedToken } from '../http/signed-link.ts';
import { whole } from '../http/whole.ts';
import { FinalError, holdsLease, type JobKind, type JobRun } from '../jobs/runner.ts';
import { queueMail } from '../outbox/outbox.ts';
import { toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { openSubject, type OpenedSubject } from './report-subject.ts';

const Payload = z.object({ file: z.number() });
const DAY_MS = 86_400_000;

/** Makes a report as whoever answers for it may see it, and tells those it is for, once. */
export const makeReportJob: JobKind = {
  kind: MAKE_REPORT,
  lane: 'long',
  see: 'reports.read',
  start: 'reports.edit',
  async work(ctx, run): Promise<Json> {
    const file = await findFile(ctx.store, Payload.parse(run.job.payload).file).catch(refuseFinally);
    if (file.state === 'ready') return { file: file.id };
    const maker = await makerOf(ctx, file).catch(refuseFinally);
    const subject = await openSubject(ctx, maker, file.report).catch(refuseFinally);
    const tree = await lastTree(ctx.store);
    const counted = { lines: 0 };
    run.progress({ words: 'Reading', share: null, secondsLeft: null });
    const telling = setInterval(
      () => run.progress({ words: `${counted.lines} rows`, share: null, secondsLeft: null }),
      2000,
    );
    try {
      await keepParts(ctx, file.id, bytesOf(file, subject, tree ?? null, counted), run.signal);
    } finally {
      clearInterval(telling);
    }
    if (run.signal.aborted) return { cancelled: true };
    return finish(ctx, run, file, maker, subject, counted.lines);
  },
  async ended(tx, _ctx, job, end) {
    if (end.how === 'done') return;
    const { file } = Payload.parse(job.payload);
    const problem = 'error' in end ? end.error : 'It was cancelled.';
    await tx.run("UPDATE report_file SET state = 'failed', problem = ? WHERE id = ? AND state = 'waiting'", [
      ...[problem.slice(0, 500), file],
    ]);
    await tx.run('DELETE FROM report_part WHERE file_id = ?', [file]);
  },
};

/** What is refused will be the next time, too. */
function refuseFinally(error: unknown): never {
  throw error instanceof RefusedError ? new FinalError(error.message) : error;
}

async function* bytesOf(
  file: ReportFile,
  subject: OpenedSubject,
  tree: { readonly number: number; readonly head: string } | null,
  counted: { lines: number },
): AsyncGenerator<Uint8Array> {
  const head = {
    title: subject.title,
    lines: subject.lines,
    ledger: tree && { tree: tree.number, head: tree.head },
  };
  if (file.report.format === 'pdf' && subject.pdf) {
    for await (const _ of counting(subject.rows, counted));
    yield await subject.pdf(ledgerLines(head));
    return;
  }
  yield* writeReport(file.report.format, head, subject.rows, counted);
}

/** Throws a FinalError where nobody answers for it any more. */
async function makerOf(ctx: Context, { reportId }: ReportFile): Promise<Account> {
  const { madeBy } = await findReport(ctx.store, reportId);
  const found = madeBy && (await findAccount(ctx.store, madeBy.id));
  if (!found || found.disabledAt !== null)
    throw new FinalError('Whoever made this report has no account any more. Edit it, and it is yours.');
  return found.account;
}

async function finish(
  ctx: Context,
  run: JobRun,
  file: ReportFile,
  maker: Account,
  subject: OpenedSubject,
  lines: number,
): Promise<{ readonly file: number; readonly lines: number }> {
  const hash = createHash('sha256');
  let size = 0;
  for await (const part of readParts(ctx, file.id)) {
    hash.update(part);
    size += part.length;
  }
  const digest = hash.digest();
  const now = ctx.now();
  const keepUntil = new Date(now.getTime() + file.report.keepDays * DAY_MS);
  const { people, leftOut, addresses } = await receivers(ctx, file, maker, subject);
  await ctx.store.transaction(async (tx) => {
    // Another worker that took it up meanwhile writes and tells; this one does not.
    if (!(await holdsLease(tx, run))) throw new Error('The lease was lost.');
    const entry = await record(tx, now, {
      ...{ actor: maker.id, action: 'report.made', object: 'report', objectId: file.reportId },
      detail: {
        file: file.id,
        format: file.report.format,
        rows: lines,
        size,
        sha256: digest.toString('hex'),
      },
    });
    await tx.run(
      `UPDATE report_file SET state = 'ready', made_at = ?, keep_until = ?, line_count = ?, size = ?, digest = ?, ledger_id = ?,
         people = ?, left_out = ?, needs = ? WHERE id = ?`,
      [
        ...[toDatetime(now), toDatetime(keepUntil), lines, size, digest, entry],
        ...[
          JSON.stringify(people.map((p) => p.id)),
          JSON.stringify(leftOut),
          JSON.stringify(subject.needs),
          file.id,
        ],
      ],
    );
    const values = {
      ...{ name: file.report.name, lines, digest: digest.toString('hex') },
      ...{
        day: dayText(now.toISOString().slice(0, 10)),
        until: dayText(keepUntil.toISOString().slice(0, 10)),
      },
    };
    await tellAll(tx, ctx, file, { people, addresses }, values);
  });
  return { file: file.id, lines };
}

async function tellAll(
  tx: Queries,
  ctx: Context,
  file: ReportFile,
  { people, addresses }: Pick<Receivers, 'people' | 'addresses'>,
  values: Readonly<Record<string, string | number>>,
): Promise<void> {
  const about = { object: 'report', id: file.reportId };
  const { WEB_ORIGIN } = ctx.settings;
  for (const person of people)
    await queueMail(tx, ctx, {
      ...{ key: `report ${file.id} to ${person.id}`, about, to: person.email, template: REPORT_READY },
      values: { ...values, link: `${WEB_ORIGIN}/evidence/reports/${file.reportId}?file=${file.id}` },
    });
  const token = signedToken(ctx, 'report', file.id, file.report.keepDays);
  for (const address of addresses)
    await queueMail(tx, ctx, {
      ...{ key: `report ${file.id} to ${address}`, about, to: address, template: REPORT_READY },
      values: { ...values, link: `${WEB_ORIGIN}/report-file/${token}` },
    });
}

interface Receivers {
  readonly people: readonly Account[];
  /** Of people without an account. */
  readonly addresses: readonly string[];
  /** Names of those who may not see all that it tells. */
  readonly leftOut: readonly string[];
}

/** Who gets it; nobody without an account where its maker may not send to them any more. */
async function receivers(
  ctx: Context,
  file: ReportFile,
  maker: Account,
  { needs }: OpenedSubject,
): Promise<Receivers> {
  const people: Account[] = [];
  const leftOut: string[] = [];
  for (const id of file.report.people) {
    const found = await findAccount(ctx.store, id).catch(() => undefined);
    if (!found || found.disabledAt !== null) continue;
    if (mayHave(found.account, needs)) people.push(found.account);
    else leftOut.push(found.account.name);
  }
  const outside = await addressesOf(ctx, file.reportId);
  const maySend = may(maker, 'reports.send');
  if (!maySend && outside.length > 0) leftOut.push(`${outside.length} without an account`);
  return { people, leftOut, addresses: maySend ? outside : [] };
}

/** Whether somebody may have what takes these permissions, of all there is. */
export function mayHave(account: Account, needs: OpenedSubject['needs']): boolean {
  return needs.every((n) => may(account, n)) && outsideScope(account, whole('report')()) === undefined;
}

/** The name of a file as it is fetched. */
export function fileName({ report, madeAt }: ReportFile): string {
  return `${report.name} ${(madeAt ?? '').slice(0, 10)}.${report.format}`;
}

export const MEDIA_TYPES: Readonly<Record<keyof typeof FORMATS, string>> = {
  pdf: 'application/pdf',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  csv: 'text/csv; charset=utf-8',
  json: 'application/json',
};
