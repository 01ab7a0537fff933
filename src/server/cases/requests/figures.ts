import { z } from 'zod';
import { count } from '../../figures/count.ts';
import type { Figure } from '../../figures/figure.ts';
import { quantile } from './requests.ts';

const seen = { see: 'cases.read', unit: 'request' } as const;
const YEAR = 'received_on >= CURRENT_DATE - INTERVAL 365 DAY';

export const REQUEST_FIGURES: readonly Figure[] = [
  {
    ...seen,
    ...{ id: 'cases.requests.open', name: 'Requests that are open', good: 'neither' },
    definition: 'Requests of people that came in and are not closed.',
    link: '/cases/requests?open=open',
    value: async (store) => ({
      value: await count(store, 'SELECT COUNT(*) AS n FROM subject_request WHERE outcome IS NULL'),
    }),
  },
  {
    ...seen,
    ...{ id: 'cases.requests.late', name: 'Requests that are late', good: 'less' },
    definition: 'Open requests that have no answer although the time that the law leaves for it is over.',
    link: '/cases/requests?due=late',
    value: async (store) => ({
      value: await count(
        store,
        'SELECT COUNT(*) AS n FROM subject_request WHERE outcome IS NULL AND answered_on IS NULL AND due_on < CURRENT_DATE',
      ),
      of: await count(store, 'SELECT COUNT(*) AS n FROM subject_request WHERE outcome IS NULL'),
    }),
  },
  {
    ...seen,
    ...{ id: 'cases.requests.in-time', name: 'Requests answered in time', good: 'more' },
    definition:
      'Of the requests that came in within a year and were answered, those answered by the day the law names.',
    link: '/cases/requests?open=closed',
    value: async (store) => ({
      value: await count(
        store,
        `SELECT COUNT(*) AS n FROM subject_request WHERE ${YEAR} AND answered_on <= due_on`,
      ),
      of: await count(
        store,
        `SELECT COUNT(*) AS n FROM subject_request WHERE ${YEAR} AND answered_on IS NOT NULL`,
      ),
    }),
  },
  {
    ...seen,
    ...{ id: 'cases.requests.days', name: 'Days until half are answered', unit: 'day', good: 'less' },
    definition:
      'Of the requests that came in within a year and were answered, the days within which half of them were.',
    link: '/cases/requests?open=closed',
    value: async (store) => {
      const rows = await store.all(
        z.object({ days: z.number() }),
        `SELECT DATEDIFF(answered_on, received_on) AS days FROM subject_request WHERE ${YEAR} AND answered_on IS NOT NULL ORDER BY days LIMIT 100000`,
      );
      return {
        value:
          quantile(
            rows.map((r) => r.days),
            0.5,
          ) ?? 0,
      };
    },
  },
];
