import { z } from 'zod';
import { plainEmail } from '../../accounts/email.ts';
import type { PreferencePage } from './preference-page.ts';
import { settledPreference, type Preference } from './preference-receipt.ts';

/** Somebody who may be written to. */
export const NewPerson = z.strictObject({
  address: z
    .string()
    .trim()
    .max(254, 'An address has at most 254 characters')
    .refine((a) => z.email().safeParse(a).success, 'Give an address such as mona@harbour.example')
    .transform(plainEmail),
  name: z.string().trim().max(160, 'At most 160 characters').default(''),
  /** What another system calls them. */
  number: z.string().trim().max(80, 'At most 80 characters').default(''),
  language: z
    .string()
    .trim()
    .max(20, 'At most 20 characters')
    .regex(/^([a-z]{2,3}(-[A-Za-z0-9]{2,8})*)?$/, 'Give a language as its tag, such as sv')
    .default(''),
});
export type NewPerson = z.infer<typeof NewPerson>;

export interface ListedPerson extends NewPerson {
  /** What they said elsewhere; `undefined` where the list does not tell. */
  readonly said: Preference | undefined;
}

export interface PersonFault {
  /** From 1, without the headings. */
  readonly row: number;
  readonly column: string;
  readonly words: string;
}

/** In one list: each choice that it tells is put on record by itself. */
export const MOST_PEOPLE = 5000;
const KNOWN = ['address', 'name', 'number', 'language'] as const;
const PARTS = /[;,]/;

/**
 * Reads a list of people: `address`, and where they stand `name`, `number`, `language`, `channels` and `topics` (codes,
 * parted by semicolons). Each cell that cannot be taken is named; columns that nobody knows are left.
 */
export function readPeople(
  headings: readonly string[],
  rows: readonly (readonly string[])[],
  page: Pick<PreferencePage, 'channels' | 'topics'>,
): { readonly people: readonly ListedPerson[]; readonly faults: readonly PersonFault[] } {
  const names = headings.map((h) => h.trim().toLowerCase());
  const at = (name: string) => names.indexOf(name);
  if (at('address') < 0)
    return {
      people: [],
      faults: [
        { row: 0, column: 'address', words: `There is no column “address” among: ${headings.join(', ')}.` },
      ],
    };
  const people = new Map<string, ListedPerson>();
  const faults: PersonFault[] = [];
  const tellsSaid = at('channels') >= 0 && at('topics') >= 0;
  rows.forEach((cells, i) => {
    const cell = (name: string) => (at(name) < 0 ? '' : (cells[at(name)] ?? '').trim());
    const read = NewPerson.safeParse(Object.fromEntries(KNOWN.map((name) => [name, cell(name)])));
    const codes = (name: 'channels' | 'topics', known: readonly string[]) => {
      const all = tellsSaid
        ? cell(name)
            .split(PARTS)
            .map((c) => c.trim().toLowerCase())
            .filter(Boolean)
        : [];
      for (const code of all.filter((c) => !known.includes(c)))
        faults.push({ row: i + 1, column: name, words: `“${code}” is none of ${known.join(', ')}.` });
      return all;
    };
    const said = { channels: codes('channels', page.channels), topics: codes('topics', page.topics) };
    if (!read.success) {
      for (const { path, message } of read.error.issues)
        faults.push({ row: i + 1, column: String(path[0] ?? ''), words: message });
      return;
    }
    if (people.has(read.data.address))
      faults.push({ row: i + 1, column: 'address', words: `${read.data.address} stands there twice.` });
    people.set(read.data.address, {
      ...read.data,
      said: tellsSaid ? settledPreference(page, said) : undefined,
    });
  });
  return { people: [...people.values()], faults };
}
