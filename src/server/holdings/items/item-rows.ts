import { z } from 'zod';
import type { ItemRow } from '../../../core/holdings/items/item-facts.ts';
import { BigId, Count, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const Row = z.object({
  id: BigId.transform(Number),
  source_id: BigId,
  path: z.string(),
  name: z.string(),
  size: Count,
  created_at: Instant.nullable(),
  changed_at: Instant.nullable(),
  owner: z.string(),
  format: z.string(),
  state: z.string(),
  document: z.string().nullable(),
  people: z.number(),
  level: z.string().nullable(),
  set_by: z.string().nullable(),
});
const Found = z.object({
  item_id: BigId.transform(Number),
  detector: z.string(),
  matches: z.number(),
  distinct_values: z.number(),
  confidence: z.number(),
  wrong: Count,
});

/**
 * Items as lenses see them, by id; those that are gone are left out, unless they are asked for. As in the index, findings that are only rehearsed,
 * or whose every value people judged wrong, do not count.
 */
export async function itemRows(
  store: Queries,
  ids: readonly number[],
  { gone = false }: { readonly gone?: boolean } = {},
): Promise<ReadonlyMap<number, ItemRow>> {
  if (ids.length === 0) return new Map();
  const rows = await store.all(
    Row,
    `SELECT i.id, i.source_id, p.path, COALESCE(i.title, i.name) AS name, i.size, i.created_at, i.changed_at, i.owner, i.format, i.state, i.document, i.people, l.level, l.set_by
     FROM item i JOIN place p ON p.id = i.place_id LEFT JOIN item_level l ON l.item_id = i.id
     WHERE i.id IN (?)${gone ? '' : " AND i.state <> 'gone'"} ORDER BY i.id`,
    [ids],
  );
  const found = await store.all(
    Found,
    `SELECT f.item_id, f.detector, f.matches, f.distinct_values, f.confidence,
       (SELECT COUNT(DISTINCT j.value_hash) FROM judgement j
        JOIN finding_match m ON m.item_id = j.item_id AND m.rehearsed = 0 AND m.detector = j.detector AND m.value_hash = j.value_hash
        WHERE j.item_id = f.item_id AND j.detector = f.detector AND j.holds = 0) AS wrong
     FROM finding f WHERE f.item_id IN (?) AND f.rehearsed = 0 ORDER BY f.item_id, f.detector`,
    [ids],
  );
  return new Map(
    rows.map((r): [number, ItemRow] => {
      const findings = found.filter((f) => f.item_id === r.id && f.wrong < f.distinct_values);
      const isKnown = findings.some((f) => f.detector === r.document);
      return [
        r.id,
        {
          id: r.id,
          source: r.source_id,
          place: r.path,
          name: r.name,
          size: r.size,
          created: r.created_at,
          changed: r.changed_at,
          owner: r.owner,
          format: r.format,
          state: r.state === 'unreadable' ? 'unreadable' : 'read',
          document: isKnown ? r.document : null,
          people: r.people,
          level: r.level === null || r.set_by === null ? undefined : { id: r.level, by: r.set_by },
          findings: findings.map(({ detector, matches, confidence }) => ({ detector, matches, confidence })),
        },
      ];
    }),
  );
}
