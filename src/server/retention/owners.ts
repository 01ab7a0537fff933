import { nearness, type Audience, type Reached } from '../../core/accounts/staff/audience.ts';
import { EVERYTHING, type Lens } from '../../core/lens/lens.ts';
import type { Scope } from '../../core/retention/scope/scope.ts';
import { everyMember } from '../accounts/staff/staff.ts';
import { staffByOwner } from '../accounts/staff/staff-owner.ts';
import type { Context } from '../context.ts';
import { askLens } from '../holdings/offers.ts';

/** What sources call the owners of items, and who is meant by each; asked once where it is asked at all. */
export class Owners {
  #known: Promise<ReadonlyMap<string, Reached>> | undefined;

  constructor(readonly ctx: Context) {}

  /** The people of a scope as a condition on the owner; everything where it names none. */
  async lensOf({ of, notOf }: Pick<Scope, 'of' | 'notOf'>): Promise<Lens> {
    if (of.length === 0 && notOf.length === 0) return EVERYTHING;
    const known = await (this.#known ??= this.#read());
    const reached = (audience: Audience) =>
      [...known].flatMap(([owner, who]) => (nearness(audience, who) === undefined ? [] : [owner]));
    const oneOf = (owners: readonly string[]): Lens =>
      owners.length === 0 ? { any: [] } : { fact: 'owner', is: 'one of', values: [...owners] };
    return {
      all: [
        ...(of.length > 0 ? [oneOf(reached(of))] : []),
        ...(notOf.length > 0 ? [{ not: oneOf(reached(notOf)) }] : []),
      ],
    };
  }

  async #read(): Promise<ReadonlyMap<string, Reached>> {
    const owners = await askLens(this.ctx, {
      lens: EVERYTHING,
      today: this.ctx.now().toISOString().slice(0, 10),
      sources: null,
      ask: { what: 'owners' },
    });
    const staff = await staffByOwner(this.ctx.store, this.ctx.now(), owners);
    const members = new Map<number, Reached>();
    for await (const m of everyMember(this.ctx)) members.set(m.id, m);
    return new Map(
      owners.map((owner): [string, Reached] => {
        const member = members.get(staff.get(owner) ?? -1);
        // Nobody who is known: at least the name itself, which may be an address.
        return [owner, member ?? { address: owner.trim().toLowerCase(), groups: new Map() }];
      }),
    );
  }
}
