import type { EstateLine } from '../../../core/access/estate/estate-line.ts';

/** Accounts and groups of a machine, from what `getent passwd` and `getent group` tell (passwd(5), group(5)). */
export function accountLines(passwd: string, group: string): readonly EstateLine[] {
  const rows = (text: string, columns: number) =>
    text
      .split('\n')
      .map((line) => line.split(':'))
      .filter((cells) => cells.length >= columns && cells[0] !== '');
  const people = rows(passwd, 7).map(([name = '', , uid, gid, about = '']): EstateLine => ({
    ...{
      type: 'person',
      id: `user ${name}`,
      name: about.split(',')[0] || name,
      uid: Number(uid),
      gid: Number(gid),
    },
    // Whether a password opens it is told elsewhere, and keys open it without one.
    ...{ state: 'open', until: null, left: null, guest: false, attributes: {} },
  }));
  const groups = rows(group, 4).map(([name = '', , gid, members = '']): EstateLine => ({
    ...{ type: 'group', id: `group ${name}`, name, gid: Number(gid), where: [] },
    members: members
      .split(',')
      .filter(Boolean)
      .map((m) => `user ${m}`),
  }));
  return [...people, ...groups];
}
