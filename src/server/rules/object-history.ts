import { z } from 'zod';
import { apply, invert, type Change, type Json } from '../../core/rules/change.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { BigId, Instant, JsonColumn } from '../store/columns.ts';
import { decodeCursor, toPage, type Page } from '../store/page.ts';
import type { Queries } from '../store/pool.ts';
import { Where } from '../store/where.ts';
import { readObject, type PlainKind } from './plain-object.ts';
import type { Key } from './rule-kind.ts';

/** One edit of an object, or of the draft of a rule, as the ledger has it. */
export interface PastEdit {
  /** The version it made, from 1. */
  readonly revision: number;
  readonly at: string;
  /** `null` for somebody who has no account any more, or the program itself. */
  readonly by: string | null;
  /** What changed, a line each. */
  readonly words: readonly string[];
}

const Difference = z.object({
  path: z.array(z.string()),
  before: z.json().optional(),
  after: z.json().optional(),
});
const Detail = z.object({
  revision: z.number(),
  words: z.array(z.string()).default([]),
  change: z.array(Difference).default([]),
  redacted: z.boolean().optional(),
});
const Row = z.object({ id: BigId, at: Instant, name: z.string().nullable(), detail: JsonColumn(Detail) });

const SELECT =
  'SELECT e.id, e.at, a.name, e.detail FROM ledger_entry e LEFT JOIN account a ON a.id = e.actor';

/** Edits of an object, the latest first. */
export async function objectHistory(
  store: Queries,
  object: string,
  key: Key,
  after: string | undefined,
  size: number,
): Promise<Page<PastEdit>> {
  const where = new Where()
    .and('e.object = ?', object)
    .and('e.object_id = ?', String(key))
    .and('e.action = ?', `${object}.edit`)
    .after(['e.id'], 'down', after === undefined ? undefined : decodeCursor(after, z.tuple([z.string()])));
  const rows = await store.all(Row, `${SELECT} WHERE ${where.sql} ORDER BY e.id DESC LIMIT ?`, [
    ...where.params,
    size + 1,
  ]);
  const page = toPage(rows, size, (r) => [r.id]);
  return {
    next: page.next,
    rows: page.rows.map(({ at, name, detail }) => ({
      revision: detail.revision,
      at,
      by: name,
      words: detail.words,
    })),
  };
}

/**
 * An object as it was at a version: 0 before anybody edited it. The edits since are taken back, one after the other. Throws a
 * RefusedError (404) for a version that never was, (409) where the ledger does not keep all of an edit since.
 */
export async function objectAt<T>(
  store: Queries,
  kind: PlainKind<T>,
  key: Key,
  revision: number,
): Promise<{ readonly content: T; readonly revision: number }> {
  const now = await readObject(store, kind, key);
  if (revision > now.revision) throw notFound('version');
  const since = await store.all(
    Row,
    `${SELECT} WHERE e.object = ? AND e.object_id = ? AND e.action = ? AND JSON_VALUE(e.detail, '$.revision') > ? ORDER BY e.id DESC`,
    [kind.object, String(key), `${kind.object}.edit`, revision],
  );
  let content = now.content as Json;
  for (const { detail } of since) {
    if (detail.redacted)
      throw new RefusedError(
        `The ledger keeps only part of what changed in version ${detail.revision}; what was before cannot be made from it.`,
        [{ field: 'revision', message: 'Choose a later version.' }],
        409,
      );
    content = apply(content, invert(detail.change as Change));
  }
  return { content: kind.content.parse(content), revision };
}
