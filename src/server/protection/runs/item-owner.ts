import { z } from 'zod';
import { staffByOwner } from '../../accounts/staff/staff-owner.ts';
import { sourceStewards, type ItemDetail } from '../../holdings/offers.ts';
import type { Queries } from '../../store/pool.ts';

/**
 * Who owns items, as people know them: whoever works here and is meant by what the source calls the owner, else whoever
 * looks after the system, else what the source says. Asked once for each owner and source.
 */
export class ItemOwners {
  readonly #known = new Map<string, Promise<string>>();
  #stewards: ReturnType<typeof sourceStewards> | undefined;

  constructor(
    readonly store: Queries,
    readonly now: Date,
  ) {}

  nameOf({ owner, source_id: source }: Pick<ItemDetail, 'owner' | 'source_id'>): Promise<string> {
    const key = `${source} ${owner}`;
    let known = this.#known.get(key);
    if (!known) this.#known.set(key, (known = this.#find(owner, source)));
    return known;
  }

  async #find(owner: string, source: number): Promise<string> {
    const steward = (await (this.#stewards ??= sourceStewards(this.store))).get(source);
    const staff = await staffByOwner(this.store, this.now, [owner, ...(steward ? [steward.email] : [])]);
    const id = staff.get(owner) ?? (steward && staff.get(steward.email));
    if (id === undefined) return steward?.name ?? owner;
    const row = await this.store.one(z.object({ name: z.string() }), 'SELECT name FROM staff WHERE id = ?', [
      id,
    ]);
    return row?.name ?? owner;
  }
}
