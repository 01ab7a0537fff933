import { createHmac } from 'node:crypto';
import { z } from 'zod';
import { MATCHES_KEPT } from '../../../core/holdings/items/gathered.ts';
import { identifiesPerson, personHash } from '../../../core/holdings/items/people.ts';
import { comparable } from '../../../core/text/mask.ts';
import type { Context } from '../../context.ts';
import { BigId, Bytes } from '../../store/columns.ts';
import { valueKey } from '../surveys/reading-setting.ts';

/** What somebody is looked for by, in clear. */
export interface PersonWanted {
  /** Values that are theirs alone: addresses, numbers. */
  readonly values: readonly string[];
  /** In the ways they may be written. */
  readonly names: readonly string[];
  readonly births: readonly string[];
  /** Phones, in the ways they may be written. */
  readonly others: readonly string[];
}

/** How an item was come by: it holds a value; or it holds more values than are kept, of which one may be. */
export interface CandidateItem {
  readonly id: number;
  readonly because: 'a value' | 'a name' | 'more than is kept';
}

/** What somebody can be told by again, 8 bytes each, as items keep it of the people in them. */
export function personKeys(ctx: Pick<Context, 'settings'>, wanted: PersonWanted): readonly Buffer[] {
  const hash = keyed(ctx);
  const pairs = wanted.names.flatMap((n) => wanted.births.map((b) => `${hash(n)} ${hash(b)}`));
  return [...new Set([...wanted.values.map(hash), ...pairs].map(personHash))].map((h) =>
    Buffer.from(h, 'hex'),
  );
}

function keyed(ctx: Pick<Context, 'settings'>): (value: string) => string {
  const key = valueKey(ctx);
  return (value) => createHmac('sha256', key).update(comparable(value)).digest('hex').slice(0, 32);
}

const PAGE = 2000;

/** Items that hold somebody, by their keyed hashes; those that may are told apart, and have to be read. In order of their ids. */
export async function itemsOfPerson(ctx: Context, wanted: PersonWanted): Promise<readonly CandidateItem[]> {
  const found = new Map<number, CandidateItem['because']>();
  const put = (id: number, because: CandidateItem['because']) => {
    if (!found.has(id)) found.set(id, because);
  };
  for (const id of await itemsWithPeople(ctx, personKeys(ctx, wanted))) put(id, 'a value');
  const hash = keyed(ctx);
  const matched = async (values: readonly string[], because: CandidateItem['because']) => {
    const hashes = [...new Set(values.map((v) => hash(v)))].map((h) => Buffer.from(h, 'hex'));
    if (hashes.length === 0) return;
    const rows = await ctx.store.all(
      z.object({ item_id: BigId.transform(Number) }),
      "SELECT DISTINCT m.item_id FROM finding_match m JOIN item i ON i.id = m.item_id WHERE m.value_hash IN (?) AND m.rehearsed = 0 AND i.state <> 'gone'",
      [hashes],
    );
    for (const r of rows) put(r.item_id, because);
  };
  await matched([...wanted.values, ...wanted.others], 'a value');
  await matched(wanted.names, 'a name');
  for (const id of await itemsWithMore(ctx)) put(id, 'more than is kept');
  return [...found].map(([id, because]) => ({ id, because })).toSorted((a, b) => a.id - b.id);
}

/** Items in which one of these people is. */
export async function itemsWithPeople(
  ctx: Context,
  keys: readonly Buffer[],
  readSince?: Date,
): Promise<readonly number[]> {
  if (keys.length === 0) return [];
  const wanted = new Set(keys.map((k) => k.toString('hex')));
  const ids: number[] = [];
  for (let last = '0'; ;) {
    const rows = await ctx.store.all(
      z.object({ item_id: BigId, hashes: Bytes }),
      `SELECT p.item_id, p.hashes FROM item_people p JOIN item i ON i.id = p.item_id
       WHERE p.item_id > ? AND i.state <> 'gone' AND (${keys.map(() => 'LOCATE(?, p.hashes) > 0').join(' OR ')})
       ${readSince ? 'AND i.read_at >= ?' : ''} ORDER BY p.item_id LIMIT ${PAGE}`,
      [last, ...keys, ...(readSince ? [readSince.toISOString().slice(0, 23).replace('T', ' ')] : [])],
    );
    for (const { item_id, hashes } of rows)
      for (let at = 0; at < hashes.length; at += 8)
        if (wanted.has(hashes.toString('hex', at, at + 8))) {
          ids.push(Number(item_id));
          break;
        }
    if (rows.length < PAGE) return ids;
    last = rows.at(-1)?.item_id ?? last;
  }
}

/** Items that hold more names, phones or numbers than are kept one by one, so that hashes alone cannot tell. */
async function itemsWithMore(ctx: Context): Promise<readonly number[]> {
  const rows = await ctx.store.all(
    z.object({ item_id: BigId.transform(Number), detector: z.string() }),
    `SELECT f.item_id, f.detector FROM finding f JOIN item i ON i.id = f.item_id
     WHERE f.rehearsed = 0 AND f.distinct_values > ? AND i.state <> 'gone'`,
    [MATCHES_KEPT],
  );
  return [
    ...new Set(
      rows
        .filter((r) => r.detector === 'person-name' || r.detector === 'phone' || identifiesPerson(r.detector))
        .map((r) => r.item_id),
    ),
  ];
}
