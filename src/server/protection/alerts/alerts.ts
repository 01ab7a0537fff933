import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import {
  afterAct,
  ALERT_STATES,
  isOpen,
  STEP_KINDS,
  type AlertAct,
} from '../../../core/protection/alerts/alert.ts';
import { ALERT_LIST } from '../../../core/protection/alerts/alert-list.ts';
import { CATEGORIES, SEVERITIES } from '../../../core/protection/lookouts/lookout.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import type { Cell } from '../../http/csv.ts';
import { listCount, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { Bytes, Count, Instant, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { findEvents, type KeptEvent } from '../activity/event-store.ts';
import { assignees } from './assignees.ts';
import { addStep, showAlerts } from './raise-alert.ts';

const Row = z.object({
  id: z.number(),
  lookout: z.string(),
  byKind: z.enum(['lookout', 'handling rule']),
  name: z.string(),
  severity: z.enum(SEVERITIES),
  category: z.enum(CATEGORIES),
  key: z.string(),
  raisedAt: Instant,
  lastAt: Instant,
  acts: z.number(),
  because: z.string(),
  state: z.enum(ALERT_STATES),
  note: z.string(),
  assignedTo: z.number().nullable(),
  assigned: z.string().nullable(),
  cause: z.number(),
});
export type ListedAlert = z.infer<typeof Row>;

const COLUMNS = `a.id, a.lookout, a.by_kind AS byKind, r.name, a.severity, a.category, a.event_key AS \`key\`, a.raised_at AS raisedAt,
  a.last_at AS lastAt, a.acts, a.because, a.state, a.note, a.assigned_to AS assignedTo, c.name AS assigned, a.cause`;
const TABLES =
  'alert a JOIN rule r ON r.kind = a.by_kind AND r.id = a.lookout LEFT JOIN account c ON c.id = a.assigned_to';
const OPEN = ['new', 'looked into'];
const ENDED = ['solved', 'set aside'];

const SOURCE: ListSource<ListedAlert> = {
  list: ALERT_LIST,
  select: COLUMNS,
  from: TABLES,
  row: Row,
  id: 'a.id',
  sorts: { at: 'a.last_at', acts: 'a.acts' },
  filters: {
    open: (where, open) => where.among('a.state', open === 'open' ? OPEN : ENDED),
    state: (where, state) => where.and('a.state = ?', state),
    severity: (where, severity) => where.and('a.severity = ?', severity),
    category: (where, category) => where.and('a.category = ?', category),
    lookout: (where, lookout) => where.and("a.by_kind = 'lookout' AND a.lookout = ?", lookout),
    rule: (where, rule) => where.and("a.by_kind = 'handling rule' AND a.lookout = ?", rule),
    assigned: (where, to) =>
      to === 'nobody' ? where.and('a.assigned_to IS NULL') : where.and('a.assigned_to = ?', Number(to) || -1),
    key: (where, key) => where.and('a.event_key = ?', key),
    from: (where, day) => where.and('a.last_at >= ?', day),
    to: (where, day) => where.and('a.last_at < ? + INTERVAL 1 DAY', day),
  },
};

/** The one raised last first. */
export function listAlerts(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedAlert>> {
  return listPage(store, SOURCE, wish, { after, size });
}

export function countAlerts(store: Queries, wish: WishInput): Promise<number> {
  return listCount(store, SOURCE, wish, new Where());
}

export function alertCells(a: ListedAlert): Readonly<Record<string, Cell>> {
  return {
    ...{ id: a.id, at: a.lastAt, raised: a.raisedAt, severity: a.severity, lookout: a.name, key: a.key },
    ...{ category: a.category, acts: a.acts, state: a.state, assigned: a.assigned ?? '' },
    ...{ because: a.because, note: a.note },
  };
}

export interface AlertStep {
  readonly at: string;
  readonly kind: (typeof STEP_KINDS)[number];
  readonly by: string | null;
  readonly words: string;
}

export interface ViewedAlert extends ListedAlert {
  readonly version: number;
  readonly tellAt: string | null;
  readonly steps: readonly AlertStep[];
  /** The newest of its acts that are kept, the newest first. */
  readonly events: readonly KeptEvent[];
  /** Open ones of the same cause. */
  readonly ofOneCause: readonly ListedAlert[];
  /** What the same lookout raised for the same before: how often, and how often that was none. */
  readonly before: { readonly raised: number; readonly setAside: number };
  readonly assignees: readonly { readonly id: number; readonly name: string }[];
}

const SHOWN_EVENTS = 200;

/** Throws a RefusedError (404). */
export async function viewAlert({ store }: Context, id: number): Promise<ViewedAlert> {
  const row = await store.one(
    Row.extend({ version: z.number(), tellAt: Instant.nullable() }),
    `SELECT ${COLUMNS}, a.version, a.tell_at AS tellAt FROM ${TABLES} WHERE a.id = ?`,
    [id],
  );
  if (!row) throw notFound('alert');
  const [steps, pairs, ofOneCause, before, all] = await Promise.all([
    store.all(
      z.object({ at: Instant, kind: z.enum(STEP_KINDS), by: z.string().nullable(), words: z.string() }),
      'SELECT s.at, s.kind, c.name AS `by`, s.words FROM alert_step s LEFT JOIN account c ON c.id = s.by_account WHERE s.alert_id = ? ORDER BY s.id LIMIT 500',
      [id],
    ),
    store.all(
      z.object({ at: Instant, id: Bytes }),
      `SELECT at, id FROM alert_event WHERE alert_id = ? ORDER BY at DESC LIMIT ${SHOWN_EVENTS}`,
      [id],
    ),
    store.all(
      Row,
      `SELECT ${COLUMNS} FROM ${TABLES} WHERE a.cause = ? AND a.id <> ? AND a.state IN (?) ORDER BY a.last_at DESC LIMIT 20`,
      [row.cause, id, OPEN],
    ),
    store.one(
      z.object({ raised: Count, setAside: Count }),
      "SELECT COUNT(*) AS raised, SUM(state = 'set aside') AS setAside FROM alert WHERE by_kind = ? AND lookout = ? AND event_key = ? AND id < ?",
      [row.byKind, row.lookout, row.key, id],
    ),
    assignees(store),
  ]);
  const events = await findEvents(
    store,
    pairs.map((p) => [p.at, p.id.toString('hex')]),
  );
  return {
    ...row,
    ...{ steps, ofOneCause, events: events.toReversed(), assignees: all },
    before: before ?? { raised: 0, setAside: 0 },
  };
}

/** Does something about an alert. Throws a RefusedError (404, 409), and (400) for somebody who may not look into alerts. */
export async function actOnAlert(ctx: Context, account: Account, id: number, act: AlertAct): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const row = await tx.one(
      z.object({ state: z.enum(ALERT_STATES) }),
      'SELECT state FROM alert WHERE id = ? FOR UPDATE',
      [id],
    );
    if (!row) throw notFound('alert');
    const to = afterAct(row.state, act);
    if (typeof to === 'object') throw new RefusedError(to.whyNot, [], 409);
    const now = ctx.now();
    const note = 'note' in act ? act.note : '';
    let words = note;
    if (act.act === 'assign') {
      const who = act.to === null ? null : (await assignees(tx)).find((a) => a.id === act.to);
      if (who === undefined)
        throw new RefusedError('They may not look into alerts.', [
          { field: 'to', message: 'Choose somebody whose role includes it.' },
        ]);
      words = who ? who.name : 'nobody';
      await tx.run('UPDATE alert SET assigned_to = ? WHERE id = ?', [act.to, id]);
    }
    if (to !== row.state)
      await tx.run('UPDATE alert SET state = ?, note = ?, ended_at = ? WHERE id = ?', [
        ...[to, isOpen(to) ? '' : note, isOpen(to) ? null : toDatetime(now), id],
      ]);
    // Whoever takes up what is nobody’s has it.
    if (act.act === 'look into')
      await tx.run('UPDATE alert SET assigned_to = COALESCE(assigned_to, ?) WHERE id = ?', [account.id, id]);
    await addStep(tx, now, id, act.act, account.id, words);
    await record(tx, now, {
      ...{
        actor: account.id,
        action: `alert.${act.act.replaceAll(' ', '-')}`,
        object: 'alert',
        objectId: id,
      },
      detail: act.act === 'assign' ? { to: act.to } : { state: to },
    });
    await showAlerts(tx);
  });
}

/** The same with many; what became of those that could not be. */
export async function actOnAlerts(
  ctx: Context,
  account: Account,
  ids: readonly number[],
  act: AlertAct,
): Promise<{ readonly done: number; readonly refused: readonly { id: number; why: string }[] }> {
  const refused: { id: number; why: string }[] = [];
  for (const id of ids)
    try {
      await actOnAlert(ctx, account, id, act);
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      refused.push({ id, why: error.message });
    }
  return { done: ids.length - refused.length, refused };
}

export interface AlertTrends {
  readonly days: number;
  /** Raised on each day, of each category. */
  readonly byDay: readonly { readonly day: string; readonly category: string; readonly n: number }[];
  readonly byLookout: readonly {
    readonly lookout: string;
    readonly byKind: 'lookout' | 'handling rule';
    readonly name: string;
    readonly raised: number;
    readonly solved: number;
    readonly setAside: number;
  }[];
  readonly bySeverity: Readonly<Record<(typeof SEVERITIES)[number], number>>;
  /** Hours until half of those that ended in this time had ended. */
  readonly hoursToEnd: number | null;
}

/** What was raised over the last days, by when it was first. */
export async function alertTrends({ store, now }: Context, days: number): Promise<AlertTrends> {
  const since = toDatetime(new Date(now().getTime() - days * 86_400_000));
  const [byDay, byLookout, severities, times] = await Promise.all([
    store.all(
      z.object({ day: z.string(), category: z.string(), n: Count }),
      'SELECT DATE(raised_at) AS day, category, COUNT(*) AS n FROM alert WHERE raised_at >= ? GROUP BY day, category ORDER BY day',
      [since],
    ),
    store.all(
      z.object({
        ...{ lookout: z.string(), byKind: z.enum(['lookout', 'handling rule']), name: z.string() },
        ...{ raised: Count, solved: Count, setAside: Count },
      }),
      `SELECT a.lookout, a.by_kind AS byKind, r.name, COUNT(*) AS raised, SUM(a.state = 'solved') AS solved, SUM(a.state = 'set aside') AS setAside
       FROM alert a JOIN rule r ON r.kind = a.by_kind AND r.id = a.lookout WHERE a.raised_at >= ?
       GROUP BY a.by_kind, a.lookout, r.name ORDER BY raised DESC, r.name LIMIT 50`,
      [since],
    ),
    store.all(
      z.object({ severity: z.enum(SEVERITIES), n: Count }),
      'SELECT severity, COUNT(*) AS n FROM alert WHERE raised_at >= ? GROUP BY severity',
      [since],
    ),
    store.all(
      z.object({ hours: z.coerce.number() }),
      `SELECT TIMESTAMPDIFF(MINUTE, raised_at, ended_at) / 60 AS hours FROM alert
       WHERE ended_at >= ? AND state IN (?) ORDER BY hours LIMIT 10000`,
      [since, ENDED],
    ),
  ]);
  const counted = new Map(severities.map((s) => [s.severity, s.n]));
  return {
    ...{ days, byDay, byLookout },
    bySeverity: {
      low: counted.get('low') ?? 0,
      medium: counted.get('medium') ?? 0,
      high: counted.get('high') ?? 0,
    },
    hoursToEnd: times[Math.floor((times.length - 1) / 2)]?.hours ?? null,
  };
}
