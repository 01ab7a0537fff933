import type { Staff } from '../../src/core/accounts/staff/staff.ts';
import type { DirectoryBook, ScimGroup, ScimUser } from '../../standins/directory/directory.ts';

const ENTERPRISE = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User';
/** Of every four who left, one account was forgotten. */
const FORGOTTEN_EVERY = 4;

/** What somebody is called in the directory: what stands before the sign of their address. */
export function directoryId(address: string): string {
  return address.split('@')[0] ?? address;
}

export function groupId(name: string): string {
  return `g-${name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/\p{M}/gu, '')
    .replaceAll('ø', 'o')
    .replace(/[^a-z0-9]+/g, '-')}`;
}

/** The directory of the ferry line: accounts of all staff, of whom some left and were forgotten, and their groups. */
export function directoryBook({ members, groups }: Staff): DirectoryBook {
  const gone = members.filter((m) => m.left !== null);
  const users = members.map((m): ScimUser => {
    const isForgotten = m.name === 'Karl Wede' || gone.indexOf(m) % FORGOTTEN_EVERY === 1;
    return {
      ...{ id: directoryId(m.address), userName: m.address, displayName: m.name },
      active: m.left === null || isForgotten,
      userType: m.groups.includes('Guests') ? 'Guest' : 'Employee',
      emails: [{ value: m.address, primary: true }],
      ...(m.unit ? { [ENTERPRISE]: { department: m.unit } } : {}),
    };
  });
  return {
    users,
    groups: groups.map((g): ScimGroup => ({
      ...{ id: groupId(g.name), displayName: g.name },
      members: [
        ...members.filter((m) => m.groups.includes(g.name)).map((m) => ({ value: directoryId(m.address) })),
        ...groups.filter((o) => o.within.includes(g.name)).map((o) => ({ value: groupId(o.name) })),
      ],
    })),
  };
}
