import { realpath } from 'node:fs/promises';
import { join, sep } from 'node:path';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import { destination, destinationRules } from '../../http/allowed-destination.ts';
import type { Settings } from '../../settings.ts';
import { SourceError, type Connector } from './connector.ts';
import { folderConnector } from './folder.ts';
import { imapConnector } from './imap.ts';
import { mailFolderConnector } from './mail-folder.ts';
import { mariadbConnector } from './mariadb.ts';
import { objectStoreConnector } from './object-store.ts';
import { postgresqlConnector } from './postgresql.ts';
import type { RowSetting } from './sql-database.ts';

/**
 * What reads a source. Throws a SourceError for an address that may not be read: a folder outside those that the machine's
 * settings open, a server on a private address that they do not name.
 */
export async function connect(
  settings: Settings,
  address: SourceAddress,
  secret: string,
  rows: RowSetting,
): Promise<Connector> {
  switch (address.kind) {
    case 'folder':
      return folderConnector(await allowedFolder(settings, address.root));
    case 'mail folder':
      return mailFolderConnector(await allowedFolder(settings, address.root));
    case 'imap':
      return imapConnector(address, secret, await allowedHost(settings, address.host, address.port));
    case 'mariadb':
      return mariadbConnector(address, secret, await allowedHost(settings, address.host, address.port), rows);
    case 'postgresql':
      return postgresqlConnector(
        address,
        secret,
        await allowedHost(settings, address.host, address.port),
        rows,
      );
    case 'object store': {
      const { hostname, port, protocol } = new URL(address.endpoint);
      const at = await allowedHost(
        settings,
        hostname,
        Number(port || (protocol === 'https:' ? 443 : 80)),
        'endpoint',
      );
      return objectStoreConnector(address, secret, at);
    }
  }
}

/** A source whose rights can be read, opened as those of its items are. */
export type OpenedAddress =
  | { readonly kind: 'folder'; readonly root: string }
  | {
      readonly kind: 'mariadb' | 'postgresql';
      readonly host: string;
      readonly port: number;
      readonly user: string;
      readonly password: string;
      readonly database: string;
    }
  | {
      readonly kind: 'imap';
      readonly address: Extract<SourceAddress, { kind: 'imap' }>;
      readonly secret: string;
      /** What its host resolved to when that was allowed. */
      readonly connectTo: string;
    };

/** Where the rights of a source are read. Throws a SourceError for one that may not be read, or has none that can be. */
export async function openAddress(
  settings: Settings,
  address: SourceAddress,
  secret: string,
): Promise<OpenedAddress> {
  switch (address.kind) {
    case 'folder':
      return { kind: 'folder', root: await allowedFolder(settings, address.root) };
    case 'mariadb':
    case 'postgresql': {
      const { kind, port, user, database } = address;
      const host = await allowedHost(settings, address.host, port);
      return {
        kind,
        host: host === 'localhost' ? '127.0.0.1' : host,
        port,
        user,
        database,
        password: secret,
      };
    }
    case 'imap':
      return {
        ...{ kind: 'imap', address, secret },
        connectTo: await allowedHost(settings, address.host, address.port),
      };
    default:
      throw new SourceError('Of a source of this kind no rights can be read yet.', 'kind');
  }
}

/** Folders below which sources may lie. */
export function sourceRoots({
  SOURCE_ROOTS,
  DATA_DIR,
}: Pick<Settings, 'SOURCE_ROOTS' | 'DATA_DIR'>): readonly string[] {
  const named = SOURCE_ROOTS.split(':').filter(Boolean);
  return named.length > 0 ? named : [join(DATA_DIR, 'estate')];
}

async function allowedFolder(settings: Settings, root: string): Promise<string> {
  const real = await realpath(root).catch(() => root);
  for (const allowed of sourceRoots(settings)) {
    const open = await realpath(allowed).catch(() => allowed);
    if (real === open || real.startsWith(open.endsWith(sep) ? open : open + sep)) return root;
  }
  throw new SourceError(
    `Folders are read below ${sourceRoots(settings).join(', ')} alone. An administrator can open others with SOURCE_ROOTS.`,
    'root',
  );
}

async function allowedHost(settings: Settings, host: string, port: number, field = 'host'): Promise<string> {
  const found = await destination(host, port, destinationRules(settings));
  if ('address' in found) return found.address;
  throw new SourceError(
    `${found.refused}. An administrator can allow ${host}:${port} with ALLOWED_PRIVATE.`,
    field,
  );
}
