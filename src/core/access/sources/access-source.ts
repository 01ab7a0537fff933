import { z } from 'zod';

const Url = z
  .url({ protocol: /^https?$/, error: 'An address such as https://rights.company.example.' })
  .max(500);
const OfHoldings = z.int().positive('Choose the source.');

/** Where rights, or people and groups, are read from. What is secret stands apart. */
export const AccessAddress = z.discriminatedUnion('kind', [
  /** People and groups as the list of staff has them. */
  z.strictObject({ kind: z.literal('staff list') }),
  z.strictObject({ kind: z.literal('scim'), url: Url }),
  z.strictObject({
    kind: z.literal('ldap'),
    url: z
      .url({ protocol: /^ldaps?$/, error: 'An address such as ldaps://directory.company.example.' })
      .max(500),
    /** Whose password opens it. */
    user: z.string().max(500),
    base: z.string().trim().min(1, 'Where people and groups stand, such as dc=company,dc=example.').max(500),
  }),
  z.strictObject({ kind: z.literal('estate file') }),
  z.strictObject({ kind: z.literal('library'), url: Url }),
  /** Bits and lists of a folder of Holdings. */
  z.strictObject({ kind: z.literal('folder'), source: OfHoldings }),
  /** Grants of the server of a database of Holdings. */
  z.strictObject({ kind: z.literal('database'), source: OfHoldings }),
  /** Who shares the folders of a mailbox of Holdings. */
  z.strictObject({ kind: z.literal('mailbox'), source: OfHoldings }),
]);
export type AccessAddress = z.infer<typeof AccessAddress>;
export type AccessSourceKind = AccessAddress['kind'];

export const ACCESS_SOURCE_KINDS: Readonly<Record<AccessSourceKind, string>> = {
  'staff list': 'List of staff',
  scim: 'Directory (SCIM)',
  ldap: 'Directory (LDAP)',
  'estate file': 'Estate file',
  library: 'Library of documents',
  folder: 'Folder (mode bits and lists)',
  database: 'Database (grants)',
  mailbox: 'Mailbox (who shares its folders)',
};

/** Whether its people and groups are those that all others speak of. */
export function isDirectory(kind: AccessSourceKind): boolean {
  return kind === 'staff list' || kind === 'scim' || kind === 'ldap';
}

export function takesAccessSecret(kind: AccessSourceKind): boolean {
  return kind === 'scim' || kind === 'ldap' || kind === 'library';
}

const ID_SLOT = '{id}';
const OPENS = 'An address such as https://library.company.example/open?id={id}, with {id} for the place.';

/** What can be changed of one as it stands. */
export const AccessSourceContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  /** Read by itself so often; null where somebody has to ask. */
  everyHours: z.int().min(1).max(720).nullable(),
  /** Whether changes may be written to it from here. */
  writes: z.boolean(),
  /** Where people open a place of it themselves, with `{id}` for what it calls the place; '' where there is no such address. */
  opens: z
    .union([
      z.literal(''),
      z
        .url({ protocol: /^https?$/, error: OPENS })
        .max(500)
        .refine((url) => url.includes(ID_SLOT), { error: OPENS }),
    ])
    .default(''),
  /** Sources of Holdings by the name that its lines have for them, null for none; unsaid, the one that is called the same. */
  holds: z
    .array(z.strictObject({ name: z.string().max(400), source: z.int().positive().nullable() }))
    .max(500),
});
export type AccessSourceContent = z.infer<typeof AccessSourceContent>;

/** Where one opens a place oneself; `null` where its source has no address for it. */
export function openingAddress({ opens }: Pick<AccessSourceContent, 'opens'>, place: string): string | null {
  return opens === '' ? null : opens.replaceAll(ID_SLOT, encodeURIComponent(place));
}

/** Whether its lines name what its places lie in; those of a folder or a database of Holdings lie there. */
export function namesHoldings(kind: AccessSourceKind): boolean {
  return kind === 'library' || kind === 'estate file';
}

/** Whether there is a way to write to it at all. */
export function takesChanges(kind: AccessSourceKind): boolean {
  return kind !== 'estate file' && kind !== 'staff list' && kind !== 'mailbox';
}
