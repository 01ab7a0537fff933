import { group } from 'd3-array';
import { z } from 'zod';
import { MATCHES_KEPT, type GatheredFinding } from '../../../core/holdings/items/gathered.ts';
import type { ReadWith } from '../../../core/holdings/surveys/reading.ts';
import { BigId, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { hash16 } from '../items/item-hash.ts';
import { touchBlocks } from '../items/item-blocks.ts';
import type { KnownItem } from './known-items.ts';
import { problemOf, type ReadItem } from './survey-step.ts';

/** What a step of a survey found, to be written in one transaction. */
export interface StepFound {
  readonly source: number;
  readonly run: string;
  readonly at: Date;
  readonly places: readonly { readonly path: string; readonly problem: string | undefined }[];
  readonly read: readonly ReadItem[];
  readonly dropped: readonly {
    readonly known: KnownItem;
    readonly dropped: readonly ReadWith[];
    /** What it counts as read with after that. */
    readonly reading: number;
  }[];
  readonly back: readonly number[];
  readonly gone: readonly number[];
}

const ROWS = 500;

/** Writes it; done twice, it comes to the same. */
export async function keepFound(tx: Queries, found: StepFound): Promise<void> {
  const places = await keepPlaces(tx, found);
  const ids = await keepItems(tx, found, places);
  await keepFindings(tx, found, ids);
  await dropFindings(tx, found);
  await setState(tx, found.back, 'read');
  await setState(tx, found.gone, 'gone');
  await touchBlocks(tx, [
    ...ids.values(),
    ...found.dropped.map((d) => d.known.id),
    ...found.back,
    ...found.gone,
  ]);
}

/** The ids of places by path, with all those above them. */
async function keepPlaces(
  tx: Queries,
  { source, run, places, read }: StepFound,
): Promise<ReadonlyMap<string, number>> {
  const seen = new Map(places.map((p) => [p.path, p.problem]));
  for (const { place } of read) if (!seen.has(place)) seen.set(place, undefined);
  const ids = new Map<string, number>();
  const all = [...new Set([...seen.keys()].flatMap(withThoseAbove))];
  // A place can name the one above it once that has its id: level by level.
  const levels = group(all, depthOf);
  for (const depth of [...levels.keys()].sort((a, b) => a - b)) {
    const paths = levels.get(depth) ?? [];
    const known = async () => {
      for (const some of chunks(paths, ROWS))
        for (const row of await tx.all(
          z.object({ id: BigId.transform(Number), path: z.string() }),
          'SELECT id, path FROM place WHERE source_id = ? AND hash IN (?)',
          [source, some.map(hash16)],
        ))
          ids.set(row.path, row.id);
    };
    await known();
    const rows = paths
      .filter((p) => !ids.has(p))
      .sort()
      .map((p) => [source, p === '' ? null : (ids.get(aboveOf(p)) ?? null), hash16(p), p]);
    if (rows.length === 0) continue;
    for (const some of chunks(rows, ROWS))
      await tx.run('INSERT IGNORE INTO place (source_id, parent_id, hash, path) VALUES ?', [some]);
    await known();
  }
  for (const [problem, alike] of group(seen, ([, p]) => p?.slice(0, 400) ?? null))
    for (const some of chunks(
      alike.flatMap(([path]) => ids.get(path) ?? []).sort((a, b) => a - b),
      ROWS,
    ))
      await tx.run('UPDATE place SET seen_run = GREATEST(seen_run, ?), problem = ? WHERE id IN (?)', [
        run,
        problem,
        some,
      ]);
  return ids;
}

function withThoseAbove(path: string): readonly string[] {
  const steps = path === '' ? [] : path.split('/');
  return ['', ...steps.map((_, i) => steps.slice(0, i + 1).join('/'))];
}

function aboveOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf('/')));
}

function depthOf(path: string): number {
  return path === '' ? 0 : path.split('/').length;
}

/** The ids of read items by `placeId\nname`. */
async function keepItems(
  tx: Queries,
  { source, at, read }: StepFound,
  places: ReadonlyMap<string, number>,
): Promise<ReadonlyMap<string, number>> {
  const rows = read
    .map(({ place, item, title, outcome, by, reading }) => {
      const { unreadable, words } = problemOf(outcome);
      const got = 'unreadable' in outcome || outcome.unchanged ? undefined : outcome;
      return {
        key: itemKey(places.get(place) ?? 0, item.name),
        columns: columnsOf(outcome, by),
        row: [
          source,
          places.get(place) ?? 0,
          hash16(item.name),
          item.name,
          title?.slice(0, 400) ?? null,
          item.size,
          dateOf(item.created),
          dateOf(item.changed),
          item.owner.slice(0, 120),
          item.version.slice(0, 120),
          'unreadable' in outcome ? null : Buffer.from(outcome.hash),
          reading,
          toDatetime(at),
          unreadable ? 'unreadable' : 'read',
          words?.slice(0, 600) ?? null,
          got?.format.slice(0, 40) ?? '',
          got?.document?.detector ?? null,
          got?.document?.confidence ?? null,
          (got?.people.length ?? 0) / 8,
        ],
      };
    })
    // In one order for all workers, so that they wait for each other instead of losing.
    .sort((a, b) => (a.key < b.key ? -1 : 1));
  for (const [columns, alike] of group(rows, (r) => r.columns))
    for (const some of chunks(alike, ROWS))
      await tx.run(
        `INSERT INTO item (${ITEM_COLUMNS.join(', ')}) VALUES ?
         ON DUPLICATE KEY UPDATE ${columns.map((c) => `${c} = VALUES(${c})`).join(', ')}${columns === SAME_COLUMNS ? `, state = ${STATE_BEFORE}` : ''}`,
        [some.map((r) => r.row)],
      );
  const ids = new Map<string, number>();
  for (const some of chunks(read, ROWS)) {
    const of = [...new Set(some.map((r) => places.get(r.place) ?? 0))];
    for (const row of await tx.all(
      z.object({ id: BigId.transform(Number), place_id: BigId.transform(Number), name: z.string() }),
      'SELECT id, place_id, name FROM item WHERE place_id IN (?) AND name_hash IN (?)',
      [of, some.map((r) => hash16(r.item.name))],
    ))
      ids.set(itemKey(row.place_id, row.name), row.id);
  }
  return new Map(
    read.map((r): [string, number] => {
      const key = itemKey(places.get(r.place) ?? 0, r.item.name);
      return [joined(r), ids.get(key) ?? 0];
    }),
  );
}

const ITEM_COLUMNS = [
  'source_id',
  'place_id',
  'name_hash',
  'name',
  'title',
  'size',
  'created_at',
  'changed_at',
  'owner',
  'version',
  'content_hash',
  'reading_id',
  'read_at',
  'state',
  'problem',
  'format',
  'document',
  'document_confidence',
  'people',
];
const READ_COLUMNS = ITEM_COLUMNS.slice(3);
const LISTED_COLUMNS = ['size', 'created_at', 'changed_at', 'owner', 'version'];
/** Of an item whose bytes are the same, what its source says of it. */
const SAME_COLUMNS = [...LISTED_COLUMNS, 'reading_id'];
/** Of an item that was read again with some detectors: who is in it and what it is follow from all of them. */
const AGAIN_COLUMNS = [...SAME_COLUMNS, 'read_at'];
/** Of one that cannot be opened now, what was found before stays; it is tried again each time. */
const SHUT_COLUMNS = [...LISTED_COLUMNS, 'content_hash', 'state', 'problem'];

/** Of what is there as it was: nothing could be read of what has a problem and no format. */
const STATE_BEFORE = "IF(format IN ('', 'nothing') AND problem IS NOT NULL, 'unreadable', 'read')";

function columnsOf(outcome: ReadItem['outcome'], by: ReadItem['by']): readonly string[] {
  if ('unreadable' in outcome) return SHUT_COLUMNS;
  if (outcome.unchanged) return SAME_COLUMNS;
  return by.read === 'some' ? AGAIN_COLUMNS : READ_COLUMNS;
}

function itemKey(place: number, name: string): string {
  return `${place}\n${name}`;
}

function joined({ place, item }: Pick<ReadItem, 'place' | 'item'>): string {
  return `${place}\n${item.name}`;
}

/** MariaDB's calendar ends before a source's may. */
function dateOf(at: string | null): string | null {
  return at === null || at < '1000' || at > '9999-12-31T23' ? null : toDatetime(at);
}

type Outcome = Extract<ReadItem['outcome'], { unchanged: false }>;

async function keepFindings(
  tx: Queries,
  { read }: StepFound,
  ids: ReadonlyMap<string, number>,
): Promise<void> {
  const fresh = read.flatMap((r): { id: number; by: ReadItem['by']; outcome: Outcome }[] =>
    'unreadable' in r.outcome || r.outcome.unchanged
      ? []
      : [{ id: ids.get(joined(r)) ?? 0, by: r.by, outcome: r.outcome }],
  );
  const whole = fresh.filter(({ by }) => by.read !== 'some').map((f) => f.id);
  for (const some of chunks(whole, ROWS))
    for (const table of ['finding_match', 'finding', 'item_people', 'item_part'])
      await tx.run(`DELETE FROM ${table} WHERE item_id IN (?)`, [some]);
  for (const { id, by } of fresh)
    if (by.read === 'some')
      for (const table of ['finding_match', 'finding'])
        await tx.run(`DELETE FROM ${table} WHERE item_id = ? AND detector IN (?)`, [
          id,
          [...new Set([...by.detectors, ...by.dropped.map((d) => d.id)])],
        ]);
  const findings: (string | number)[][] = [];
  const matches: (string | number | Buffer)[][] = [];
  const people: (number | Buffer)[][] = [];
  const parts: (number | string | Buffer)[][] = [];
  for (const { id, by, outcome } of fresh) {
    const only = 'detectors' in by ? new Set(by.detectors) : undefined;
    const take = (gathered: readonly GatheredFinding[], rehearsed: 0 | 1) => {
      for (const g of gathered) {
        // What others find along the way is as it was.
        if (only && !only.has(g.detector)) continue;
        findings.push([id, g.detector, rehearsed, g.version, g.matches, g.distinct, g.confidence]);
        for (const [n, m] of g.kept.slice(0, MATCHES_KEPT).entries())
          matches.push([
            id,
            g.detector,
            rehearsed,
            n,
            Buffer.from(m.hash, 'hex'),
            m.masked,
            m.confidence,
            JSON.stringify(m.content),
          ]);
      }
    };
    take(outcome.findings, 0);
    take(outcome.rehearsed, 1);
    if (by.read !== 'some')
      for (const p of outcome.parts) parts.push([id, Buffer.from(p.hash), p.name.slice(0, 200)]);
    if (by.read !== 'some' && outcome.people.length > 0) people.push([id, Buffer.from(outcome.people)]);
  }
  for (const some of chunks(findings, ROWS))
    await tx.run(
      'REPLACE INTO finding (item_id, detector, rehearsed, version, matches, distinct_values, confidence) VALUES ?',
      [some],
    );
  for (const some of chunks(matches, ROWS))
    await tx.run(
      'REPLACE INTO finding_match (item_id, detector, rehearsed, number, value_hash, masked, confidence, content) VALUES ?',
      [some],
    );
  for (const some of chunks(parts, ROWS))
    await tx.run('REPLACE INTO item_part (item_id, hash, name) VALUES ?', [some]);
  for (const some of chunks(people, ROWS))
    await tx.run('REPLACE INTO item_people (item_id, hashes) VALUES ?', [some]);
}

/** Takes away what detectors found that are not in use any more. */
async function dropFindings(tx: Queries, { dropped }: StepFound): Promise<void> {
  for (const { known, dropped: gone, reading } of dropped) {
    for (const { id, rehearsed } of gone)
      for (const table of ['finding_match', 'finding'])
        await tx.run(`DELETE FROM ${table} WHERE item_id = ? AND detector = ? AND rehearsed = ?`, [
          known.id,
          id,
          rehearsed,
        ]);
    await tx.run('UPDATE item SET reading_id = ? WHERE id = ?', [reading, known.id]);
  }
}

async function setState(tx: Queries, ids: readonly number[], state: 'read' | 'gone'): Promise<void> {
  for (const some of chunks(
    ids.toSorted((a, b) => a - b),
    ROWS,
  ))
    await tx.run(`UPDATE item SET state = ${state === 'gone' ? "'gone'" : STATE_BEFORE} WHERE id IN (?)`, [
      some,
    ]);
}

function* chunks<T>(all: readonly T[], size: number): Generator<T[]> {
  for (let from = 0; from < all.length; from += size) yield all.slice(from, from + size);
}
