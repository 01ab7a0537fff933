import { z } from 'zod';
import type { Estate } from '../../../core/access/estate/estate.ts';
import { changedReach, EstateRows } from '../../../core/access/estate/estate-rows.ts';
import { Reach } from '../../../core/access/reach/reach.ts';
import { PlaceMarks } from '../../../core/access/views/place-marks.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { Bytes } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { keptRows, revisionOf, rowsBetween } from '../estate/line-rows.ts';
import { idKey, keyText } from '../keys.ts';

/** The estate on a day, ready to be asked. */
export interface EstateView {
  readonly estate: Estate;
  readonly reach: Reach;
  readonly marks: PlaceMarks;
  readonly revision: number;
  /** Places, and people and groups, by what they are called in addresses. */
  readonly places: ReadonlyMap<string, number>;
  readonly principals: ReadonlyMap<string, string>;
  /** Where the items of a place lie, as lenses name it, by the id of the place. */
  readonly holds: ReadonlyMap<string, string>;
  /** The last day on which people, by number, used a place, by number, or something below it. */
  readonly uses: ReadonlyMap<number, ReadonlyMap<number, string>>;
}

/** Uses longer ago say no more than none. */
const USES_DAYS = 400;
const DAY = 86_400_000;
/** Past days that are kept in memory. */
const MOST_PAST = 3;

const Use = z.object({ place_key: Bytes, person_key: Bytes, day: z.string() });

/** Keeps the estate in memory, as it stands and on the past days that were asked for last. */
export class EstateIndex {
  readonly #rows = new EstateRows();
  readonly #holds = new Map<string, string>();
  #revision = -1;
  #view: EstateView | undefined;
  #refreshing: Promise<EstateView> | undefined;
  /** When a source was read last, as of which the uses are. */
  #usesRead: string | null = null;
  readonly #past = new Map<string, EstateView>();

  constructor(readonly store: Queries) {}

  /** @param today ISO 8601 day. */
  async now(today: string): Promise<EstateView> {
    // What is under way may have begun before something was written.
    if (this.#refreshing) await this.#refreshing.catch(() => {});
    this.#refreshing ??= this.#refresh(today).finally(() => (this.#refreshing = undefined));
    return this.#refreshing;
  }

  /** As it was at the end of a day. Throws a RefusedError for one of which nothing is known. */
  async on(day: string): Promise<EstateView> {
    const first = await this.store.one(
      z.object({ first: z.string().nullable() }),
      'SELECT DATE(MIN(known_since)) AS first FROM access_source',
    );
    if (!first?.first || day < first.first)
      throw new RefusedError('Nothing is known of that day.', [
        {
          field: 'on',
          message: first?.first
            ? `What stood when is known since ${first.first}.`
            : 'No source was read yet.',
        },
      ]);
    const known = this.#past.get(day);
    if (known && known.revision === (await revisionOf(this.store))) return known;
    const revision = await revisionOf(this.store);
    const rows = new EstateRows();
    const holds = new Map<string, string>();
    for await (const page of keptRows(this.store, { instant: `${day} 23:59:59.999` }))
      for (const { row, holds: lies } of page) {
        rows.put(row);
        if (row.type === 'place' && lies !== null) holds.set(row.id, lies);
      }
    const view = viewOf(new Reach(rows.estate(), day), holds, revision, new Map());
    this.#past.delete(day);
    this.#past.set(day, view);
    for (const old of [...this.#past.keys()].slice(0, -MOST_PAST)) this.#past.delete(old);
    return view;
  }

  async #refresh(today: string): Promise<EstateView> {
    const revision = await revisionOf(this.store);
    const known = this.#view;
    if (known && known.revision === revision && known.reach.day === today) return known;
    let reach: Reach | undefined;
    if (this.#revision < 0) {
      for await (const page of keptRows(this.store)) for (const kept of page) this.#put(kept);
    } else if (revision > this.#revision) {
      const { came, went } = await rowsBetween(this.store, this.#revision, revision);
      const rows = { came: came.map((c) => c.row), went };
      if (known && known.reach.day === today) reach = changedReach(known.reach, rows);
      for (const row of went) this.#rows.drop(row);
      for (const kept of came) this.#put(kept);
    } else if (known) reach = new Reach(known.estate, today);
    this.#revision = revision;
    reach ??= new Reach(this.#rows.estate(), today);
    this.#view = viewOf(reach, this.#holds, revision, await this.#usesNow(reach, today, known), known);
    return this.#view;
  }

  #put({
    row,
    holds,
  }: {
    readonly row: Parameters<EstateRows['put']>[0];
    readonly holds: string | null;
  }): void {
    this.#rows.put(row);
    if (row.type !== 'place') return;
    if (holds === null) this.#holds.delete(row.id);
    else this.#holds.set(row.id, holds);
  }

  /** Uses come with readings alone: as long as there was none, and all have their numbers, they are as they were. */
  async #usesNow(reach: Reach, today: string, known: EstateView | undefined): Promise<EstateView['uses']> {
    const row = await this.store.one(
      z.object({ last: z.string().nullable() }),
      'SELECT MAX(read_at) AS last FROM access_source',
    );
    const { people, tree } = reach.estate;
    const isSame =
      known?.reach.day === today &&
      known.estate.tree.numbers === tree.numbers &&
      known.estate.people.persons === people.persons &&
      this.#usesRead === row?.last;
    if (known && isSame) return known.uses;
    const uses = await this.#readUses(reach, today);
    this.#usesRead = row?.last ?? null;
    return uses;
  }

  async #readUses(
    { estate }: Reach,
    today: string,
  ): Promise<ReadonlyMap<number, ReadonlyMap<number, string>>> {
    const from = new Date(Date.parse(today) - USES_DAYS * DAY).toISOString().slice(0, 10);
    const rows = await this.store.all(
      Use,
      'SELECT place_key, person_key, day FROM access_use WHERE day >= ?',
      [from],
    );
    if (rows.length === 0) return new Map();
    const places = new Map(estate.tree.places.map((p, at) => [idKey(p.id), at]));
    const people = new Map(estate.people.persons.map((p, n) => [idKey(p.id), n]));
    const found = new Map<number, Map<number, string>>();
    for (const { place_key, person_key, day } of rows) {
      const person = people.get(keyText(person_key));
      let at = places.get(keyText(place_key)) ?? -1;
      if (person === undefined) continue;
      for (; at >= 0; at = estate.tree.parent[at] as number) {
        const of = found.get(at) ?? new Map<number, string>();
        found.set(at, of);
        const before = of.get(person);
        // Those above know of a later day already.
        if (before !== undefined && before >= day) break;
        of.set(person, day);
      }
    }
    return found;
  }
}

function viewOf(
  reach: Reach,
  holds: ReadonlyMap<string, string>,
  revision: number,
  uses: EstateView['uses'],
  before?: EstateView,
): EstateView {
  const { estate } = reach;
  const { people, tree } = estate;
  // Keys are the same as long as the places, the people and the groups are.
  const samePlaces = before?.estate.tree.numbers === tree.numbers;
  const sameGrants =
    before?.estate.tree === tree &&
    before.estate.grants === estate.grants &&
    before.estate.links === estate.links;
  const samePeople =
    before?.estate.people.persons === people.persons &&
    before.estate.people.groups.length === people.groups.length;
  return {
    ...{ estate, reach, revision, holds, uses },
    marks: sameGrants && before ? before.marks : new PlaceMarks(estate),
    places: before && samePlaces ? before.places : new Map(tree.places.map((p, at) => [idKey(p.id), at])),
    principals:
      before && samePeople
        ? before.principals
        : new Map([...people.persons, ...people.groups].map((p) => [idKey(p.id), p.id])),
  };
}
