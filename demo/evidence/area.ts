import { Report } from '../../src/core/evidence/reports/report.ts';
import { addReport } from '../../src/server/evidence/reports/reports.ts';
import { loadFigureHistory } from './figure-history.ts';
import type { Demo, DemoArea } from '../demo.ts';

/** What is wanted of some figures, and who looks after them. */
const AIMS: readonly (readonly [figure: string, target: number | null, owner: string])[] = [
  ['cases.requests.in-time', 0.95, 'Ines Abara'],
  ['websites.without-leak', 3, 'Priya Nand'],
  ['protection.levelled', 0.6, 'Tove Lindqvist'],
  ['retention.due', 1000, 'Sanne Holt'],
  ['access.wide', 5, 'Magnus Reyer'],
  ['obligations.readiness', 0.75, 'Ines Abara'],
];

async function load(demo: Demo): Promise<void> {
  const { tx } = demo;
  for (const [figure, target, owner] of AIMS)
    await tx.run('INSERT INTO figure_aim (figure, target, owner) VALUES (?, ?, ?)', [
      ...[figure, target, demo.person(owner)],
    ]);
  const ines = demo.person('Ines Abara');
  const zone = 'Europe/Copenhagen';
  const reports: readonly Partial<Report>[] = [
    {
      ...{ name: 'Officer’s board, every Monday', what: 'board:1', people: [ines] },
      schedule: { every: 'week', weekday: 1, day: 1, at: '07:00', zone },
    },
    {
      ...{
        name: 'The quarter for the directors',
        what: 'board:2',
        people: [ines, demo.person('Emil Varga')],
      },
      schedule: { every: 'quarter', weekday: 1, day: 3, at: '08:00', zone },
    },
    {
      ...{
        name: 'Requests of the month before',
        what: 'cases.requests',
        format: 'xlsx',
        range: 'last month',
      },
      ...{ people: [demo.person('Lotte Bruun')], keepDays: 365 },
      schedule: { every: 'month', weekday: 1, day: 2, at: '06:30', zone },
    },
    { name: 'Choices by region', what: 'figure:websites.allowing', by: 'region', format: 'csv' },
  ];
  for (const report of reports)
    await addReport(tx, demo.now, ines, Report.parse({ format: 'pdf', ...report }));
  demo.afterwards(() => loadFigureHistory(demo));
}

export const EVIDENCE: DemoArea = { area: 'evidence', load };
