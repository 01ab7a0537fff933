import type { GrantLine, GroupLine, LinkLine, PersonLine, PlaceLine } from './estate-line.ts';

/** That a person or group is in a group by name. */
export interface MemberLine {
  readonly type: 'member';
  readonly group: string;
  readonly member: string;
}

/** A line of an estate as it is kept, changed and told of: groups without their members, which are lines of their own. */
export type EstateRow = PersonLine | GroupLine | MemberLine | PlaceLine | GrantLine | LinkLine;

/** What makes a row this one and no other; of two with the same, one is the other as it was later. */
export function rowIdentity(row: EstateRow): string {
  switch (row.type) {
    case 'person':
    case 'group':
    case 'place':
      return JSON.stringify([row.type, row.id]);
    case 'member':
      return JSON.stringify([row.type, row.group, row.member]);
    case 'grant':
      return JSON.stringify([row.type, row.place, row.to, row.strength, row.deny, row.only, row.until]);
    case 'link':
      return JSON.stringify([row.type, row.place, row.id]);
  }
}

/** The rows of a line. */
export function rowsOf(
  line: PersonLine | GroupLine | PlaceLine | GrantLine | LinkLine,
): readonly EstateRow[] {
  if (line.type !== 'group' || line.members.length === 0) return [line];
  return [
    { ...line, members: [] },
    ...[...new Set(line.members)].map((member): MemberLine => ({ type: 'member', group: line.id, member })),
  ];
}

/** How ids of one source are told from those of others. */
export interface SourceIds {
  /** A directory’s people and groups are everybody’s; those of any other source are its own. */
  readonly isDirectory: boolean;
  readonly prefix: string;
  /** Persons and groups that the source tells of itself. */
  isOwn(id: string): boolean;
  /** Whose account an own person is, where it is known. */
  ownerOf(id: string): string | undefined;
}

/**
 * A row as the estate of all sources has it. An account of somebody whom the directory knows becomes a group of that one
 * person: what it is given, they have.
 */
export function globalRow(row: EstateRow, ids: SourceIds): readonly EstateRow[] {
  const who = (id: string) => (!ids.isDirectory && ids.isOwn(id) ? `${ids.prefix}${id}` : id);
  const place = (id: string) => `${ids.prefix}${id}`;
  switch (row.type) {
    case 'person': {
      const owner = ids.isDirectory ? undefined : ids.ownerOf(row.id);
      if (owner === undefined) return [{ ...row, id: who(row.id) }];
      const id = who(row.id);
      return [
        { type: 'group', id, name: row.name ?? row.id, members: [], where: [] },
        ...(row.state === 'open' ? [{ type: 'member', group: id, member: owner } as const] : []),
      ];
    }
    case 'group':
      return [{ ...row, id: who(row.id), members: row.members.map(who) }];
    case 'member':
      return [{ ...row, group: who(row.group), member: who(row.member) }];
    case 'place':
      return [
        {
          ...row,
          id: place(row.id),
          source: `${ids.prefix}${row.source}`,
          parent: row.parent === null ? null : place(row.parent),
          owner: row.owner === null ? null : who(row.owner),
        },
      ];
    case 'grant':
      return [{ ...row, place: place(row.place), to: who(row.to) }];
    case 'link':
      return [{ ...row, place: place(row.place), to: typeof row.to === 'string' ? row.to : row.to.map(who) }];
  }
}
