import { z } from 'zod';
import {
  BLOCK_ITEMS,
  buildBlock,
  type IndexedItem,
  type ItemBlock,
} from '../../../../core/holdings/items/item-index.ts';
import type { ItemFinding } from '../../../../core/holdings/items/item-facts.ts';
import type { Queries } from '../../../store/pool.ts';

/** Rows of which there are hundreds of thousands, written here alone, are not checked one by one. */
const Raw = z.custom<Record<string, unknown>>();

const NONE = new Uint8Array();

/** The block as its rows are now. Findings that are only rehearsed, or that people judged wrong, do not count. */
export async function readBlock(store: Queries, block: number): Promise<ItemBlock> {
  const range = [block * BLOCK_ITEMS, (block + 1) * BLOCK_ITEMS - 1];
  const wrong = new Map<string, number>();
  for (const r of await store.all(
    Raw,
    // A value that is not in the item any more says nothing of those that are.
    `SELECT j.item_id, j.detector, COUNT(DISTINCT j.value_hash) AS n FROM judgement j
     JOIN finding_match m ON m.item_id = j.item_id AND m.rehearsed = 0 AND m.detector = j.detector AND m.value_hash = j.value_hash
     WHERE j.item_id BETWEEN ? AND ? AND j.holds = 0 GROUP BY j.item_id, j.detector`,
    range,
  ))
    wrong.set(`${String(r['item_id'])} ${String(r['detector'])}`, Number(r['n']));
  const findings = new Map<number, ItemFinding[]>();
  for (const r of await store.all(
    Raw,
    'SELECT item_id, detector, matches, distinct_values, confidence FROM finding WHERE item_id BETWEEN ? AND ? AND rehearsed = 0 ORDER BY item_id, detector',
    range,
  )) {
    const [id, detector] = [Number(r['item_id']), String(r['detector'])];
    if ((wrong.get(`${id} ${detector}`) ?? 0) >= Number(r['distinct_values'])) continue;
    const found = { detector, matches: Number(r['matches']), confidence: Number(r['confidence']) };
    const known = findings.get(id);
    if (known) known.push(found);
    else findings.set(id, [found]);
  }
  const people = new Map<number, Uint8Array>();
  for (const r of await store.all(
    Raw,
    'SELECT item_id, hashes FROM item_people WHERE item_id BETWEEN ? AND ?',
    range,
  ))
    people.set(Number(r['item_id']), r['hashes'] as Uint8Array);
  const rows = await store.all(
    Raw,
    `SELECT i.id, i.source_id, p.path, COALESCE(i.title, i.name) AS name, i.size, i.created_at, i.changed_at, i.owner, i.format, i.state, i.document, i.people, l.level, l.set_by
     FROM item i JOIN place p ON p.id = i.place_id LEFT JOIN item_level l ON l.item_id = i.id WHERE i.id BETWEEN ? AND ? AND i.state <> 'gone' ORDER BY i.id`,
    range,
  );
  return buildBlock(
    rows.map((r): IndexedItem => {
      const id = Number(r['id']);
      const found = findings.get(id) ?? [];
      const document = r['document'] === null ? null : String(r['document']);
      return {
        id,
        source: String(r['source_id']),
        place: String(r['path']),
        name: String(r['name']),
        size: Number(r['size']),
        created: instant(r['created_at']),
        changed: instant(r['changed_at']),
        owner: String(r['owner']),
        format: String(r['format']),
        state: r['state'] === 'unreadable' ? 'unreadable' : 'read',
        document: document !== null && found.some((f) => f.detector === document) ? document : null,
        people: Number(r['people']),
        level: r['level'] ? { id: String(r['level']), by: String(r['set_by']) } : undefined,
        findings: found,
        hashes: people.get(id) ?? NONE,
      };
    }),
  );
}

function instant(value: unknown): string | null {
  return value === null ? null : `${String(value).replace(' ', 'T')}Z`;
}
