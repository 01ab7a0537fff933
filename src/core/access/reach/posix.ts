import type { PlaceLine } from '../estate/estate-line.ts';
import type { Steps } from './strength.ts';

type PosixPlace = NonNullable<PlaceLine['posix']>;

const R = 4;
const W = 2;
const X = 1;

/** Whom a file system knows a person as. */
export interface PosixPerson {
  readonly uid: number;
  readonly gids: ReadonlySet<number>;
}

/** Entries of a list as the kernel looks at them; bits of `rwx`. */
export interface PosixAcl {
  readonly is: PosixPlace['is'];
  readonly uid: number;
  readonly gid: number;
  readonly owner: number;
  readonly users: readonly (readonly [uid: number, bits: number])[];
  /** That of the owning group first. */
  readonly groups: readonly (readonly [gid: number, bits: number])[];
  /** What named users and all groups are kept to; absent where there is no list. */
  readonly mask: number | undefined;
  readonly other: number;
}

export function posixAcl({ is, uid, gid, mode, acl }: PosixPlace): PosixAcl {
  if (acl === undefined) {
    const bits = parseInt(mode ?? '0', 8);
    return {
      ...{ is, uid, gid, owner: (bits >> 6) & 7, users: [], mask: undefined, other: bits & 7 },
      groups: [[gid, (bits >> 3) & 7]],
    };
  }
  const entries = acl.map((e) => {
    const [kind = '', id = '', text = ''] = e.split(':');
    return {
      kind,
      id,
      bits: (text[0] === 'r' ? R : 0) | (text[1] === 'w' ? W : 0) | (text[2] === 'x' ? X : 0),
    };
  });
  const one = (kind: string) => entries.find((e) => e.kind === kind && e.id === '')?.bits;
  const named = (kind: string) =>
    entries.flatMap((e) => (e.kind === kind && e.id !== '' ? [[Number(e.id), e.bits] as const] : []));
  return {
    ...{
      is,
      uid,
      gid,
      owner: one('user') ?? 0,
      users: named('user'),
      mask: one('mask'),
      other: one('other') ?? 0,
    },
    groups: [[gid, one('group') ?? 0], ...named('group')],
  };
}

/** Why the kernel decided as it did. */
export type PosixWay = 'root' | 'owner' | 'user' | 'group' | 'other';

/** Whether a file system lets somebody do all of what the bits say, and by which class of entries (POSIX.1e, 23.1.4). */
export function posixAllows(
  { uid, gids }: PosixPerson,
  acl: PosixAcl,
  wanted: number,
): { readonly is: boolean; readonly way: PosixWay } {
  const has = (bits: number) => (bits & wanted) === wanted;
  if (uid === 0) {
    const anyX = [acl.owner, acl.other, ...acl.users.map((u) => u[1]), ...acl.groups.map((g) => g[1])].some(
      (bits) => (bits & X) !== 0,
    );
    return { is: (wanted & X) === 0 || acl.is === 'folder' || anyX, way: 'root' };
  }
  if (uid === acl.uid) return { is: has(acl.owner), way: 'owner' };
  const masked = (bits: number) => bits & (acl.mask ?? 7);
  const user = acl.users.find(([id]) => id === uid);
  if (user) return { is: has(masked(user[1])), way: 'user' };
  const mine = acl.groups.filter(([id]) => gids.has(id));
  // One of them has to allow all of it: what two allow in part is not added up.
  if (mine.length > 0) return { is: mine.some(([, bits]) => has(masked(bits))), way: 'group' };
  return { is: has(acl.other), way: 'other' };
}

/**
 * What somebody can do with a file or folder, where they can pass through all folders above: see that it is there; read it (of
 * a folder, its names and what lies in it); change it (of a folder, what lies in it); and give it to others, as its owner can.
 */
export function posixSteps(person: PosixPerson, acl: PosixAcl): Steps {
  const pass = acl.is === 'folder' ? X : 0;
  let steps = 1;
  if (posixAllows(person, acl, R | pass).is) steps |= 2;
  if (posixAllows(person, acl, W | pass).is) steps |= 4;
  if (person.uid === 0 || person.uid === acl.uid) steps |= 8;
  return steps;
}

/** Whether somebody can pass through a folder to what lies in it. */
export function posixPasses(person: PosixPerson, acl: PosixAcl): boolean {
  return posixAllows(person, acl, X).is;
}
