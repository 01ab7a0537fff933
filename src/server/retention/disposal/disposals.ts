import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { THEN, type Then } from '../../../core/retention/verdict/retention-verdict.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { BigId, Count, Instant } from '../../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';

export const DISPOSAL_STATES = ['asked', 'agreed', 'running', 'done', 'refused'] as const;
export type DisposalState = (typeof DISPOSAL_STATES)[number];
export const ITEM_STATES = ['waiting', 'kept', 'begun', 'aside', 'gone', 'failed', 'back'] as const;
export type DisposalItemState = (typeof ITEM_STATES)[number];

export const DisposalRow = z.object({
  id: BigId,
  rule_id: z.string(),
  rule_version: z.number(),
  rule_name: z.string(),
  follows: z.enum(['ask', 'delete', 'archive', 'anonymise']),
  staff_id: z.number().nullable(),
  owner: z.string(),
  state: z.enum(DISPOSAL_STATES),
  needed: z.number(),
  why_needed: z.string(),
  answer_by: Instant.nullable(),
  silent: z.enum(['officer', 'delete', 'keep']),
  undo_days: z.number(),
  items: z.number(),
  made_at: Instant,
  agreed_at: Instant.nullable(),
  run_id: BigId.nullable(),
  ended_at: Instant.nullable(),
});
export type DisposalRow = z.infer<typeof DisposalRow>;
export const DISPOSAL_COLUMNS = Object.keys(DisposalRow.shape)
  .map((c) => `d.${c}`)
  .join(', ');

/** Throws a RefusedError (404). */
export async function findDisposal(store: Queries, id: string | number, lock = false): Promise<DisposalRow> {
  const row = await store.one(
    DisposalRow,
    `SELECT ${DISPOSAL_COLUMNS} FROM disposal d WHERE d.id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!row) throw notFound('disposal');
  return row;
}

export interface ListedDisposal {
  readonly id: string;
  readonly rule: string;
  readonly owner: string;
  readonly state: DisposalState;
  readonly items: number;
  readonly madeAt: string;
  readonly answerBy: string | null;
  readonly needed: number;
  readonly agreed: number;
  readonly certified: boolean;
}

/** What waits first, then the newest. */
export async function listDisposals(store: Queries): Promise<readonly ListedDisposal[]> {
  const rows = await store.all(
    DisposalRow.pick({
      id: true,
      rule_name: true,
      owner: true,
      state: true,
      items: true,
      made_at: true,
      answer_by: true,
      needed: true,
    }).extend({ agreed: Count, certified: Count }),
    `SELECT d.id, d.rule_name, d.owner, d.state, d.items, d.made_at, d.answer_by, d.needed,
       (SELECT COUNT(*) FROM disposal_word w WHERE w.disposal_id = d.id AND w.agrees) AS agreed,
       d.certificate IS NOT NULL AS certified
     FROM disposal d ORDER BY d.state IN ('done', 'refused'), d.id DESC LIMIT 300`,
  );
  return rows.map(({ rule_name, made_at, answer_by, certified, ...rest }) => ({
    ...rest,
    rule: rule_name,
    madeAt: made_at,
    answerBy: answer_by,
    certified: certified > 0,
  }));
}

export interface SaidWord {
  readonly name: string;
  readonly agrees: boolean;
  readonly reason: string;
  readonly at: string;
}

export interface DisposalView {
  readonly id: string;
  readonly rule: { readonly id: string; readonly name: string; readonly version: number };
  readonly follows: string;
  /** What is done to its items. */
  readonly act: 'delete' | 'archive' | 'anonymise';
  readonly owner: string;
  readonly state: DisposalState;
  readonly items: number;
  readonly needed: number;
  readonly whyNeeded: string;
  readonly answerBy: string | null;
  readonly silent: DisposalRow['silent'];
  readonly undoDays: number;
  readonly madeAt: string;
  readonly endedAt: string | null;
  readonly words: readonly SaidWord[];
  /** The asker has said a word already. */
  readonly said: boolean;
  readonly run: string | null;
  readonly counts: Readonly<Partial<Record<DisposalItemState, number>>>;
  readonly bytes: number;
  /** The last day on which what went can be put back; null for none. */
  readonly backUntil: string | null;
  readonly certified: boolean;
}

export async function viewDisposal(
  store: Queries,
  id: string,
  asker?: { readonly email: string },
): Promise<DisposalView> {
  const [row, words, counts] = await Promise.all([
    findDisposal(store, id),
    store.all(
      z.object({ name: z.string(), address: z.string(), agrees: Count, reason: z.string(), at: Instant }),
      'SELECT name, address, agrees, reason, at FROM disposal_word WHERE disposal_id = ? ORDER BY id',
      [id],
    ),
    store.all(
      z.object({ state: z.enum(ITEM_STATES), n: Count, bytes: Count, aside: Instant.nullable() }),
      'SELECT state, COUNT(*) AS n, SUM(size) AS bytes, MAX(aside_until) AS aside FROM disposal_item WHERE disposal_id = ? GROUP BY state',
      [id],
    ),
  ]);
  const certified = await store.one(
    z.object({ n: Count }),
    'SELECT COUNT(*) AS n FROM disposal WHERE id = ? AND certificate IS NOT NULL',
    [id],
  );
  return {
    id: row.id,
    rule: { id: row.rule_id, name: row.rule_name, version: row.rule_version },
    follows: THEN[row.follows satisfies Then],
    act: row.follows === 'ask' ? 'delete' : row.follows,
    owner: row.owner,
    state: row.state,
    items: row.items,
    needed: row.needed,
    whyNeeded: row.why_needed,
    answerBy: row.answer_by,
    silent: row.silent,
    undoDays: row.undo_days,
    madeAt: row.made_at,
    endedAt: row.ended_at,
    words: words.map(({ address: _, agrees, ...w }) => ({ ...w, agrees: agrees > 0 })),
    said: asker !== undefined && words.some((w) => w.address === asker.email.toLowerCase()),
    run: row.run_id,
    counts: Object.fromEntries(counts.map((c) => [c.state, c.n])),
    bytes: counts.reduce((n, c) => n + c.bytes, 0),
    backUntil: counts.find((c) => c.state === 'aside')?.aside ?? null,
    certified: (certified?.n ?? 0) > 0,
  };
}

export interface DisposalItem {
  readonly id: string;
  readonly name: string;
  readonly place: string;
  readonly state: DisposalItemState;
  readonly goes: string;
  readonly size: number;
  readonly people: number;
  readonly why: string;
}

const Item = z.object({
  item_id: BigId.transform(Number),
  name: z.string().nullable(),
  source: z.string().nullable(),
  path: z.string().nullable(),
  state: z.enum(ITEM_STATES),
  goes: z.string(),
  size: Count,
  people: z.number().nullable(),
  why: z.string(),
});

/** Its items, by number; a page. */
export async function disposalItems(
  store: Queries,
  id: string,
  {
    after,
    size,
    state,
    account,
  }: {
    readonly after?: string | undefined;
    readonly size: number;
    readonly state?: DisposalItemState | undefined;
    readonly account?: Pick<Account, 'scope'>;
  },
): Promise<Page<DisposalItem>> {
  const where = new Where().and('d.disposal_id = ?', id);
  if (state) where.and('d.state = ?', state);
  if (after !== undefined) where.and('d.item_id > ?', decodeCursor(after, z.tuple([z.number()]))[0]);
  if (account) keepToScope(where, account, 'source', 'd.source_id');
  const rows = await store.all(
    Item,
    `SELECT d.item_id, COALESCE(i.title, i.name) AS name, s.name AS source, p.path, d.state, d.goes, d.size, i.people, d.why
     FROM disposal_item d LEFT JOIN item i ON i.id = d.item_id LEFT JOIN source s ON s.id = d.source_id LEFT JOIN place p ON p.id = i.place_id
     WHERE ${where.sql} ORDER BY d.item_id LIMIT ?`,
    [...where.params, size + 1],
  );
  const page = toPage(rows, size, (r) => [r.item_id]);
  return {
    ...page,
    rows: page.rows.map((r) => ({
      id: String(r.item_id),
      name: r.name ?? `item ${r.item_id}`,
      place: [r.source ?? 'a source that is gone', ...(r.path ?? '').split('/').filter(Boolean)].join(' / '),
      state: r.state,
      goes: r.goes,
      size: r.size,
      people: r.people ?? 0,
      why: r.why,
    })),
  };
}

/** What one owner is asked now, the oldest first. */
export async function askedOf(store: Queries, staff: number): Promise<readonly string[]> {
  const rows = await store.all(
    z.object({ id: BigId }),
    "SELECT id FROM disposal WHERE staff_id = ? AND state = 'asked' ORDER BY id LIMIT 50",
    [staff],
  );
  return rows.map((r) => r.id);
}

/** For endpoints about one disposal: the sources that its items lie in. */
export async function disposalObject({ store }: Context, { id }: { id: string }) {
  const rows = await store.all(
    z.object({ source_id: z.number() }),
    'SELECT DISTINCT source_id FROM disposal_item WHERE disposal_id = ?',
    [id],
  );
  if (rows.length === 0) throw new RefusedError('There is no such disposal.', [], 404);
  return {
    kind: 'disposal',
    id,
    within: rows.map((r) => ({ kind: 'source', id: String(r.source_id) })),
  };
}
