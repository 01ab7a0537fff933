import { z } from 'zod';
import { RowTemplate } from './row-template.ts';

const Host = z
  .string()
  .trim()
  .min(1, 'Type the name of the server.')
  .max(253)
  .regex(/^[a-z0-9.:[\]-]+$/i, 'The name of a server, such as mail.company.example.');
const port = (usual: number) => z.int().min(1).max(65535).default(usual);
const User = z.string().max(200).default('');
const Name = z.string().trim().max(200);

/** Where the data of a source lies, and how it is spoken to. What is secret stands apart. */
export const SourceAddress = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('folder'),
    root: z.string().trim().max(2000).regex(/^\//, 'The whole path of the folder, such as /srv/shares/port.'),
  }),
  z.strictObject({
    kind: z.literal('mail folder'),
    root: z.string().trim().max(2000).regex(/^\//, 'The whole path of the folder, such as /srv/mail.'),
  }),
  z.strictObject({
    kind: z.literal('imap'),
    host: Host,
    port: port(993),
    /** TLS from the first byte; otherwise STARTTLS where the server has it. */
    secure: z.boolean().default(true),
    user: User,
  }),
  z.strictObject({ kind: z.literal('mariadb'), host: Host, port: port(3306), user: User, database: Name }),
  z.strictObject({ kind: z.literal('postgresql'), host: Host, port: port(5432), user: User, database: Name }),
  z.strictObject({
    kind: z.literal('object store'),
    /** Of the S3 interface. */
    endpoint: z
      .url({ protocol: /^https?$/, error: 'An address such as https://store.company.example.' })
      .max(500),
    region: Name.default('eu'),
    bucket: z.string().trim().min(1, 'Type the name of the bucket.').max(200),
    prefix: z.string().max(500).default(''),
    /** The key's public half. */
    user: User,
  }),
]);
export type SourceAddress = z.infer<typeof SourceAddress>;
export type SourceKind = SourceAddress['kind'];

export const SOURCE_KINDS: Readonly<Record<SourceKind, string>> = {
  folder: 'Folder',
  'mail folder': 'Mail folder (Maildir, mbox)',
  imap: 'Mailbox (IMAP)',
  mariadb: 'Database (MariaDB)',
  postgresql: 'Database (PostgreSQL)',
  'object store': 'Object store (S3)',
};

/** Whether it is spoken to with a password or a secret key. */
export function takesSecret(kind: SourceKind): boolean {
  return kind !== 'folder' && kind !== 'mail folder';
}

/** How its data is called. */
export function itemWords(kind: SourceKind): readonly [string, string] {
  switch (kind) {
    case 'folder':
      return ['file', 'files'];
    case 'mail folder':
    case 'imap':
      return ['message', 'messages'];
    case 'mariadb':
    case 'postgresql':
      return ['row group', 'row groups'];
    case 'object store':
      return ['object', 'objects'];
  }
}

/** Where it lies, in a line that people can read and that has nothing secret. */
export function addressWords(address: SourceAddress): string {
  switch (address.kind) {
    case 'folder':
    case 'mail folder':
      return address.root;
    case 'imap':
      return `${address.user} at ${address.host}:${address.port}`;
    case 'mariadb':
    case 'postgresql':
      return `${address.database} at ${address.host}:${address.port}`;
    case 'object store':
      return `${address.bucket}${address.prefix ? `/${address.prefix}` : ''} at ${new URL(address.endpoint).host}`;
  }
}

/** What can be changed of a source as it stands; its address is changed by trying another. */
export const SourceContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  /** Id of the system whose data lies there. */
  system: z.int().positive().nullable(),
  /** At most so many items a second; null for as fast as it goes. */
  itemsPerSecond: z.int().min(1).max(100_000).nullable(),
  /** Of databases: at most so many rows of each table; null for all. */
  rowsPerTable: z.int().min(1).max(1e9).nullable(),
  /** Of databases: tables whose rows are told apart by their day. */
  rowTemplates: z
    .array(RowTemplate)
    .max(200)
    .refine((all) => new Set(all.map((t) => t.table)).size === all.length, 'A table has one template.')
    .default([]),
  /** What reading a gigabyte costs, in the organisation's currency. */
  pricePerGb: z.number().min(0).max(1e6),
});
export type SourceContent = z.infer<typeof SourceContent>;

export const USUAL_SOURCE: Omit<SourceContent, 'name'> = {
  system: null,
  itemsPerSecond: null,
  rowsPerTable: null,
  rowTemplates: [],
  pricePerGb: 0,
};

/** What an organisation runs: a booking system, the payroll. */
export const SystemContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  about: z.string().max(2000),
  /** Who answers for it; any name. */
  owner: z.string().max(120),
  /** Account of who looks after its data. */
  steward: z.int().positive().nullable(),
  /** ISO 3166-1 of where it stands; '' where that is not known. */
  country: z.union([z.literal(''), z.string().regex(/^[A-Z]{2}$/, 'Two letters of ISO 3166-1, such as DK.')]),
  vendors: z.array(z.string().trim().min(1).max(120)).max(50),
  notes: z.string().max(4000),
});
export type SystemContent = z.infer<typeof SystemContent>;
