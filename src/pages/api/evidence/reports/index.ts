import { z } from 'zod';
import { Report } from '../../../../core/evidence/reports/report.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import { reportSubjects } from '../../../../server/desk/report-subject.ts';
import { addReport, listReports, mayHaveReport } from '../../../../server/evidence/reports/reports.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { whole } from '../../../../server/http/whole.ts';

/** The reports that an account has, or that are for it. */
export const GET = endpoint({
  action: 'reports.read',
  input: z.object({}),
  object: whole('report'),
  run: async ({ ctx, account }) => {
    const known = new Map((await reportSubjects(ctx, account)).map((s) => [s.id, s.name]));
    return (await listReports(ctx.store))
      .filter((r) => mayHaveReport(account, r, 'see'))
      .map(({ id, report, nextAt, lastAt, madeBy }) => ({
        ...{ id, name: report.name, what: known.get(report.what) ?? report.what, format: report.format },
        ...{ schedule: report.schedule, nextAt, lastAt, madeBy: madeBy?.name ?? null },
      }));
  },
});

export const POST = endpoint({
  action: 'reports.edit',
  input: Report,
  object: whole('report'),
  run: async ({ ctx, account, input }) => {
    const subjects = await reportSubjects(ctx, account);
    if (!subjects.some((s) => s.id === input.what))
      throw new RefusedError('There is nothing of that name to tell of.', [
        { field: 'what', message: 'Choose one of those that are offered.' },
      ]);
    return { id: await ctx.store.transaction((tx) => addReport(tx, ctx.now(), account.id, input)) };
  },
});
