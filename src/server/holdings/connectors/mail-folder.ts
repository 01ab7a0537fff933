import { createHash } from 'node:crypto';
import { constants, createReadStream, type Stats } from 'node:fs';
import { open, readdir } from 'node:fs/promises';
import { z } from 'zod';
import { nameText } from '../../../core/text/name-text.ts';
import { headerField } from './mail-header.ts';
import {
  FixedItemError,
  ItemError,
  joinPlace,
  MOST_BYTES,
  SourceError,
  type Connector,
  type Content,
  type ListedItem,
  type Listing,
  type Removed,
} from './connector.ts';
import { asItemErrors, FileTree, fileErrorWords, instantOf, versionOf, type Entry } from './file-tree.ts';
import { mboxMessage, rewriteMbox } from './rewrite-mbox.ts';
import { removeFile, replaceFile, restoreFile } from './replace-file.ts';

/** Where the messages of a Maildir lie; what is in `tmp` is not delivered yet. */
const DELIVERED = ['cur', 'new'];

/** Where a message of an mbox file stands. */
interface Stretch {
  readonly name: string;
  /** Its separator. */
  readonly line: number;
  readonly start: number;
  readonly end: number;
  /** When it was delivered, ISO 8601; null where its separator does not tell. */
  readonly delivered: string | null;
}

/**
 * Mailboxes in files below a folder: Maildir and Maildir++ (folders with `cur`, `new` and `tmp`), and files that end in
 * `.mbox` (RFC 4155). A mailbox is a place, its messages are items. A message that is moved or marked by a mail program
 * stays the same one.
 */
export function mailFolderConnector(root: string): Connector {
  const tree = new FileTree(root);
  const scanned = new Map<string, { readonly version: string; readonly stretches: readonly Stretch[] }>();

  /** Where the messages of a Maildir are now, by the part of their names that never changes. */
  const delivered = async (place: string): Promise<ReadonlyMap<string, { sub: string; file: string }>> => {
    const found = new Map<string, { sub: string; file: string }>();
    for (const sub of DELIVERED) {
      await tree.requireInside(joinPlace(place, sub));
      for (const bytes of await readdir(tree.path(place, sub), { encoding: 'buffer' })) {
        const file = nameText(bytes);
        if (!file.startsWith('.')) found.set(uniquePart(file), { sub, file });
      }
    }
    return found;
  };
  let current: { readonly place: string; readonly found: ReturnType<typeof delivered> } | undefined;
  const fresh = (place: string) => (current = { place, found: delivered(place) }).found;

  const mbox = async (place: string): Promise<readonly Stretch[]> => {
    const [above, name] = split(place);
    const is = tree.stat(above, name);
    if (!is) throw new Error('it is gone');
    await tree.requireInside(above);
    // As far as it goes now: what is added meanwhile is read next time.
    const version = `${is.size}.${is.mtimeMs}`;
    const known = scanned.get(place);
    if (known?.version === version) return known.stretches;
    const stretches = await scanMbox(tree.path(above, name), is.size);
    scanned.clear();
    scanned.set(place, { version, stretches });
    return stretches;
  };

  const list = async (place: string): Promise<Listing> => {
    if (isMbox(place)) return { items: (await mbox(place)).map((s) => s.name), places: [] };
    const entries = await tree.entries(place);
    const maildir = isMaildir(entries);
    return {
      items: maildir ? [...(await fresh(place)).keys()] : [],
      places: entries
        .filter(
          (e) =>
            (e.is === 'folder' && !(maildir && MAILDIR.includes(e.name))) ||
            (e.is === 'file' && isMbox(e.name)),
        )
        .map((e) => e.name),
    };
  };

  /** Where a message is now, of the version that it was listed in. */
  const sameMessage = async (place: string, name: string, version: string) => {
    const at = (await fresh(place)).get(name);
    const folder = joinPlace(place, at?.sub ?? '');
    const is = at && tree.stat(folder, at.file);
    if (!is) throw new ItemError('it was deleted meanwhile');
    if (`${is.size}` !== version) throw new ItemError('somebody changed it meanwhile');
    return { folder, file: at.file, is };
  };

  const removeFromMbox = async (place: string, name: string, version: string): Promise<Removed> => {
    const [above, file] = split(place);
    await tree.inside(above, (folder) =>
      rewriteMbox(folder, file, async (path, size) => {
        const all = await scanMbox(path, size);
        const stretch = all.find((s) => s.name === name);
        // With the first gone, the second would have its name.
        const [digest = ''] = name.split('-');
        if (all.filter((s) => s.name.split('-')[0] === digest).length > 1)
          throw new FixedItemError('the same message is in its mailbox more than once');
        if (!stretch) throw new ItemError('it was deleted meanwhile');
        if (`${stretch.end - stretch.start}` !== version)
          throw new ItemError('somebody changed it meanwhile');
        return [
          { from: 0, to: stretch.line },
          { from: stretch.end, to: size },
        ];
      }),
    );
    scanned.clear();
    return { method: 'taken out of the mailbox file', mark: null };
  };

  const restoreToMbox = async (place: string, item: ListedItem, bytes: Uint8Array): Promise<ListedItem> => {
    if ((await mbox(place)).some((s) => s.name === item.name))
      throw new ItemError('the same message is there already');
    const [above, file] = split(place);
    await tree.inside(above, (folder) =>
      rewriteMbox(folder, file, (_path, size) =>
        Promise.resolve([{ from: 0, to: size }, mboxMessage(bytes, item.changed)]),
      ),
    );
    scanned.clear();
    const is = tree.stat(above, file);
    const back = (await mbox(place)).at(-1);
    if (!is || !back) throw new ItemError('it is not there after it was written');
    return mboxListed(back, is);
  };

  return {
    check: () => tree.check(),
    async list(place) {
      try {
        return await list(place);
      } catch (error) {
        if (error instanceof SourceError || place === '') throw error;
        return { items: [], places: [], problem: `It was not listed: ${fileErrorWords(error)}.` };
      }
    },
    async details(place, names) {
      if (isMbox(place)) {
        const [above, file] = split(place);
        const is = tree.stat(above, file);
        const byName = new Map((await mbox(place)).map((s) => [s.name, s]));
        return names.flatMap((name): ListedItem[] => {
          const s = byName.get(name);
          return s && is ? [mboxListed(s, is)] : [];
        });
      }
      const found = current?.place === place ? await current.found : await fresh(place);
      return names.flatMap((name): ListedItem[] => {
        const at = found.get(name);
        const is = at && tree.stat(joinPlace(place, at.sub), at.file);
        return is ? [messageListed(name, is)] : [];
      });
    },
    async read(place, { name }): Promise<Content> {
      try {
        const bytes = isMbox(place)
          ? await readStretch(
              tree,
              place,
              (await mbox(place)).find((s) => s.name === name),
            )
          : await readMessage(tree, place, async () => (await fresh(place)).get(name));
        return { bytes, name: 'message.eml', title: headerField(bytes, 'subject') };
      } catch (error) {
        if (error instanceof ItemError) throw error;
        throw new ItemError(fileErrorWords(error));
      }
    },
    replace: (place, { name, version }, bytes) =>
      asItemErrors(async () => {
        refuseMbox(place);
        // Dovecot's Maildir++: servers take the size from the name.
        if (/,[SW]=\d/.test(name))
          throw new FixedItemError('its name tells its size, which would be wrong then');
        const { folder, file, is } = await sameMessage(place, name, version);
        return messageListed(name, await replaceFile(tree, folder, file, versionOf(is), bytes));
      }),
    remove: (place, { name, version }) =>
      asItemErrors(async () => {
        if (isMbox(place)) return removeFromMbox(place, name, version);
        const { folder, file, is } = await sameMessage(place, name, version);
        const mark = await removeFile(tree, folder, file, versionOf(is));
        current = undefined;
        return { method: 'taken out of the mailbox', mark: { file, of: mark } };
      }),
    restore: (place, item, bytes, mark) =>
      asItemErrors(async () => {
        const { name } = item;
        if (isMbox(place)) return restoreToMbox(place, item, bytes);
        // A message of which nobody noted its flags was seen.
        const { file, of } =
          mark === null
            ? { file: `${name}:2,S`, of: null }
            : z.object({ file: z.string(), of: z.json() }).parse(mark);
        if ((await fresh(place)).has(name)) throw new ItemError('another message has its name by now');
        const is = await restoreFile(tree, joinPlace(place, 'cur'), file, bytes, item, of);
        current = undefined;
        return messageListed(name, is);
      }),
    close: () => Promise.resolve(),
  };
}

/** A message in an mbox file is never changed; its name is a digest of how it begins. */
function mboxListed({ name, start, end, delivered }: Stretch, is: Stats): ListedItem {
  const size = end - start;
  return {
    ...{ name, size, owner: '', version: `${size}` },
    created: delivered,
    changed: delivered ?? instantOf(is.mtimeMs),
  };
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** The moment in a separator, in UTC (RFC 4155): `From tove@line.example Mon Jan  4 10:00:00 2021`. */
function deliveredAt(separator: string): string | null {
  const told = / (\w{3}) +(\d{1,2}) (\d{2}):(\d{2})(?::(\d{2}))?(?: [A-Z]{1,5})? (\d{4})\r?\n?$/.exec(
    separator,
  );
  if (!told) return null;
  const [, month = '', day, hour, minute, second = '0', year] = told;
  if (!MONTHS.includes(month)) return null;
  const [d, h, m, s] = [day, hour, minute, second].map(Number) as [number, number, number, number];
  const at = new Date(Date.UTC(Number(year), MONTHS.indexOf(month), d, h, m, s));
  // 31 February is no day.
  return at.getUTCDate() === d && h < 24 && m < 60 ? instantOf(at.getTime()) : null;
}

function refuseMbox(place: string): void {
  if (isMbox(place)) throw new FixedItemError('the mailbox is one file, into which mail may come meanwhile');
}

function messageListed(name: string, is: Stats): ListedItem {
  const changed = instantOf(is.mtimeMs);
  return { name, size: is.size, created: changed, changed, owner: '', version: `${is.size}` };
}

const MAILDIR = ['cur', 'new', 'tmp'];

function isMaildir(entries: readonly Entry[]): boolean {
  return DELIVERED.every((sub) => entries.some((e) => e.is === 'folder' && e.name === sub));
}

function isMbox(place: string): boolean {
  return /\.mbox$/i.test(place);
}

/** The part before the flags, which a mail program changes. */
function uniquePart(file: string): string {
  return file.split(':2,')[0] ?? file;
}

function split(place: string): readonly [string, string] {
  const at = place.lastIndexOf('/');
  return [place.slice(0, Math.max(0, at)), place.slice(at + 1)];
}

/** Moved from `new` to `cur` between two looks, it is looked for once more. */
async function readMessage(
  tree: FileTree,
  place: string,
  find: () => Promise<{ sub: string; file: string } | undefined>,
): Promise<Buffer> {
  for (let tries = 0; ; tries++) {
    const at = await find();
    if (!at) throw new ItemError('it was deleted meanwhile');
    try {
      return await readWhole(tree.path(joinPlace(place, at.sub), at.file));
    } catch (error) {
      if (tries > 2 || (error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    }
  }
}

async function readWhole(path: Buffer, start = 0, end?: number): Promise<Buffer> {
  const file = await open(path, constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK);
  try {
    const is = await file.stat();
    if (!is.isFile()) throw new ItemError('it is no plain file');
    const length = (end ?? is.size) - start;
    if (length > MOST_BYTES) throw new ItemError(`it is larger than ${Math.round(MOST_BYTES / 1e6)} MB`);
    const bytes = Buffer.alloc(length);
    const { bytesRead } = await file.read(bytes, 0, length, start);
    return bytes.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

async function readStretch(tree: FileTree, place: string, stretch: Stretch | undefined): Promise<Buffer> {
  if (!stretch) throw new ItemError('it was taken out of the file meanwhile');
  const [above, name] = split(place);
  const bytes = await readWhole(tree.path(above, name), stretch.start, stretch.end);
  // RFC 4155: lines that begin like a separator were quoted by a sign more.
  return Buffer.from(bytes.toString('latin1').replace(/^>(>*From )/gm, '$1'), 'latin1');
}

const BEGINS = Buffer.from('From ');
/** As much of a message's beginning as tells it from others. */
const TELLING = 4096;

/** Where the messages of an mbox file stand, up to `size`; the separators are not theirs. Memory does not grow with it. */
async function scanMbox(path: Buffer, size: number): Promise<readonly Stretch[]> {
  const starts: { line: number; body: number; head: Buffer; delivered: string | null }[] = [];
  let line = Buffer.alloc(0);
  let lineAt = 0;
  let dropped = 0;
  let blank = true;
  const take = (whole: Buffer, next: number) => {
    if (blank && whole.subarray(0, 5).equals(BEGINS) && /\d{4}\r?\n?$/.test(whole.toString('latin1')))
      starts.push({
        line: lineAt,
        body: next,
        head: Buffer.alloc(0),
        delivered: deliveredAt(whole.toString('latin1')),
      });
    else {
      const last = starts.at(-1);
      if (last && last.head.length < TELLING)
        last.head = Buffer.concat([last.head, whole.subarray(0, TELLING - last.head.length)]);
    }
    blank = /^\r?\n?$/.test(whole.subarray(0, 3).toString('latin1'));
    lineAt = next;
  };
  if (size > 0)
    for await (const chunk of createReadStream(path, { end: size - 1 }) as AsyncIterable<Buffer>) {
      let from = 0;
      for (let to = chunk.indexOf(10, from); to >= 0; to = chunk.indexOf(10, from)) {
        const piece = chunk.subarray(from, to + 1);
        const whole = line.length > 0 ? Buffer.concat([line, piece]) : piece;
        take(whole, lineAt + whole.length + dropped);
        dropped = 0;
        line = Buffer.alloc(0);
        from = to + 1;
      }
      const rest = chunk.subarray(from);
      // Of a line without end, its beginning is enough.
      const kept = Buffer.concat([line, rest.subarray(0, Math.max(0, TELLING - line.length))]);
      dropped += line.length + rest.length - kept.length;
      line = kept;
    }
  if (line.length > 0) take(line, lineAt + line.length + dropped);
  const seen = new Map<string, number>();
  return starts.map(({ line, body, head, delivered }, i) => {
    const digest = createHash('sha256').update(head).digest('hex').slice(0, 24);
    const n = (seen.get(digest) ?? 0) + 1;
    seen.set(digest, n);
    return {
      name: n === 1 ? digest : `${digest}-${n}`,
      line,
      start: body,
      end: starts[i + 1]?.line ?? size,
      delivered,
    };
  });
}
