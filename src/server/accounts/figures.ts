import { countFigure, daysBefore, type Each } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { toDatetime } from '../store/columns.ts';

const IDLE_DAYS = 90;
const WAITING_DAYS = 7;
const EACH_ACCOUNT: Each = { key: 'a.id', name: 'a.name', link: ({ key }) => `/account/${key}` };
const seen = { see: 'accounts.read', link: '/account' } as const;

export const ACCOUNT_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    ...{ id: 'accounts.idle', name: 'Accounts that nobody uses', unit: 'account', good: 'less' },
    definition: `Accounts that can sign in, are older than ${IDLE_DAYS} days, and with which nothing was done in as many.`,
    counts: (now) => [
      `SELECT COUNT(*) AS n FROM account a WHERE a.disabled_at IS NULL AND a.created_at < ?
         AND NOT EXISTS (SELECT 1 FROM permission_use u WHERE u.account_id = a.id AND u.last_on >= ?)`,
      [toDatetime(daysBefore(now, IDLE_DAYS)), daysBefore(now, IDLE_DAYS).toISOString().slice(0, 10)],
    ],
    of: 'SELECT COUNT(*) AS n FROM account WHERE disabled_at IS NULL',
    each: EACH_ACCOUNT,
  }),
  countFigure({
    ...seen,
    id: 'accounts.officers',
    name: 'Accounts that may do everything',
    definition: 'Accounts that can sign in and have the role of the privacy officer.',
    unit: 'account',
    good: 'less',
    counts: `SELECT COUNT(DISTINCT a.id) AS n FROM account a JOIN account_role r ON r.account_id = a.id
      WHERE r.role = 'officer' AND a.disabled_at IS NULL`,
    of: 'SELECT COUNT(*) AS n FROM account WHERE disabled_at IS NULL',
    each: EACH_ACCOUNT,
  }),
  countFigure({
    ...seen,
    id: 'accounts.programs-idle',
    name: 'Tokens that no program uses',
    definition: `Tokens of programs that still count, are older than ${IDLE_DAYS} days, and were not used in as many.`,
    unit: 'token',
    good: 'less',
    counts: (now) => [
      'SELECT COUNT(*) AS n FROM program WHERE ended_at IS NULL AND made_at < ? AND (used_at IS NULL OR used_at < ?)',
      [toDatetime(daysBefore(now, IDLE_DAYS)), toDatetime(daysBefore(now, IDLE_DAYS))],
    ],
    of: 'SELECT COUNT(*) AS n FROM program WHERE ended_at IS NULL',
    each: { key: 'id', name: 'name', link: () => '/account' },
  }),
  countFigure({
    ...seen,
    id: 'accounts.approvals-waiting',
    name: 'Changes that wait for a second person',
    definition: `Rules that somebody asked to put in force more than ${WAITING_DAYS} days ago, and that no second person answered.`,
    unit: 'rule',
    good: 'less',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM approval WHERE state = 'open' AND asked_at < ?",
      [toDatetime(daysBefore(now, WAITING_DAYS))],
    ],
    each: {
      key: 'id',
      name: '(SELECT name FROM rule r WHERE r.kind = approval.kind AND r.id = rule_id)',
      parts: { kind: 'kind' },
      link: () => '/account',
    },
  }),
  countFigure({
    ...seen,
    id: 'accounts.messages-failed',
    name: 'Messages that did not arrive',
    definition: `Letters and calls of the last ${IDLE_DAYS} days that could not be delivered, however often it was tried.`,
    unit: 'message',
    good: 'less',
    counts: (now) => [
      "SELECT COUNT(*) AS n FROM outgoing_message WHERE state = 'failed' AND created_at >= ?",
      [toDatetime(daysBefore(now, IDLE_DAYS))],
    ],
    of: (now) => [
      'SELECT COUNT(*) AS n FROM outgoing_message WHERE created_at >= ?',
      [toDatetime(daysBefore(now, IDLE_DAYS))],
    ],
    each: { key: 'object', name: 'object', parts: { kind: 'object' } },
  }),
];
