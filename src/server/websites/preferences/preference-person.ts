import { z } from 'zod';
import { notFound } from '../../../core/refusal.ts';
import { STANDS } from '../../../core/websites/preferences/person-list.ts';
import { Bytes, Instant } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { formatUuid } from '../consents/record-id.ts';

/** How somebody stands, of `p`. */
export const STAND =
  "CASE WHEN p.said_at IS NULL THEN 'never asked' WHEN p.channels = '' THEN 'left' ELSE 'says yes' END";

export const PersonRow = z
  .object({
    id: z.number(),
    address: z.string(),
    name: z.string(),
    number: z.string(),
    language: z.string(),
    channels: z.string(),
    topics: z.string(),
    said_at: Instant.nullable(),
    said_record: Bytes.nullable(),
    said_self: z.number(),
    left_at: Instant.nullable(),
    stands: z.enum(STANDS),
  })
  .transform(({ said_at, said_record, said_self, left_at, channels, topics, ...rest }) => ({
    ...rest,
    channels: codes(channels),
    topics: codes(topics),
    saidAt: said_at,
    /** Receipt of their last choice. */
    receipt: said_record && formatUuid(said_record),
    saidSelf: said_self === 1,
    leftAt: left_at,
  }));
export type PreferencePerson = z.infer<typeof PersonRow>;
export const PERSON_COLUMNS = `p.id, p.address, p.name, p.number, p.language, p.channels, p.topics, p.said_at, p.said_record, p.said_self, p.left_at, ${STAND} AS stands`;

/** Throws a RefusedError (404). */
export async function findPerson(store: Queries, id: number): Promise<PreferencePerson> {
  const row = await store.one(PersonRow, `SELECT ${PERSON_COLUMNS} FROM preference_person p WHERE p.id = ?`, [
    id,
  ]);
  if (!row) throw notFound('person');
  return row;
}

/** Those of these numbers that are known, by number. */
export async function findPeople(
  store: Queries,
  ids: readonly number[],
): Promise<readonly PreferencePerson[]> {
  if (ids.length === 0) return [];
  return store.all(
    PersonRow,
    `SELECT ${PERSON_COLUMNS} FROM preference_person p WHERE p.id IN (?) ORDER BY p.id`,
    [ids],
  );
}

/** As channels and topics are kept. */
export function codes(text: string): string[] {
  return text === '' ? [] : text.split(',');
}
