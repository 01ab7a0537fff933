import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ImapFlow } from 'imapflow';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePorts } from '../../../launcher/free-port.ts';
import { mailboxReader } from '../../../src/server/access/readers/mailbox.ts';
import { ReaderError, type SourceLine } from '../../../src/server/access/readers/reader.ts';
import { asked, type Line } from '../../access-estates.ts';
import { startDovecot } from '../../servers/dovecot.ts';
import type { ServerProcess } from '../../servers/server-process.ts';

const home = mkdtempSync(join(tmpdir(), 'yare-mail-rights-'));
const PEOPLE = ['amira', 'karl', 'nina', 'tove'];
const FOLDERS = ['INBOX', 'Care', 'Care/2025 Østervig', 'Plans', 'Crew'];
const RIGHTS = ['l', 'lr', 'lrs', 'lrsi', 'lrswite', 'lrswitea', 'lrskxte'];

let seed = 5;
const random = (n: number) => {
  seed = (seed * 48_271) % 2_147_483_647;
  return seed % n;
};
const pick = <T>(of: readonly T[]): T => of[random(of.length)] as T;

let server: ServerProcess;
let owner: ImapFlow;
/** As the server writes them. */
let names = new Map<string, string>();
const named = (folder: string) => names.get(folder) ?? folder;
const clients: ImapFlow[] = [];

async function signIn(user: string): Promise<ImapFlow> {
  const client = new ImapFlow({
    ...{
      host: '127.0.0.1',
      port: server.port,
      secure: false,
      auth: { user, pass: 'kept-from-sight' },
      logger: false,
    },
  });
  await client.connect();
  clients.push(client);
  return client;
}

interface Exec {
  exec(
    command: string,
    attributes: readonly { type: 'STRING' | 'ATOM'; value: string }[],
    options?: { untagged: Record<string, (u: { attributes: { value: string }[] }) => Promise<void>> },
  ): Promise<{ next(): void }>;
}

async function say(
  client: ImapFlow,
  command: string,
  ...words: readonly string[]
): Promise<string[] | undefined> {
  let told: string[] | undefined;
  const untagged = (u: { attributes: { value: string }[] }) => {
    told = u.attributes.map((a) => a.value);
    return Promise.resolve();
  };
  try {
    const attributes = words.map((value) => ({ type: 'STRING' as const, value }));
    const done = await (client as unknown as Exec).exec(command, attributes, {
      untagged: { MYRIGHTS: untagged },
    });
    done.next();
  } catch (error) {
    if ((error as { responseStatus?: string }).responseStatus !== 'NO') throw error;
  }
  return told;
}

beforeAll(async () => {
  chmodSync(home, 0o777);
  const [port = 0] = await freePorts(1);
  const started = startDovecot(home, port, 'desk', 'kept-from-sight', true);
  chmodSync(join(home, 'mail'), 0o777);
  server = await started;
  owner = await signIn('desk');
  for (const folder of FOLDERS.slice(1)) await owner.mailboxCreate(folder.split('/'));
  names = new Map((await owner.list()).map((f) => [f.path, f.pathAsListed]));
  for (const folder of FOLDERS)
    for (let i = 0; i < 4; i++) {
      const to = pick([...PEOPLE, 'anyone', 'authenticated']);
      await say(owner, 'SETACL', named(folder), to, pick(RIGHTS));
      if (random(4) === 0)
        await say(owner, 'SETACL', named(folder), `-${pick(PEOPLE)}`, pick(['r', 'i', 'a']));
    }
  await say(owner, 'SETACL', 'Crew', '$clerks', 'lr');
});
afterAll(async () => {
  for (const client of clients) await client.logout().catch(() => {});
  await server?.stop();
  rmSync(home, { recursive: true, force: true });
});

async function read(user = 'desk', secret = 'kept-from-sight'): Promise<SourceLine[]> {
  const reader = mailboxReader(
    {
      ...{ kind: 'imap', secret, connectTo: '127.0.0.1' },
      address: { kind: 'imap', host: '127.0.0.1', port: server.port, secure: false, user },
    },
    { id: 7, name: 'mail' },
  );
  const lines: SourceLine[] = [];
  for await (const line of reader.lines(new AbortController().signal)) lines.push(line);
  return lines;
}

const linesOf = (told: readonly SourceLine[]) => told.flatMap((t) => ('line' in t ? [t.line as Line] : []));

/** As the letters of an answer to MYRIGHTS come to. */
function strengthOf(rights: string | undefined): string | null {
  if (!rights) return null;
  if (rights.includes('a')) return 'give';
  if (/[witekxcd]/.test(rights)) return 'change';
  return rights.includes('r') ? 'read' : rights.includes('l') ? 'see' : null;
}

describe('who shares a mailbox', () => {
  it('is the server’s own answer for every folder and person', async () => {
    const { pair } = asked([...linesOf(await read()), ...PEOPLE.map((id) => ({ type: 'person', id }))]);
    const found: Record<string, string | null> = {};
    const expected: Record<string, string | null> = {};
    for (const person of PEOPLE) {
      const client = await signIn(person);
      for (const folder of FOLDERS.slice(1)) {
        const at = `${person} at ${folder}`;
        found[at] = pair(person, `mail:${folder}`).strength;
        expected[at] = strengthOf((await say(client, 'MYRIGHTS', `shared/desk/${named(folder)}`))?.[1]);
      }
    }
    expect(found).toEqual(expected);
    // It was no walk over nothing.
    expect(new Set(Object.values(expected)).size).toBeGreaterThan(2);
    expect(pair('nina', 'mail:Crew').unknown).toContain('clerks');
    expect(pair('desk', 'mail:Care').strength).toBe('give');
  });

  it('tells where the messages of each folder lie', async () => {
    const holds = (await read()).flatMap((t) => ('line' in t && t.line.type === 'place' ? [t.holds] : []));
    expect(holds).toEqual(expect.arrayContaining(['7', '7/INBOX', '7/Care/2025 Østervig']));
  });

  it('is unknown of a folder that somebody else shares with who reads', async () => {
    const { pair } = asked(linesOf(await read('tove')));
    const shared = await say(clients[0] as ImapFlow, 'SETACL', 'Plans', 'tove', 'lr').then(() =>
      read('tove'),
    );
    const again = asked(linesOf(shared));
    expect(pair('tove', 'mail:INBOX').strength).toBe('give');
    const found = again.pair('tove', 'mail:shared/desk/Plans');
    expect(found.strength).toBe('read');
    expect(found.unknown).toContain('only to who may give it');
  });

  it('is not read with a wrong password', async () => {
    await expect(read('desk', 'wrong')).rejects.toBeInstanceOf(ReaderError);
  });
});
