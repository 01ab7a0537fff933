import { permissionWords } from '../../core/accounts/roles/permissions.ts';
import {
  blindActs,
  kinship,
  needless,
  togetherAllow,
  type Kinship,
} from '../../core/accounts/roles/role-kinship.ts';
import { roleUse } from '../../core/accounts/roles/role-use.ts';
import { notFound } from '../../core/refusal.ts';
import { AREAS } from '../areas.ts';
import { allRoles, type Role } from '../accounts/roles/all-roles.ts';
import { countedSince, useDay, usesSince } from '../accounts/roles/permission-use.ts';
import { roleHolders, type RoleHolder } from '../accounts/roles/role-holders.ts';
import type { Context } from '../context.ts';
import type { Elsewhere } from './elsewhere.ts';

/** A permission that nobody used for as long is one that nobody needs. */
const USE_DAYS = 90;

/** A role as the register lists it. */
export interface ListedRole {
  readonly id: string;
  readonly name: string;
  readonly own: boolean;
  readonly state: Role['state'];
  /** How many permissions it gives, or would as a draft. */
  readonly allows: number;
  readonly holders: number;
  /** Of those in force: how many nobody who holds it used. */
  readonly unused: number;
  readonly contains: readonly string[];
  readonly within: readonly string[];
}

/** How far back use can be told of. */
interface Counting {
  readonly days: number;
  /** Since when it is counted, where that is less; `null` where nothing is counted yet or all of it is. */
  readonly onlySince: string | null;
}

export interface Roles {
  readonly roles: readonly ListedRole[];
  readonly counting: Counting;
  /** Who holds a role that gives nothing which their others do not. */
  readonly needless: readonly {
    readonly id: number;
    readonly name: string;
    readonly roles: readonly string[];
  }[];
}

export async function listRoles(ctx: Context): Promise<Roles> {
  const { roles, holders, uses, since, counting } = await look(ctx);
  const people = [...new Map(holders.map((h) => [h.id, h.name]))];
  return {
    counting,
    roles: roles.map((role) => {
      const hold = holders.filter((h) => h.role === role.id && !h.disabled);
      const { unused } = roleUse(role, ids(hold), uses, since);
      const kin = kinOf(role, roles);
      return {
        ...{ id: role.id, name: role.name, own: role.own, state: role.state },
        allows: (role.state === 'in force' ? role.actions : role.drafted).length,
        ...{ holders: hold.length, unused: hold.length === 0 ? 0 : unused.length },
        contains: kin.filter((k) => k.is !== 'within').map((k) => k.name),
        within: kin.filter((k) => k.is !== 'contains').map((k) => k.name),
      };
    }),
    needless: people.flatMap(([id, name]) => {
      const spare = needless(roles.filter((r) => holders.some((h) => h.id === id && h.role === r.id)));
      return spare.length > 0 ? [{ id, name, roles: spare.map((r) => r.name) }] : [];
    }),
  };
}

export interface RoleOutlook {
  readonly id: string;
  readonly name: string;
  readonly own: boolean;
  readonly actions: readonly string[];
  readonly holders: readonly (RoleHolder & {
    readonly used: number;
    /** What the draft would let them do that they may not do now, and what not any more; in words. */
    readonly gains: readonly string[];
    readonly loses: readonly string[];
  })[];
  readonly counting: Counting;
  /** Permissions that somebody who holds it used, and those that nobody did; by name, with their words. */
  readonly used: readonly Named[];
  readonly unused: readonly Named[];
  readonly kin: readonly { readonly id: string; readonly name: string; readonly is: Kinship }[];
  /** Acts on what one cannot see with it. */
  readonly blind: readonly { readonly act: string; readonly lacks: string }[];
  readonly elsewhere: readonly (Omit<Elsewhere, 'action'> & { readonly act: string })[];
}

interface Named {
  readonly action: string;
  readonly words: string;
}

/** A role as its draft stands: who holds it, what they use of it, what it would change. Throws a RefusedError (404). */
export async function roleOutlook(ctx: Context, id: string): Promise<RoleOutlook> {
  const { roles, holders, uses, since, counting } = await look(ctx);
  const role = roles.find((r) => r.id === id);
  if (!role) throw notFound('role');
  const actions = role.drafted;
  const hold = holders.filter((h) => h.role === id);
  const use = roleUse({ actions }, ids(hold.filter((h) => !h.disabled)), uses, since);
  const named = (a: string): Named => ({ action: a, words: permissionWords(a) });
  return {
    ...{ id, name: role.name, own: role.own, actions, counting },
    holders: hold.map((h) => {
      const others = roles.filter((r) => r !== role && holders.some((o) => o.id === h.id && o.role === r.id));
      const now = togetherAllow([...others, role]);
      const then = togetherAllow([...others, { actions }]);
      return {
        ...h,
        used: use.byHolder.find((b) => b.account === h.id)?.used ?? 0,
        gains: then.filter((a) => !now.includes(a)).map(permissionWords),
        loses: now.filter((a) => !then.includes(a)).map(permissionWords),
      };
    }),
    used: use.used.map(named),
    unused: use.unused.map(named),
    kin: kinOf({ ...role, actions }, roles),
    blind: blindActs(actions).map((b) => ({
      act: permissionWords(b.action),
      lacks: permissionWords(b.lacks),
    })),
    elsewhere: (await elsewhereOf(ctx, actions)).map(({ action, ...rest }) => ({
      ...rest,
      act: permissionWords(action),
    })),
  };
}

async function look(ctx: Context) {
  const now = ctx.now();
  const since = useDay(new Date(now.getTime() - USE_DAYS * 86_400_000));
  const [roles, holders, uses, counted] = await Promise.all([
    allRoles(ctx.store),
    roleHolders(ctx.store),
    usesSince(ctx.store, since),
    countedSince(ctx.store),
  ]);
  const counting = { days: USE_DAYS, onlySince: counted !== null && counted > since ? counted : null };
  return { roles, holders, uses, since, counting };
}

/** Of some permissions, in the order of the areas. */
async function elsewhereOf(ctx: Context, actions: readonly string[]): Promise<readonly Elsewhere[]> {
  const all = await Promise.all(AREAS.map((a) => a.elsewhere?.(ctx) ?? []));
  return all.flat().filter((e) => actions.includes(e.action));
}

const ids = (holders: readonly RoleHolder[]) => holders.map((h) => h.id);

/** Roles in force that contain it, are contained, or allow the same. */
function kinOf(role: Pick<Role, 'id' | 'actions'>, all: readonly Role[]): RoleOutlook['kin'] {
  return all.flatMap((other) => {
    const is = other.id === role.id ? undefined : kinship(role, other);
    return is ? [{ id: other.id, name: other.name, is }] : [];
  });
}
