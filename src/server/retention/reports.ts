import type { Reportable } from '../reports/reportable.ts';
import { scheduleCells } from './schedule/export-schedule.ts';

export const RETENTION_REPORTS: readonly Reportable[] = [
  {
    id: 'retention.schedule',
    name: 'Retention schedule',
    see: 'retention.read',
    takes: [],
    rows: (ctx) => scheduleCells(ctx),
  },
];
