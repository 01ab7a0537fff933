import type { PlainKind } from '../rules/plain-object.ts';
import { APPROVAL_POLICY } from './approval-policy.ts';
import type { ServerArea } from '../area.ts';
import { forgetOldUploads } from '../files/uploads.ts';
import { forgetOldMessages } from '../outbox/outbox.ts';
import { sendMessages } from '../outbox/send.ts';
import { forgetOldJobs } from '../jobs/job.ts';
import { ensureMonths } from '../store/partitions.ts';
import { RUN_WITNESS } from '../runs/run-witness.ts';
import { forgetOldItems, recountToday } from './today.ts';
import { keepTodayDay } from './today-days.ts';

const HOUR_MS = 3_600_000;
/** Jobs are told of in the ledger where they matter; what they were themselves is of use for so long. */
const JOBS_KEPT_MS = 90 * 24 * HOUR_MS;

export const DESK: ServerArea = {
  area: 'desk',
  objects: [{ kind: APPROVAL_POLICY as PlainKind<unknown>, see: 'today.read', edit: 'approvals.edit' }],
  witnesses: [RUN_WITNESS],
  upkeep: [
    {
      name: 'months of tables',
      everyMs: HOUR_MS,
      work: (ctx) => ensureMonths(ctx.store, ctx.now(), ctx.now()),
    },
    { name: 'messages', everyMs: 2000, work: (ctx) => sendMessages(ctx) },
    {
      name: 'old messages',
      everyMs: HOUR_MS,
      work: (ctx) => forgetOldMessages(ctx.store, new Date(ctx.now().getTime() - JOBS_KEPT_MS)),
    },
    { name: 'old files', everyMs: HOUR_MS, work: forgetOldUploads },
    { name: 'old items of Today', everyMs: 60_000, work: forgetOldItems },
    { name: 'days of Today', everyMs: HOUR_MS / 4, work: keepTodayDay },
    { name: 'count of Today', everyMs: HOUR_MS, work: (ctx) => ctx.store.transaction(recountToday) },
    {
      name: 'old jobs',
      everyMs: HOUR_MS,
      work: (ctx) => forgetOldJobs(ctx.store, new Date(ctx.now().getTime() - JOBS_KEPT_MS)),
    },
  ],
};
