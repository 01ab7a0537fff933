import { z } from 'zod';
import { findLaw } from '../../../core/cases/requests/law/laws.ts';
import { REQUEST_LIST } from '../../../core/cases/requests/request-list.ts';
import { OUTCOMES, REQUEST_KINDS, requestNumber, WAYS_IN } from '../../../core/cases/requests/request.ts';
import type { Context } from '../../context.ts';
import type { Cell } from '../../http/csv.ts';
import { listCount, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { Count, Flag, Instant } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';

const Row = z
  .object({
    id: z.number(),
    kind: z.enum(REQUEST_KINDS),
    law: z.string(),
    region: z.string(),
    way: z.enum(WAYS_IN),
    receivedOn: z.string(),
    dueOn: z.string(),
    knownBy: z.string().nullable(),
    handlerId: z.number().nullable(),
    handler: z.string().nullable(),
    outcome: z.enum(OUTCOMES).nullable(),
    closedAt: Instant.nullable(),
    answeredOn: z.string().nullable(),
    next: z.string(),
    isWrong: Flag,
    isPaused: Count.transform((n) => n > 0),
    tasks: Count,
    tasksDone: Count,
  })
  .transform((r) => ({ ...r, lawName: findLaw(r.law).name }));
export type ListedRequest = z.infer<typeof Row>;

const SELECT = `r.id, r.kind, r.law, r.region, r.way, r.received_on AS receivedOn, r.due_on AS dueOn, r.known_by AS knownBy,
  r.handler AS handlerId, a.name AS handler, r.outcome, r.closed_at AS closedAt, r.answered_on AS answeredOn, r.next_words AS next,
  r.is_wrong AS isWrong,
  (SELECT COUNT(*) FROM request_pause p WHERE p.request_id = r.id AND p.to_on IS NULL) AS isPaused,
  (SELECT COUNT(*) FROM request_task t WHERE t.request_id = r.id) AS tasks,
  (SELECT COUNT(*) FROM request_task t WHERE t.request_id = r.id AND t.done_at IS NOT NULL) AS tasksDone`;

const SOURCE: ListSource<ListedRequest> = {
  list: REQUEST_LIST,
  select: SELECT,
  from: 'subject_request r LEFT JOIN account a ON a.id = r.handler',
  row: Row as unknown as z.ZodType<ListedRequest>,
  id: 'r.id',
  sorts: { due: 'r.due_on', received: 'r.received_on' },
  filters: {
    open: (where, open) => where.and(open === 'open' ? 'r.outcome IS NULL' : 'r.outcome IS NOT NULL'),
    due: (where, due) =>
      where.and(
        due === 'late'
          ? 'r.outcome IS NULL AND r.answered_on IS NULL AND r.due_on < CURRENT_DATE'
          : 'r.outcome IS NULL AND r.answered_on IS NULL AND r.due_on BETWEEN CURRENT_DATE AND CURRENT_DATE + INTERVAL 7 DAY',
      ),
    kind: (where, kind) => where.and('r.kind = ?', kind),
    law: (where, law) => where.and('r.law = ?', law),
    way: (where, way) => where.and('r.way = ?', way),
    outcome: (where, outcome) => where.and('r.outcome = ?', outcome),
    handler: (where, to) =>
      to === 'nobody' ? where.and('r.handler IS NULL') : where.and('r.handler = ?', Number(to) || -1),
    from: (where, day) => where.and('r.received_on >= ?', day),
    to: (where, day) => where.and('r.received_on <= ?', day),
  },
};

/** The one due first at the head. */
export function listRequests(
  store: Queries,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedRequest>> {
  return listPage(store, SOURCE, wish, { after, size });
}

export function countRequests(store: Queries, wish: WishInput): Promise<number> {
  return listCount(store, SOURCE, wish, new Where());
}

export function requestCells(r: ListedRequest): Readonly<Record<string, Cell>> {
  const days =
    r.answeredOn === null ? null : (Date.parse(r.answeredOn) - Date.parse(r.receivedOn)) / 86_400_000;
  return {
    ...{
      id: requestNumber(r.id),
      due: r.dueOn,
      received: r.receivedOn,
      kind: r.kind,
      region: r.region,
      law: r.lawName,
    },
    ...{
      handler: r.handler ?? '',
      way: r.way,
      known: r.knownBy ?? '',
      state: r.outcome ?? r.next,
      closed: r.closedAt ?? '',
    },
    ...{ days: days ?? '', late: r.answeredOn !== null && r.answeredOn > r.dueOn ? 'yes' : 'no' },
  };
}

export interface RequestFigures {
  readonly open: number;
  readonly late: number;
  readonly week: number;
  readonly days: number;
  /** Of the last year, by month. */
  readonly byMonth: readonly { readonly month: string; readonly n: number; readonly late: number }[];
  readonly byKind: readonly {
    readonly kind: string;
    readonly n: number;
    readonly late: number;
    readonly median: number | null;
  }[];
  /** Days from coming in to the answer: half took no longer, and nine of ten. */
  readonly median: number | null;
  readonly ninth: number | null;
}

/** Volumes, times and lateness of what came in over so many days. */
export async function requestFigures(
  { store, now }: Pick<Context, 'store' | 'now'>,
  days: number,
): Promise<RequestFigures> {
  const since = new Date(now().getTime() - days * 86_400_000).toISOString().slice(0, 10);
  const rows = await store.all(
    z.object({ kind: z.string(), month: z.string(), late: Flag, days: z.number().nullable() }),
    `SELECT kind, DATE_FORMAT(received_on, '%Y-%m') AS month, COALESCE(answered_on, CURRENT_DATE) > due_on AND (outcome IS NULL OR outcome IN ('answered', 'refused')) AS late,
       DATEDIFF(answered_on, received_on) AS days FROM subject_request WHERE received_on >= ? ORDER BY received_on LIMIT 100000`,
    [since],
  );
  const [open, late, week] = await Promise.all([
    countRequests(store, { open: 'open' }),
    countRequests(store, { due: 'late' }),
    countRequests(store, { due: 'week' }),
  ]);
  const group = <T extends string>(key: (r: (typeof rows)[number]) => T) => {
    const groups = new Map<T, (typeof rows)[number][]>();
    for (const r of rows) {
      const of = groups.get(key(r));
      if (of) of.push(r);
      else groups.set(key(r), [r]);
    }
    return [...groups];
  };
  const times = (of: readonly (typeof rows)[number][]) =>
    of.flatMap((r) => r.days ?? []).toSorted((a, b) => a - b);
  const all = times(rows);
  return {
    ...{ open, late, week, days },
    byMonth: group((r) => r.month).map(([month, of]) => ({
      month,
      n: of.length,
      late: of.filter((r) => r.late).length,
    })),
    byKind: group((r) => r.kind)
      .map(([kind, of]) => ({
        kind,
        n: of.length,
        late: of.filter((r) => r.late).length,
        median: quantile(times(of), 0.5),
      }))
      .toSorted((a, b) => b.n - a.n),
    ...{ median: quantile(all, 0.5), ninth: quantile(all, 0.9) },
  };
}

/** The smallest that at least such a share is no larger than. */
export function quantile(sorted: readonly number[], share: number): number | null {
  return sorted[Math.max(0, Math.ceil(sorted.length * share) - 1)] ?? null;
}
