import { z } from 'zod';
import type { Queries } from '../../store/pool.ts';
import type { AccessReader, SourceLine } from './reader.ts';

const Member = z.object({
  address: z.string(),
  name: z.string(),
  unit: z.string(),
  left_on: z.string().nullable(),
});
const Nested = z.object({ name: z.string(), member: z.string() });

/** Groups of the list of staff have ids of their own: a group may be called as somebody’s address is. */
function staffGroupId(name: string): string {
  return `group ${name}`;
}

/** People and groups as the list of staff has them; nobody’s account is told, so all are open. */
export function staffListReader(store: Queries): AccessReader {
  return {
    async *lines() {
      yield* await staffLines(store);
    },
    close: () => Promise.resolve(),
  };
}

async function staffLines(store: Queries): Promise<readonly SourceLine[]> {
  const [people, groups, members, nested] = [
    await store.all(Member, 'SELECT address, name, unit, left_on FROM staff'),
    await store.all(z.object({ name: z.string() }), 'SELECT name FROM staff_group'),
    await store.all(
      Nested,
      'SELECT g.name, s.address AS member FROM staff_membership m JOIN staff s ON s.id = m.staff_id JOIN staff_group g ON g.id = m.group_id',
    ),
    await store.all(
      Nested,
      'SELECT o.name, i.name AS member FROM staff_nesting n JOIN staff_group o ON o.id = n.outer_id JOIN staff_group i ON i.id = n.inner_id',
    ),
  ];
  const within = new Map<string, string[]>(groups.map((g) => [g.name, []]));
  for (const { name, member } of members) within.get(name)?.push(member);
  for (const { name, member } of nested) within.get(name)?.push(staffGroupId(member));
  return [
    ...people.map((p): SourceLine => ({
      line: {
        ...{ type: 'person', id: p.address, name: p.name, mail: p.address, state: 'open', until: null },
        ...{ left: p.left_on, guest: false, attributes: p.unit ? { unit: p.unit } : {} },
      },
    })),
    ...[...within].map(([name, of]): SourceLine => ({
      line: { type: 'group', id: staffGroupId(name), name, members: of, where: [] },
    })),
  ];
}
