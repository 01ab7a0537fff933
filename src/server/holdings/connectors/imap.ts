import { ImapFlow, type ListResponse } from 'imapflow';
import { z } from 'zod';
import { nameText } from '../../../core/text/name-text.ts';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import {
  FixedItemError,
  joinPlace,
  ItemError,
  MOST_BYTES,
  NOTHING_LISTED,
  SourceError,
  type Connector,
  type ListedItem,
  type Removed,
} from './connector.ts';

type ImapAddress = Extract<SourceAddress, { kind: 'imap' }>;

/** A connection to the server, signed in. Throws a SourceError. */
export async function openImap(address: ImapAddress, secret: string, connectTo: string): Promise<ImapFlow> {
  const made = new ImapFlow({
    host: connectTo,
    port: address.port,
    secure: address.secure,
    servername: address.host,
    auth: { user: address.user, pass: secret },
    logger: false,
    disableAutoIdle: true,
    connectionTimeout: 10_000,
    greetingTimeout: 10_000,
    socketTimeout: 120_000,
  });
  // What breaks later is told by the command that meets it.
  made.on('error', () => {});
  try {
    await made.connect();
  } catch (error) {
    throw asSourceError(error, address);
  }
  return made;
}

/** The place of a folder: its steps from the account down, separated by `/`. */
export function folderPlace({ path, delimiter }: Pick<ListResponse, 'path' | 'delimiter'>): string {
  return (delimiter ? path.split(delimiter) : [path]).map((s) => nameText(Buffer.from(s))).join('/');
}

/**
 * A mailbox on a server (RFC 9051): its folders are places, its messages items. Opened to read only, but
 * where a message takes another's place: the new one gets a number, and so a name, of its own.
 */
export function imapConnector(address: ImapAddress, secret: string, connectTo: string): Connector {
  let client: Promise<ImapFlow> | undefined;
  /** Folders of the server by place. */
  let folders: ReadonlyMap<string, ListResponse> | undefined;

  const open = () => openImap(address, secret, connectTo);
  const connected = async (): Promise<ImapFlow> => {
    client ??= open();
    try {
      const now = await client;
      if (now.usable) return now;
      client = open();
      return await client;
    } catch (error) {
      client = undefined;
      throw error;
    }
  };
  const allFolders = async () => {
    if (folders) return folders;
    const listed = await (await connected()).list();
    return (folders = new Map(listed.map((f) => [folderPlace(f), f])));
  };
  const inFolder = async <T>(
    place: string,
    work: (client: ImapFlow, path: string) => Promise<T>,
    readOnly = true,
  ): Promise<T | undefined> => {
    const folder = (await allFolders()).get(place);
    if (!folder || folder.flags.has('\\Noselect') || folder.flags.has('\\NonExistent')) return undefined;
    const on = await connected();
    const lock = await on.getMailboxLock(folder.path, { readOnly });
    try {
      return await work(on, folder.path);
    } finally {
      lock.release();
    }
  };

  return {
    async check() {
      folders = undefined;
      await allFolders();
    },
    async list(place) {
      if (place === '') folders = undefined;
      const places = childrenOf([...(await allFolders()).keys()], place);
      if (place === '') return { items: [], places };
      try {
        const items = await inFolder(place, async (on) => {
          const uids = (await on.search({ all: true }, { uid: true })) || [];
          const validity = on.mailbox ? on.mailbox.uidValidity : 0n;
          return uids.map((uid) => `${validity}-${uid}`);
        });
        return { items: items ?? [], places };
      } catch (error) {
        return { ...NOTHING_LISTED, places, problem: `It was not listed: ${(error as Error).message}.` };
      }
    },
    async search(place, words) {
      const names = await inFolder(place, async (on) => {
        const validity = on.mailbox ? on.mailbox.uidValidity : 0n;
        const found = new Set<number>();
        // One word at a time: not every server takes OR over many.
        for (const text of words)
          for (const uid of (await on.search({ text }, { uid: true })) || []) found.add(uid);
        return [...found].toSorted((a, b) => a - b).map((uid) => `${validity}-${uid}`);
      });
      return names ?? [];
    },
    async details(place, names) {
      const byUid = new Map(names.map((n) => [Number(n.split('-')[1]), n]));
      const found = await inFolder(place, async (on) => {
        const rows: { uid: number; size: number; at: string | null; subject: string }[] = [];
        for await (const m of on.fetch(
          [...byUid.keys()].join(','),
          { size: true, internalDate: true, envelope: true },
          { uid: true },
        ))
          rows.push({
            uid: m.uid,
            size: m.size ?? 0,
            at: m.internalDate ? new Date(m.internalDate).toISOString() : null,
            subject: m.envelope?.subject ?? '',
          });
        return rows;
      });
      const byOrder = new Map((found ?? []).map((r) => [r.uid, r]));
      return [...byUid].flatMap(([uid, name]) => {
        const r = byOrder.get(uid);
        if (!r) return [];
        return [
          {
            name,
            ...(r.subject ? { title: r.subject.slice(0, 400) } : {}),
            size: r.size,
            created: r.at,
            changed: r.at,
            owner: address.user,
            // A message of one number is never changed.
            version: `${r.size}`,
          },
        ];
      });
    },
    async read(place, { name, size, title }) {
      if (size > MOST_BYTES) throw new ItemError(`it is larger than ${Math.round(MOST_BYTES / 1e6)} MB`);
      const uid = name.split('-')[1] ?? '';
      const message = await inFolder(place, (on) =>
        on.fetchOne(uid, { source: true }, { uid: true }).catch((error: unknown) => {
          // The server answers, and says no to this message.
          const { responseText } = error as { responseText?: string };
          if (on.usable && responseText) throw new ItemError(responseText);
          throw error;
        }),
      );
      if (!message || !message.source) throw new ItemError('it was deleted meanwhile');
      return { bytes: message.source, name: 'message.eml', ...(title ? { title } : {}) };
    },
    async replace(place, item, bytes) {
      const made = await inFolder(place, (on, path) => replaceMessage(on, path, item, bytes), false);
      if (made === undefined) throw new ItemError('its folder is gone');
      return { ...item, ...made };
    },
    async remove(place, item) {
      const removed = await inFolder(place, (on) => removeMessage(on, item), false);
      if (removed === undefined) throw new ItemError('its folder is gone');
      return removed;
    },
    async restore(place, item, bytes, mark) {
      const { flags, at } = mark === null ? { flags: ['\\Seen'], at: item.changed } : Kept.parse(mark);
      const made = await inFolder(
        place,
        async (on, path) => {
          const done = await on.append(
            path,
            Buffer.from(bytes),
            flags,
            at === null ? undefined : new Date(at),
          );
          if (!done || !done.uid || !on.mailbox)
            throw new ItemError('its server did not take it, or does not tell its number');
          return {
            name: `${on.mailbox.uidValidity}-${done.uid}`,
            size: bytes.length,
            version: `${bytes.length}`,
          };
        },
        false,
      );
      if (made === undefined) throw new ItemError('its folder is gone');
      return { ...item, ...made };
    },
    async close() {
      const open = client;
      client = undefined;
      await open?.then((c) => c.logout()).catch(() => {});
    },
  };
}

const Kept = z.object({ flags: z.array(z.string()), at: z.string().nullable() });

/** The message of a number, as it was listed; with what else is to be kept of it. */
async function sameMessage(on: ImapFlow, { name, version }: ListedItem) {
  if (!on.capabilities.has('UIDPLUS'))
    throw new FixedItemError('its server cannot take out one message alone (UIDPLUS, RFC 4315)');
  const [validity = '', uid = ''] = name.split('-');
  // A folder that is open still tells what came and went since only when it is asked.
  await on.noop();
  const old = await on.fetchOne(uid, { flags: true, internalDate: true, size: true }, { uid: true });
  if (!on.mailbox || `${on.mailbox.uidValidity}` !== validity || !old)
    throw new ItemError('it was deleted meanwhile');
  if (`${old.size ?? 0}` !== version) throw new ItemError('somebody changed it meanwhile');
  const flags = [...(old.flags ?? [])].filter((f) => f.toLowerCase() !== '\\recent' && f !== NEW);
  return {
    uid,
    validity,
    flags,
    at: old.internalDate ? new Date(old.internalDate) : undefined,
    mailbox: on.mailbox,
  };
}

/** Marks a message as deleted and has the server let it alone go (RFC 9051, 6.4.9). */
async function removeMessage(on: ImapFlow, item: ListedItem): Promise<Removed> {
  const { uid, flags, at } = await sameMessage(on, item);
  await on.messageDelete(uid, { uid: true });
  return { method: 'expunged from the mailbox', mark: { flags, at: at?.toISOString() ?? null } };
}

/** Stands on a message that is to take another's place, until it does. */
const NEW = '$YareNew';

/**
 * Puts a message in another's place (RFC 9051, 6.3.12 and 6.4.9): the new one is there, with the flags and the day of the old
 * one, and was read back, before the old one goes. One that a broken run left there already, marked as new, is taken for it;
 * another message of the same bytes is not.
 */
async function replaceMessage(
  on: ImapFlow,
  path: string,
  item: ListedItem,
  bytes: Uint8Array,
): Promise<Pick<ListedItem, 'name' | 'size' | 'version'>> {
  const { uid, validity, flags, at, mailbox } = await sameMessage(on, item);
  const wanted = Buffer.from(bytes);
  const isWanted = async (of: number) => {
    const found = await on.fetchOne(String(of), { source: true }, { uid: true });
    return found && found.source ? found.source.equals(wanted) : false;
  };
  const marks = mailbox.permanentFlags?.has('\\*') ?? false;
  let made: number | undefined;
  for (const other of (marks && (await on.search({ keyword: NEW }, { uid: true }))) || [])
    if (String(other) !== uid && (await isWanted(other))) made = other;
  if (made === undefined) {
    const done = await on.append(path, wanted, marks ? [...flags, NEW] : flags, at);
    made = done && done.uid ? done.uid : undefined;
    if (made === undefined) throw new ItemError('its server did not take the new message');
    if (!(await isWanted(made))) {
      await on.messageDelete(String(made), { uid: true });
      throw new ItemError('its server changes what it is given');
    }
  }
  if (marks) await on.messageFlagsRemove(String(made), [NEW], { uid: true });
  await on.messageDelete(uid, { uid: true });
  return { name: `${validity}-${made}`, size: wanted.length, version: `${wanted.length}` };
}

/** The steps right below a place, of paths that may leave out those between. */
export function childrenOf(paths: readonly string[], place: string): readonly string[] {
  const prefix = place === '' ? '' : joinPlace(place, '');
  return [
    ...new Set(
      paths
        .filter((p) => p.startsWith(prefix) && p !== place)
        .map((p) => p.slice(prefix.length).split('/')[0] ?? ''),
    ),
  ];
}

function asSourceError(error: unknown, { host, port }: ImapAddress): SourceError {
  const e = error as Error & { authenticationFailed?: boolean; code?: string };
  if (e.authenticationFailed)
    return new SourceError('The server does not take this user and password.', 'secret');
  const at = `${host}:${port}`;
  if (e.code === 'ECONNREFUSED') return new SourceError(`Nothing answers at ${at}.`, 'host');
  if (/certificate|self.signed/i.test(e.message))
    return new SourceError(`The certificate of ${at} is not trusted: ${e.message}.`, 'host');
  return new SourceError(`${at} could not be opened as a mailbox: ${e.message}.`, 'host');
}
