import { z } from 'zod';
import { staffByOwner } from '../../accounts/staff/staff-owner.ts';
import type { Queries } from '../../store/pool.ts';
import { sourceStewards } from '../sources/source-stewards.ts';

/** An item as far as it tells whose it is. */
export interface OwnedItem {
  readonly owner: string;
  readonly source_id: number;
}

/**
 * Who owns items, as people know them: whoever works here and is meant by what the source calls the owner, else whoever
 * looks after the system. Each owner is looked for once.
 */
export class ItemOwners {
  readonly #staff = new Map<string, number | null>();
  readonly #names = new Map<number, string>();
  #stewards: ReturnType<typeof sourceStewards> | undefined;

  constructor(
    readonly store: Queries,
    readonly now: Date,
  ) {}

  /** The number of whoever owns each of some items, in their order; null for nobody known. */
  async staffOf(items: readonly OwnedItem[]): Promise<readonly (number | null)[]> {
    const stewards = await (this.#stewards ??= sourceStewards(this.store));
    const asked = [
      ...new Set(items.flatMap((i) => [i.owner, stewards.get(i.source_id)?.email ?? ''])),
    ].filter((owner) => owner !== '' && !this.#staff.has(owner));
    if (asked.length > 0) {
      const found = await staffByOwner(this.store, this.now, asked);
      for (const owner of asked) this.#staff.set(owner, found.get(owner) ?? null);
    }
    return items.map(
      ({ owner, source_id }) =>
        this.#staff.get(owner) ?? this.#staff.get(stewards.get(source_id)?.email ?? '') ?? null,
    );
  }

  /** As a document names them; what the source says where nobody is known. */
  async nameOf(item: OwnedItem): Promise<string> {
    const [id = null] = await this.staffOf([item]);
    if (id === null) return (await this.#stewards)?.get(item.source_id)?.name ?? item.owner;
    const known = this.#names.get(id);
    if (known !== undefined) return known;
    const row = await this.store.one(z.object({ name: z.string() }), 'SELECT name FROM staff WHERE id = ?', [
      id,
    ]);
    this.#names.set(id, row?.name ?? item.owner);
    return row?.name ?? item.owner;
  }
}
