import { z } from 'zod';
import type { Figure } from '../figures/figure.ts';
import { Count, toDatetime } from '../store/columns.ts';

const IDLE_DAYS = 90;

export const ACCOUNT_FIGURES: readonly Figure[] = [
  {
    id: 'accounts.idle',
    name: 'Accounts that nobody uses',
    definition: `Accounts that can sign in, are older than ${IDLE_DAYS} days, and with which nothing was done in as many.`,
    unit: 'account',
    good: 'less',
    see: 'accounts.read',
    link: '/account',
    async value(store, now) {
      const since = new Date(now.getTime() - IDLE_DAYS * 86_400_000);
      const row = await store.one(
        z.object({ idle: Count, all: Count }),
        `SELECT SUM(a.created_at < ? AND NOT EXISTS (SELECT 1 FROM permission_use u WHERE u.account_id = a.id AND u.last_on >= ?)) AS idle,
           COUNT(*) AS \`all\` FROM account a WHERE a.disabled_at IS NULL`,
        [toDatetime(since), since.toISOString().slice(0, 10)],
      );
      return { value: row?.idle ?? 0, of: row?.all ?? 0 };
    },
  },
];
