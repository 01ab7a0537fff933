import { z } from 'zod';
import { countFigure, rowsOf, type Each } from '../../figures/count-figure.ts';
import type { Figure } from '../../figures/figure.ts';
import { Count } from '../../store/columns.ts';

const seen = { see: 'cases.read', unit: 'request' } as const;
const YEAR = 'r.received_on >= CURRENT_DATE - INTERVAL 365 DAY';
const OPEN = 'SELECT COUNT(*) AS n FROM subject_request r WHERE r.outcome IS NULL';
const ANSWERED = `SELECT COUNT(*) AS n FROM subject_request r WHERE ${YEAR} AND r.answered_on IS NOT NULL`;
/** How many came lately. */
const CAME_DAYS = 90;

const EACH: Each = {
  key: 'r.id',
  name: "CONCAT('Request ', r.id, ', ', r.kind)",
  parts: { law: 'r.law', region: "NULLIF(r.region, '')", kind: 'r.kind', site: "NULLIF(r.site, '')" },
  link: ({ key }) => `/cases/requests/${key}`,
};

export const REQUEST_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    ...{ id: 'cases.requests.open', name: 'Requests that are open', good: 'neither' },
    definition: 'Requests of people that came in and are not closed.',
    link: '/cases/requests?open=open',
    counts: OPEN,
    each: EACH,
  }),
  countFigure({
    ...seen,
    ...{ id: 'cases.requests.came', name: 'Requests that came in', good: 'neither', sampledDays: CAME_DAYS },
    definition: `Requests of people that came in within the last ${CAME_DAYS} days.`,
    link: '/cases/requests',
    counts: `SELECT COUNT(*) AS n FROM subject_request r WHERE r.received_on >= CURRENT_DATE - INTERVAL ${CAME_DAYS} DAY`,
    each: EACH,
  }),
  countFigure({
    ...seen,
    ...{ id: 'cases.requests.late', name: 'Requests that are late', good: 'less' },
    definition: 'Open requests that have no answer although the time that the law leaves for it is over.',
    link: '/cases/requests?due=late',
    counts: `${OPEN} AND r.answered_on IS NULL AND r.due_on < CURRENT_DATE`,
    of: OPEN,
    each: EACH,
  }),
  countFigure({
    ...seen,
    ...{ id: 'cases.requests.in-time', name: 'Requests answered in time', good: 'more', asShare: true },
    definition:
      'Of the requests that came in within a year and were answered, those answered by the day the law names.',
    link: '/cases/requests?open=closed',
    counts: `${ANSWERED} AND r.answered_on <= r.due_on`,
    of: ANSWERED,
    each: EACH,
  }),
  {
    ...seen,
    ...{ id: 'cases.requests.days', name: 'Days until half are answered', unit: 'day', good: 'less' },
    definition:
      'Of the requests that came in within a year and were answered, the days within which half of them were.',
    link: '/cases/requests?open=closed',
    ...{ from: 'middle', parts: ['law', 'region', 'kind', 'site'] },
    value: async (store) => {
      // The smallest number of days within which at least half were.
      const row = await store.one(
        z.object({ days: Count }),
        `SELECT days FROM (SELECT DATEDIFF(r.answered_on, r.received_on) AS days, ROW_NUMBER() OVER (ORDER BY DATEDIFF(r.answered_on, r.received_on)) AS at, COUNT(*) OVER () AS \`all\`
           FROM subject_request r WHERE ${YEAR} AND r.answered_on IS NOT NULL) AS d WHERE at = CEIL(\`all\` / 2)`,
      );
      return { value: row?.days ?? null };
    },
    rows: (store) =>
      rowsOf(
        store,
        `SELECT MAX(DATEDIFF(r.answered_on, r.received_on)) AS n FROM subject_request r WHERE ${YEAR} AND r.answered_on IS NOT NULL`,
        EACH,
      ),
  },
];
