import { z } from 'zod';
import type { PersonLine } from '../../../core/access/estate/estate-line.ts';
import type { Queries } from '../../store/pool.ts';

const Content = z.object({ content: z.string() });
const DIRECTORIES = "s.kind IN ('staff list', 'scim', 'ldap')";

/** The person of a directory whose account an own person of another source is: by mail or sign-in name; of a file system by uid. */
export async function accountOwners(store: Queries): Promise<(person: PersonLine) => string | undefined> {
  const rows = await store.all(
    Content,
    `SELECT l.content FROM access_line l JOIN access_source s ON s.id = l.source_id
     WHERE l.went = 0 AND l.kind = 'person' AND ${DIRECTORIES}`,
  );
  const by = new Map<string, string | null>();
  // What two people share tells nobody.
  const add = (key: string | undefined, id: string) => {
    if (key !== undefined && key !== '') by.set(key, by.has(key) && by.get(key) !== id ? null : id);
  };
  for (const { content } of rows) {
    const person = JSON.parse(content) as PersonLine;
    const mail = person.mail?.toLowerCase();
    add(mail && `mail ${mail}`, person.id);
    add(person.attributes['login'] && `login ${person.attributes['login'].toLowerCase()}`, person.id);
    if (mail) add(`login ${mail.split('@')[0] ?? ''}`, person.id);
    if (person.uid !== undefined) add(`uid ${person.uid}`, person.id);
  }
  return ({ mail, name, uid }) => {
    // A file system knows people by number alone: who has none in the directory stays an account of the machine.
    if (uid !== undefined) return by.get(`uid ${uid}`) ?? undefined;
    return (
      (mail && by.get(`mail ${mail.toLowerCase()}`)) ??
      by.get(`login ${(name ?? '').toLowerCase()}`) ??
      undefined
    );
  };
}

/** The last day of work by address, of those who left. */
export async function leavingDays(store: Queries): Promise<ReadonlyMap<string, string>> {
  const rows = await store.all(
    z.object({ address: z.string(), left_on: z.string() }),
    'SELECT address, left_on FROM staff WHERE left_on IS NOT NULL',
  );
  return new Map(rows.map((r) => [r.address.toLowerCase(), r.left_on]));
}

/** How people and groups are called, by id. */
export async function principalNames(store: Queries): Promise<ReadonlyMap<string, string>> {
  const rows = await store.all(
    Content,
    "SELECT content FROM access_line WHERE went = 0 AND kind IN ('person', 'group')",
  );
  return new Map(
    rows.map(({ content }) => {
      const { id, name } = JSON.parse(content) as { id: string; name?: string };
      return [id, name ?? id] as const;
    }),
  );
}
