import type { EstateRow } from '../../../core/access/estate/estate-row.ts';
import { rowIdentity } from '../../../core/access/estate/estate-row.ts';
import type { AccessEvent } from '../../../core/access/history/access-event.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { accessKey, lineDigest, lineKey, trailOf } from '../keys.ts';

const AT_ONCE = 1000;

/** A row that is to stand. */
export interface NewRow {
  readonly row: EstateRow;
  readonly content: string;
  readonly holds: string | null;
  readonly key: Buffer;
  readonly digest: Buffer;
}

export function newRow(row: EstateRow, holds: string | null = null): NewRow {
  const content = JSON.stringify(row);
  return { row, content, holds, key: lineKey(rowIdentity(row)), digest: lineDigest(content, holds) };
}

/** Puts rows in at a revision, each from the instant that its source tells, else from now on. */
export async function insertRows(
  tx: Queries,
  now: Date,
  source: number,
  revision: number,
  rows: readonly NewRow[],
): Promise<void> {
  for (let at = 0; at < rows.length; at += AT_ONCE)
    await tx.run(
      'INSERT INTO access_line (source_id, kind, line_key, digest, content, holds, came, since) VALUES ?',
      [
        rows
          .slice(at, at + AT_ONCE)
          .map(({ row, key, digest, content, holds }) => [
            ...[source, row.type, key, digest, content, holds, revision],
            sinceOf(row, now),
          ]),
      ],
    );
}

function sinceOf(row: EstateRow, now: Date): string {
  if (row.type !== 'grant' && row.type !== 'link') return toDatetime(now);
  const at = row.at === null ? NaN : Date.parse(row.at);
  return toDatetime(Number.isNaN(at) || at > now.getTime() ? now : new Date(at));
}

/** Takes rows out, by their ids. */
export async function endRows(
  tx: Queries,
  now: Date,
  revision: number,
  ids: readonly string[],
): Promise<void> {
  for (let at = 0; at < ids.length; at += AT_ONCE)
    await tx.run('UPDATE access_line SET went = ?, until = ? WHERE id IN (?)', [
      revision,
      toDatetime(now),
      ids.slice(at, at + AT_ONCE),
    ]);
}

/** Where an event stands, for those who look at a place above it. */
export interface EventPlace {
  readonly name: string;
  /** Ids of those above it, the highest first, and its own. */
  readonly above: readonly string[];
}

export interface EventSurroundings {
  readonly source: number;
  readonly change: number | null;
  /** Who did it, where the event does not say. */
  readonly initiator: string;
  place(id: string): EventPlace | undefined;
  person(id: string): string;
}

export async function insertEvents(
  tx: Queries,
  now: Date,
  events: readonly AccessEvent[],
  { source, change, initiator, place, person }: EventSurroundings,
): Promise<void> {
  const text = (words: string, most: number) => words.slice(0, most);
  for (let at = 0; at < events.length; at += AT_ONCE)
    await tx.run(
      'INSERT INTO access_event (at, seen_at, source_id, kind, act, trail, place, place_name, who, who_key, who_name, strength, initiator, change_id, words) VALUES ?',
      [
        events.slice(at, at + AT_ONCE).map((e) => {
          const where = e.place === '' ? undefined : place(e.place);
          return [
            toDatetime(e.at !== null && Date.parse(e.at) <= now.getTime() ? e.at : now),
            ...[toDatetime(now), source, e.kind, e.act],
            e.place === '' ? Buffer.alloc(0) : trailOf(where?.above ?? [e.place]),
            ...[text(e.place, 420), text(where?.name ?? e.place, 500), text(e.who, 420)],
            e.who === '' ? null : accessKey(e.who),
            e.who === '' ? '' : text(person(e.who), 500),
            ...[e.strength, text(e.by === '' ? initiator : person(e.by), 200), change, text(e.words, 1000)],
          ];
        }),
      ],
    );
}
