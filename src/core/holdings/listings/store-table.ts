import { SOURCE_KINDS, type SourceKind } from '../sources/source.ts';
import type { CellFault, TableColumns, TableFields } from '../tables/table-fields.ts';
import { placeKey, Store } from './store.ts';

/** What a table of stores can tell in its columns. */
export const STORE_FIELDS = {
  id: { words: 'Id', names: ['id', 'key', 'number', 'no'], needed: false },
  name: { words: 'Name', names: ['name', 'store', 'source', 'share', 'bucket name', 'title'], needed: true },
  kind: { words: 'Kind', names: ['kind', 'type', 'technology'], needed: true },
  where: {
    words: 'Where it lies',
    names: ['where', 'address', 'path', 'host', 'server', 'endpoint', 'url', 'location', 'root'],
    needed: true,
  },
  port: { words: 'Port', names: ['port'], needed: false },
  inside: {
    words: 'Database or bucket',
    names: ['database', 'bucket', 'schema', 'inside', 'db'],
    needed: false,
  },
  user: { words: 'User', names: ['user', 'account', 'login', 'access key'], needed: false },
  team: { words: 'Team', names: ['team', 'owner', 'department', 'unit', 'responsible'], needed: false },
  region: { words: 'Region', names: ['region', 'country', 'zone'], needed: false },
  bytes: { words: 'Size in bytes', names: ['bytes', 'size', 'size in bytes'], needed: false },
} as const satisfies TableFields<string>;
export type StoreField = keyof typeof STORE_FIELDS;

/** The column of each field, counted from 0. */
export type StoreColumns = TableColumns<StoreField>;

export interface ReadStores {
  readonly stores: readonly Store[];
  readonly faults: readonly CellFault[];
}

/** Words that stand for a kind, as people write them. */
const KIND_NAMES: Readonly<Record<SourceKind, readonly string[]>> = {
  folder: ['folder', 'share', 'file share', 'smb', 'nfs', 'directory'],
  'mail folder': ['mail folder', 'maildir', 'mbox'],
  imap: ['imap', 'mailbox', 'mail'],
  mariadb: ['mariadb', 'mysql'],
  postgresql: ['postgresql', 'postgres'],
  'object store': ['object store', 's3', 'bucket'],
};

export function kindNamed(text: string): SourceKind | undefined {
  const plain = text.trim().toLowerCase();
  return (Object.keys(KIND_NAMES) as SourceKind[]).find(
    (k) => KIND_NAMES[k].includes(plain) || SOURCE_KINDS[k].toLowerCase() === plain,
  );
}

/** The field of an address that a column stands for. */
const ADDRESS_FIELDS: Readonly<Record<string, StoreField>> = {
  kind: 'kind',
  root: 'where',
  host: 'where',
  endpoint: 'where',
  port: 'port',
  database: 'inside',
  bucket: 'inside',
  user: 'user',
  region: 'region',
};

/** Reads a table of stores. Every fault is told, with its cell; rows that are empty are passed over. */
export function readStores(rows: readonly (readonly string[])[], columns: StoreColumns): ReadStores {
  const stores: Store[] = [];
  const faults: CellFault[] = [];
  const keys = new Map<string, number>();
  for (const [row, cells] of rows.entries()) {
    if (cells.every((c) => c.trim() === '')) continue;
    const cell = (field: StoreField) => {
      const at = columns[field];
      return at === undefined ? '' : (cells[at] ?? '').trim();
    };
    const fault = (field: StoreField | undefined, words: string) =>
      faults.push({ row, column: (field && columns[field]) ?? null, words });
    const kind = kindNamed(cell('kind'));
    if (!kind) {
      fault(
        'kind',
        `“${cell('kind')}” is no kind of source. There are: ${Object.values(SOURCE_KINDS).join(', ')}.`,
      );
      continue;
    }
    const bytes = sizeOf(cell('bytes'));
    if (bytes === undefined) {
      fault('bytes', 'A number of bytes, such as 1048576, or nothing.');
      continue;
    }
    const parsed = Store.safeParse({
      key: cell('id') || 'to be said',
      name: cell('name'),
      address: addressOf(kind, cell),
      team: cell('team'),
      region: cell('region'),
      bytes,
    });
    if (!parsed.success) {
      for (const issue of parsed.error.issues) {
        const [of, part] = issue.path.map(String);
        const field =
          of === 'address' ? ADDRESS_FIELDS[part ?? ''] : of === 'key' ? 'id' : (of as StoreField);
        fault(field, issue.message);
      }
      continue;
    }
    // Without an id of its own it is known by where it lies.
    const store = cell('id')
      ? parsed.data
      : { ...parsed.data, key: placeKey(parsed.data.address).slice(0, 200) };
    const twice = keys.get(store.key);
    if (twice !== undefined) {
      fault(columns.id === undefined ? 'where' : 'id', `The same as in row ${twice + 2}.`);
      continue;
    }
    keys.set(store.key, row);
    stores.push(store);
  }
  return { stores, faults };
}

/** null for nothing, `undefined` for what is no size. */
function sizeOf(text: string): number | null | undefined {
  if (text === '') return null;
  const digits = text.replace(/[\s.,'_]/g, '');
  return /^\d{1,15}$/.test(digits) ? Number(digits) : undefined;
}

function addressOf(kind: SourceKind, cell: (field: StoreField) => string): Record<string, unknown> {
  const port = cell('port');
  const at = {
    host: cell('where'),
    ...(port === '' ? {} : { port: /^\d+$/.test(port) ? Number(port) : NaN }),
    user: cell('user'),
  };
  switch (kind) {
    case 'folder':
    case 'mail folder':
      return { kind, root: cell('where') };
    case 'imap':
      return { kind, ...at };
    case 'mariadb':
    case 'postgresql':
      return { kind, ...at, database: cell('inside') };
    case 'object store':
      return {
        kind,
        endpoint: cell('where'),
        bucket: cell('inside'),
        user: cell('user'),
        ...(cell('region') ? { region: cell('region') } : {}),
      };
  }
}
