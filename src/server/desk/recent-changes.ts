import { z } from 'zod';
import type { ChangedObject } from '../../core/desk/changed-object.ts';
import { BigId, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/**
 * A transaction that ends so much later than one that began after it is told of all the same; and so is, to who begins to
 * listen, what was changed so shortly before: it may have been read earlier than that.
 */
const LATE_MS = 15_000;
const MOST = 2000;

/** What was put on record since the look before; at the first look, lately. */
export class RecentChanges {
  /** By ids of entries, what was told, and when; none of them at or below `#from`. */
  readonly #told = new Map<string, { readonly at: number; readonly changed: ChangedObject }>();
  #from: bigint | undefined;

  async look(store: Queries, now: Date): Promise<readonly ChangedObject[]> {
    if (this.#from === undefined) {
      const newest = await store.one(
        z.object({ id: BigId }),
        'SELECT id FROM ledger_entry WHERE at <= ? ORDER BY id DESC LIMIT 1',
        [toDatetime(new Date(now.getTime() - LATE_MS))],
      );
      this.#from = BigInt(newest?.id ?? 0);
    }
    const rows = await store.all(
      z.object({ id: BigId, object: z.string(), object_id: z.string() }),
      `SELECT id, object, object_id FROM ledger_entry WHERE id > ? AND at > ? ORDER BY id LIMIT ${MOST}`,
      // Entries are kept by month of their time; none that is so old is new.
      [String(this.#from), toDatetime(new Date(now.getTime() - 3_600_000))],
    );
    const fresh = rows
      .filter((r) => !this.#told.has(r.id))
      .map((r) => ({ id: r.id, changed: { object: r.object, id: r.object_id } }));
    for (const { id, changed } of fresh) this.#told.set(id, { at: now.getTime(), changed });
    this.#forget(now.getTime() - LATE_MS, rows.length === MOST);
    return fresh.map((r) => r.changed);
  }

  /** What others were told lately, for who begins to listen. */
  lately(): readonly ChangedObject[] {
    return [...this.#told.values()].map((t) => t.changed);
  }

  /** Goes on behind what nobody can be late for any more; of a flood, behind all of it. */
  #forget(until: number, isFlood: boolean): void {
    for (const [id, { at }] of this.#told) {
      if (at > until && !isFlood) return;
      if (BigInt(id) > (this.#from as bigint)) this.#from = BigInt(id);
      this.#told.delete(id);
    }
  }
}
