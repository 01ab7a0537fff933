import { z } from 'zod';
import { GROUNDS } from '../../../../core/cases/requests/covers/cover.ts';
import { BigId, Bytes, Instant } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { ORIGINS } from '../search/keep-item.ts';

export const ItemRow = z.object({
  id: BigId,
  origin: z.enum(ORIGINS),
  sourceId: z.number().nullable(),
  source: z.string().nullable(),
  systemId: z.number().nullable(),
  system: z.string().nullable(),
  itemId: BigId.nullable(),
  path: z.string(),
  name: z.string(),
  title: z.string(),
  format: z.string(),
  changedAt: Instant.nullable(),
  foundBy: z.string().transform((t) => (t === '' ? [] : t.split(','))),
  sure: z.enum(['certain', 'ask', 'namesake']),
  theirs: z.enum(['yes', 'no', 'ask']),
  bearerHash: Bytes.transform((b) => b.toString('hex')),
  covers: z.number(),
  doubts: z.number(),
  people: z.number(),
  rowsTheirs: z.number(),
  rowsLeft: z.number(),
  state: z.enum(['to look over', 'right', 'left out', 'unreadable']),
  lookedBy: z.string().nullable(),
  lookedAt: Instant.nullable(),
  ground: z.enum([...GROUNDS, 'kept']).nullable(),
  reason: z.string(),
  problem: z.string(),
  changeState: z.string().nullable(),
  fate: z.string().nullable(),
  fateWhy: z.string(),
  fateArticle: z.string(),
});
export type RequestItem = z.infer<typeof ItemRow>;

export const ITEM_COLUMNS = `i.id, i.origin, i.source_id AS sourceId, o.name AS source, i.system_id AS systemId, s.name AS \`system\`, i.item_id AS itemId,
  i.path, i.name, i.title, i.format, i.changed_at AS changedAt, i.found_by AS foundBy, i.sure, i.theirs, i.bearer_hash AS bearerHash,
  i.covers, i.doubts, i.people, i.rows_theirs AS rowsTheirs, i.rows_left AS rowsLeft, i.state, a.name AS lookedBy,
  i.looked_at AS lookedAt, i.ground, i.reason, i.problem, i.change_state AS changeState, i.fate, i.fate_why AS fateWhy, i.fate_article AS fateArticle`;
export const ITEM_TABLES = `request_item i LEFT JOIN source o ON o.id = i.source_id LEFT JOIN data_system s ON s.id = i.system_id
  LEFT JOIN account a ON a.id = i.looked_by`;

const MOST_LISTED = 2000;

/** What is held of whom a request is about: what needs a hand first, then by system. */
export function listItems(store: Queries, request: number): Promise<readonly RequestItem[]> {
  return store.all(
    ItemRow,
    `SELECT ${ITEM_COLUMNS} FROM ${ITEM_TABLES} WHERE i.request_id = ?
     ORDER BY s.name IS NULL, s.name, o.name, i.theirs <> 'ask', i.state <> 'to look over', i.path, i.id LIMIT ${MOST_LISTED}`,
    [request],
  );
}
