import type { EstateLine, PlaceLine } from '../../../core/access/estate/estate-line.ts';
import { globalRow, rowIdentity, rowsOf, type EstateRow } from '../../../core/access/estate/estate-row.ts';
import { isDirectory, type AccessSourceContent } from '../../../core/access/sources/access-source.ts';
import { sourceNames } from '../../holdings/offers.ts';
import type { Queries } from '../../store/pool.ts';
import type { EventPlace } from '../estate/write-rows.ts';
import { accessKey, idPrefix } from '../keys.ts';
import type { SourceLine, UseLine } from '../readers/reader.ts';
import type { AccessSource } from './access-sources.ts';
import { accountOwners, leavingDays } from './directory-people.ts';

/** What a source told, in its own words. */
export interface Told {
  readonly lines: readonly EstateLine[];
  readonly holds: ReadonlyMap<string, string | null>;
  readonly uses: readonly UseLine[];
  readonly faults: readonly string[];
}

/** Line by line. */
export class ToldLines implements Told {
  readonly lines: EstateLine[] = [];
  readonly holds = new Map<string, string | null>();
  readonly uses: UseLine[] = [];
  readonly faults: string[] = [];

  add(one: SourceLine): void {
    if ('line' in one) {
      this.lines.push(one.line);
      if (one.holds !== undefined && one.line.type === 'place') this.holds.set(one.line.id, one.holds);
    } else if ('use' in one) this.uses.push(one.use);
    else this.faults.push(one.fault.slice(0, 300));
  }
}

/** A row of the estate of all, and where the items of a place lie. */
export interface ToldRow {
  readonly row: EstateRow;
  readonly holds: string | null;
}

/** What a source told, as the estate of all has it; of several that are the same line the last counts. */
export async function rowsOfLines(
  store: Queries,
  source: AccessSource,
  told: Told,
): Promise<readonly ToldRow[]> {
  const directory = isDirectory(source.address.kind);
  const own = new Set(
    directory ? [] : told.lines.flatMap((l) => (l.type === 'person' || l.type === 'group' ? [l.id] : [])),
  );
  const owners = directory ? undefined : await accountOwners(store);
  const left = directory ? await leavingDays(store) : undefined;
  const people = new Map(told.lines.flatMap((l) => (l.type === 'person' ? [[l.id, l] as const] : [])));
  const ids = {
    isDirectory: directory,
    prefix: idPrefix(source.id),
    isOwn: (id: string) => own.has(id),
    ownerOf: (id: string) => {
      const person = people.get(id);
      return person && owners?.(person);
    },
  };
  const holdsBy = holdsOfPlaces(await holdingsByName(store, source.content), told);
  const rows = new Map<string, ToldRow>();
  for (const line of told.lines) {
    const known =
      line.type === 'person' && left && line.left === null && line.mail !== undefined
        ? { ...line, left: left.get(line.mail.toLowerCase()) ?? null }
        : line;
    for (const local of rowsOf(known))
      for (const row of globalRow(local, ids)) {
        const holds = line.type === 'place' ? (holdsBy.get(line.id) ?? null) : null;
        rows.set(rowIdentity(row), { row, holds });
      }
  }
  return [...rows.values()];
}

/** A longer path lies too deep for a lens. */
const MOST_HOLDS = 1000;

/** The source of Holdings, by its id, that each name in the lines of a source stands for: as somebody said, else the one that is called the same. */
export async function holdingsByName(
  store: Queries,
  { holds }: Pick<AccessSourceContent, 'holds'>,
): Promise<ReadonlyMap<string, number | null>> {
  const named = (await sourceNames(store)).map((s) => [s.name, Number(s.id)] as const);
  return new Map<string, number | null>([...named, ...holds.map((h) => [h.name, h.source] as const)]);
}

/** Where the items of each place lie, as lenses name it: by the names from the top of its source down. */
function holdsOfPlaces(
  sources: ReadonlyMap<string, number | null>,
  told: Told,
): ReadonlyMap<string, string | null> {
  const places = new Map(told.lines.flatMap((l) => (l.type === 'place' ? [[l.id, l] as const] : [])));
  const roots = new Map<string, number>();
  const isRoot = (p: PlaceLine) => p.parent === null || !places.has(p.parent);
  for (const p of places.values()) if (isRoot(p)) roots.set(p.source, (roots.get(p.source) ?? 0) + 1);
  const found = new Map<string, string | null>();
  for (const [id, holds] of told.holds) found.set(id, holds);
  for (const place of places.values()) {
    // From the nearest whose answer is known; of a ring, and of what lies below one, nothing is.
    const climb: PlaceLine[] = [];
    const seen = new Set<string>();
    let isRing = false;
    for (let p: PlaceLine | undefined = place; p && !found.has(p.id);) {
      if (seen.has(p.id)) {
        isRing = true;
        break;
      }
      seen.add(p.id);
      climb.push(p);
      p = p.parent === null ? undefined : places.get(p.parent);
    }
    for (const p of climb.toReversed()) {
      const of = sources.get(p.source) ?? undefined;
      const up = p.parent === null || isRoot(p) ? undefined : found.get(p.parent);
      const alone = isRoot(p) && roots.get(p.source) === 1;
      const above = up === undefined && isRoot(p) && of !== undefined ? String(of) : (up ?? null);
      const lies =
        of === undefined || above === null || isRing ? null : alone ? above : `${above}/${p.name ?? p.id}`;
      found.set(p.id, lies !== null && lies.length > MOST_HOLDS ? null : lies);
    }
  }
  return found;
}

/** Where each place stands, for its events. */
export function placesBy(rows: readonly EstateRow[]): (id: string) => EventPlace | undefined {
  const places = new Map(rows.flatMap((r) => (r.type === 'place' ? [[r.id, r] as const] : [])));
  return (id) => {
    const place = places.get(id);
    if (!place) return undefined;
    const above: string[] = [];
    for (let p: PlaceLine | undefined = place; p && above.length < 200;) {
      above.unshift(p.id);
      p = p.parent === null ? undefined : places.get(p.parent);
    }
    return { name: place.name ?? place.id, above };
  };
}

export async function writeUses(tx: Queries, source: AccessSource, uses: readonly UseLine[]): Promise<void> {
  const prefix = idPrefix(source.id);
  for (let at = 0; at < uses.length; at += 1000)
    await tx.run(
      'INSERT INTO access_use (source_id, place_key, person_key, day) VALUES ? ON DUPLICATE KEY UPDATE day = GREATEST(day, VALUES(day))',
      [
        uses
          .slice(at, at + 1000)
          .map((u) => [source.id, accessKey(`${prefix}${u.place}`), accessKey(u.person), u.day]),
      ],
    );
}
