import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { NewIncident, Touched } from '../../../core/cases/incidents/incident.ts';
import type { Reckoned } from '../../../core/cases/incidents/reckoned.ts';
import { builtInDetectors, DistinctPeople } from '../../../core/holdings/offers.ts';
import { reachOfHeld } from '../../access/offers.ts';
import { listOwnDetectors, sourceNames } from '../../holdings/offers.ts';
import { likeBelow } from '../../store/like-text.ts';
import type { Context } from '../../context.ts';
import { deviceOptions, heldOnDevice } from '../../protection/offers.ts';
import { BigId, Bytes, Count, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const DAY = 86_400_000;
/** Acts of a device are looked at so long back. */
const BACK_DAYS = 90;
const LISTED = 60;
const AT_ONCE = 2000;

/** What was there, by its digest, for the record. */
export interface Seen {
  readonly what: string;
  readonly hash: Buffer;
}

/** Who and how many an incident is about, from what it touched: items that were surveyed, and what devices had in hand. */
export async function reckon(
  ctx: Context,
  incident: Pick<NewIncident, 'touched' | 'happenedAt' | 'knownAt'>,
): Promise<{ readonly reckoned: Reckoned; readonly seen: readonly Seen[] }> {
  const people = new DistinctPeople();
  const data = new Map<string, { items: number; matches: number }>();
  const listed: Reckoned['listed'] = [];
  const unknown: string[] = [];
  /** What lies where, by the words for it. */
  const lying = new Map<string, string>();
  const sources = new Map((await sourceNames(ctx.store)).map((s) => [Number(s.id), s.name]));
  const seen: Seen[] = [];
  let [items, atMost, counted] = [0, 0, false];
  const add = (detector: string, matches: number) => {
    const of = data.get(detector) ?? { items: 0, matches: 0 };
    data.set(detector, { items: of.items + 1, matches: of.matches + matches });
  };
  const devices = new Map((await deviceOptions(ctx.store)).map((d) => [d.id, d.name]));
  for (const touched of incident.touched) {
    if (touched.what === 'device') {
      const device = `device ${devices.get(touched.id) ?? touched.id}`;
      const until = new Date(incident.happenedAt ?? incident.knownAt);
      const held = await heldOnDevice(
        ctx.store,
        touched.id,
        new Date(until.getTime() - BACK_DAYS * DAY),
        new Date(until.getTime() + DAY),
      );
      if (held.length === 0)
        unknown.push(`What ${device} had in hand: it told of nothing in ${BACK_DAYS} days.`);
      for (const h of held) {
        items++;
        // Acts tell how many, and not who: two files may be about the same people.
        atMost += h.people;
        for (const f of h.findings) add(f.detector, f.matches);
        listed.push({
          id: null,
          name: h.name,
          where: device,
          people: h.people,
          lastAt: h.lastAt,
        });
      }
      seen.push({
        what: `${held.length} things that ${device} had in hand`,
        hash: digestOf(JSON.stringify(held)),
      });
      continue;
    }
    const found = await itemsOf(ctx.store, touched);
    if (touched.what === 'place') {
      const below = touched.path === '' ? '' : `/${touched.path}`;
      lying.set(
        `${touched.source}${below}`,
        `${sources.get(touched.source) ?? 'a source that is gone'}${below}`,
      );
    } else
      for (const f of found)
        lying.set(
          [f.source_id, f.path, f.name].filter((p) => p !== '').join('/'),
          [f.source, f.path, f.name].filter((p) => p !== '').join('/'),
        );
    if (found.length === 0)
      unknown.push(
        touched.what === 'place'
          ? `What lies in ${touched.path || 'the source'}: nothing of it was surveyed.`
          : 'The item: it is known no more.',
      );
    if (found.length === MOST_ITEMS)
      unknown.push(
        `More than ${MOST_ITEMS.toLocaleString('en-GB')} items lie there: those with fewest people are left out.`,
      );
    items += found.length;
    for (let from = 0; from < found.length; from += AT_ONCE) {
      const ids = found.slice(from, from + AT_ONCE).map((f) => f.id);
      const hashes = await ctx.store.all(
        z.object({ hashes: Bytes }),
        'SELECT hashes FROM item_people WHERE item_id IN (?)',
        [ids],
      );
      for (const h of hashes) people.addAll(h.hashes);
      counted = true;
      const findings = await ctx.store.all(
        z.object({ detector: z.string(), matches: Count }),
        'SELECT detector, matches FROM finding WHERE item_id IN (?) AND rehearsed = 0',
        [ids],
      );
      for (const f of findings) add(f.detector, f.matches);
    }
    for (const f of found.slice(0, LISTED))
      listed.push({
        id: f.id,
        name: f.title ?? f.name,
        where: `${f.source}/${f.path}`,
        people: f.people,
        lastAt: f.changed_at,
      });
    const digest = createHash('sha256');
    for (const f of found) digest.update(`${f.id} ${f.content_hash?.toString('hex') ?? f.version}\n`);
    seen.push({
      what: `${found.length} items of ${touched.what === 'place' ? touched.path || 'a source' : 'one'} as they were surveyed`,
      hash: digest.digest(),
    });
  }
  const day = (incident.happenedAt ?? incident.knownAt).slice(0, 10);
  const { on, reach } = await reachOfHeld(ctx, [...lying.keys()], day);
  for (const r of reach)
    if (r.key === null)
      unknown.push(`Who could reach ${lying.get(r.lies)}: nobody’s rights were read there.`);
    else if (r.unknown !== null) unknown.push(`Who could reach some of ${lying.get(r.lies)}: ${r.unknown}.`);
  const count = people.count();
  const known = [...builtInDetectors(), ...(await listOwnDetectors(ctx.store))];
  const names = new Map(known.map(({ id, name, category }) => [id, { name, category }]));
  return {
    reckoned: {
      reach: reach.flatMap(({ lies, key, ...of }) =>
        key === null ? [] : [{ ...of, key, on, where: lying.get(lies) ?? lies }],
      ),
      ...{ items, atMost, unknown, people: counted ? count.people : null, error: counted ? count.error : 0 },
      data: [...data]
        .map(([detector, of]) => ({
          detector,
          ...of,
          name: names.get(detector)?.name ?? detector,
          category: names.get(detector)?.category ?? '',
        }))
        .toSorted((a, b) => b.matches - a.matches),
      listed: listed.toSorted((a, b) => b.people - a.people).slice(0, LISTED),
    },
    seen,
  };
}

const digestOf = (text: string) => createHash('sha256').update(text).digest();

const ItemRow = z.object({
  id: BigId.transform(Number),
  source_id: z.number(),
  source: z.string(),
  path: z.string(),
  name: z.string(),
  title: z.string().nullable(),
  people: z.number(),
  version: z.string(),
  content_hash: Bytes.nullable(),
  changed_at: Instant.nullable(),
});
const MOST_ITEMS = 200_000;

function itemsOf(
  store: Queries,
  touched: Exclude<Touched, { what: 'device' }>,
): Promise<readonly z.infer<typeof ItemRow>[]> {
  const select = `SELECT i.id, i.source_id, s.name AS source, p.path, i.name, i.title, i.people, i.version, i.content_hash, i.changed_at
    FROM item i JOIN place p ON p.id = i.place_id JOIN source s ON s.id = i.source_id`;
  if (touched.what === 'item') return store.all(ItemRow, `${select} WHERE i.id = ?`, [touched.id]);
  const below = likeBelow(touched.path);
  return store.all(
    ItemRow,
    `${select} WHERE i.source_id = ? AND i.state <> 'gone'${touched.path === '' ? '' : ' AND (p.path = ? OR p.path LIKE ?)'} ORDER BY i.people DESC, i.id LIMIT ${MOST_ITEMS}`,
    [touched.source, ...(touched.path === '' ? [] : [touched.path, below])],
  );
}
