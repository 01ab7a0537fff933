import { GIVEN_BY_ROLES } from './permissions.ts';

/** Anything that lets one do some things. */
export interface Granting {
  readonly actions: readonly string[];
}

/** What one role is to another: it lets one do all that the other does, and more; as much; or less. */
export type Kinship = 'contains' | 'same' | 'within';

/** `undefined` where each lets one do something that the other does not, or one of them nothing. */
export function kinship(one: Granting, other: Granting): Kinship | undefined {
  if (one.actions.length === 0 || other.actions.length === 0) return undefined;
  const all = holdsAll(one, other);
  const part = holdsAll(other, one);
  if (all && part) return 'same';
  return all ? 'contains' : part ? 'within' : undefined;
}

function holdsAll(one: Granting, other: Granting): boolean {
  const has = new Set(one.actions);
  return other.actions.every((a) => has.has(a));
}

/** What any of some roles lets one do, each once, in the order of the areas. */
export function togetherAllow(roles: readonly Granting[]): readonly string[] {
  const has = new Set(roles.flatMap((r) => r.actions));
  return GIVEN_BY_ROLES.filter((a) => has.has(a));
}

/** Of what somebody holds: roles that give nothing that the others together do not. Of two that are alike, the later. */
export function needless<T extends Granting>(roles: readonly T[]): readonly T[] {
  return roles.reduceRight<readonly T[]>((found, role) => {
    const others = roles.filter((r) => r !== role && !found.includes(r));
    const rest = new Set(others.flatMap((r) => r.actions));
    return role.actions.length > 0 && role.actions.every((a) => rest.has(a)) ? [role, ...found] : found;
  }, []);
}

/** Permissions to act on what one may not see with these: each with the one that lacks. */
export function blindActs(actions: readonly string[]): readonly { action: string; lacks: string }[] {
  return actions.flatMap((action) => {
    const read = `${action.slice(0, action.indexOf('.'))}.read`;
    return (GIVEN_BY_ROLES as readonly string[]).includes(read) && !actions.includes(read)
      ? [{ action, lacks: read }]
      : [];
  });
}
