import type { ImapFlow } from 'imapflow';
import { mailboxLines, type MailFolder } from '../../../core/access/mailbox/mailbox-lines.ts';
import { folderPlace, openImap, SourceError, type OpenedAddress } from '../../holdings/offers.ts';
import { ReaderError, type AccessReader } from './reader.ts';

type Opened = Extract<OpenedAddress, { kind: 'imap' }>;

interface Attribute {
  readonly value?: unknown;
}

/** What the library does for commands of its own, and its types leave out. */
interface Commands {
  exec(
    command: string,
    attributes: readonly { readonly type: 'STRING'; readonly value: string }[],
    options: {
      readonly untagged: Readonly<
        Record<string, (untagged: { readonly attributes?: readonly Attribute[] }) => Promise<void>>
      >;
    },
  ): Promise<{ next(): void }>;
}

/** Who shares the folders of a mailbox of Holdings, as its server lists them for the account that reads it (RFC 4314). */
export function mailboxReader(
  { address, secret, connectTo }: Opened,
  source: { readonly id: number; readonly name: string },
): AccessReader {
  return {
    async *lines(signal) {
      const client = await openImap(address, secret, connectTo).catch((error: unknown) => {
        throw error instanceof SourceError ? new ReaderError(error.message) : error;
      });
      try {
        if (!client.capabilities.has('ACL'))
          throw new ReaderError('Its server does not tell who shares folders (it lacks ACL, RFC 4314).');
        const folders: MailFolder[] = [];
        for (const folder of await client.list()) {
          signal.throwIfAborted();
          if (folder.flags.has('\\Noselect') || folder.flags.has('\\NonExistent')) continue;
          const told = await readFolder(client, folder.pathAsListed);
          if (told) folders.push({ path: folderPlace(folder), ...told });
        }
        const server = { source: source.name, user: address.user, entries: entriesOf(client) };
        for (const line of mailboxLines(server, folders))
          yield line.type === 'place' ? { line, holds: holdsOf(line.id, source) } : { line };
      } finally {
        await client.logout().catch(() => {});
      }
    },
    close: () => Promise.resolve(),
  };
}

/** Servers that say of themselves that the nearest entry stands alone. */
const NEAREST = new Set(['dovecot']);

function entriesOf({ serverInfo }: ImapFlow): 'nearest' | 'all' {
  return NEAREST.has(String(serverInfo?.['name'] ?? '').toLowerCase()) ? 'nearest' : 'all';
}

/** By its name as the server wrote it; `undefined` for a folder that went meanwhile. Throws a ReaderError where the connection broke. */
async function readFolder(client: ImapFlow, path: string): Promise<Omit<MailFolder, 'path'> | undefined> {
  const [, mine] = (await answer(client, 'MYRIGHTS', path)) ?? [];
  if (mine === undefined) return undefined;
  // A folder of somebody else tells its entries to those alone who may give it to others.
  const told = await answer(client, 'ACL', path, 'GETACL');
  if (!told) return { mine };
  const [, ...rest] = told;
  return {
    mine,
    entries: Array.from({ length: rest.length >> 1 }, (_, i) => [rest[2 * i] ?? '', rest[2 * i + 1] ?? '']),
  };
}

/** The texts of the answer to a command about a folder; `undefined` where the server says no. */
async function answer(
  client: ImapFlow,
  called: 'MYRIGHTS' | 'ACL',
  path: string,
  command: string = called,
): Promise<readonly string[] | undefined> {
  let told: readonly string[] | undefined;
  try {
    const response = await (client as unknown as Commands).exec(command, [{ type: 'STRING', value: path }], {
      untagged: {
        [called]: ({ attributes = [] }) => {
          told = attributes.map((a) => String(a.value ?? ''));
          return Promise.resolve();
        },
      },
    });
    response.next();
  } catch (error) {
    if (client.usable && (error as { responseStatus?: string }).responseStatus === 'NO') return undefined;
    throw new ReaderError(`Its server did not answer: ${(error as Error).message}.`);
  }
  return told;
}

/** Where the messages of a folder lie in Holdings. */
function holdsOf(place: string, { id, name }: { readonly id: number; readonly name: string }): string {
  const path = place.slice(name.length + 1);
  return path === '' ? String(id) : `${id}/${path}`;
}
