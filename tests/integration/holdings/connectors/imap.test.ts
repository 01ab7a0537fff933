import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chmodSync } from 'node:fs';
import { ImapFlow } from 'imapflow';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePorts } from '../../../../launcher/free-port.ts';
import { imapConnector } from '../../../../src/server/holdings/connectors/imap.ts';
import { startDovecot } from '../../../servers/dovecot.ts';
import type { ServerProcess } from '../../../servers/server-process.ts';
import { connectorSuite, contentText } from './suite.ts';

const home = mkdtempSync(join(tmpdir(), 'yare-imap-'));
let server: ServerProcess;
let writer: ImapFlow;
beforeAll(async () => {
  chmodSync(home, 0o777);
  const [port = 0] = await freePorts(1);
  const started = startDovecot(home, port, 'desk', 'kept-from-sight');
  chmodSync(join(home, 'mail'), 0o777);
  server = await started;
  writer = new ImapFlow({
    host: '127.0.0.1',
    port,
    secure: false,
    auth: { user: 'desk', pass: 'kept-from-sight' },
    logger: false,
  });
  await writer.connect();
  const mail = (subject: string) => `From: a@b.example\r\nSubject: ${subject}\r\n\r\nbody of ${subject}\r\n`;
  await writer.append('INBOX', mail('first'), [], new Date('2026-07-02T10:00:00Z'));
  await writer.append('INBOX', mail('second'));
  await writer.mailboxCreate(['Archive', '2025 Østervig']);
  await writer.append('Archive.2025 Østervig', mail('third'));
});
afterAll(async () => {
  await writer?.logout();
  await server?.stop();
  rmSync(home, { recursive: true, force: true });
});

const address = (port: number) =>
  ({ kind: 'imap', host: '127.0.0.1', port, secure: false, user: 'desk' }) as const;
const connector = (secret = 'kept-from-sight', port = server.port) =>
  imapConnector(address(port), secret, '127.0.0.1');

describe('a mailbox on a server', () => {
  connectorSuite(() => ({
    removes: true,
    connector: () => Promise.resolve(connector()),
    expected: { INBOX: 2, 'Archive/2025 Østervig': 1 },
    sample: { place: 'INBOX', text: 'body of first' },
    remove: async () => {
      const lock = await writer.getMailboxLock('INBOX');
      await writer.messageDelete({ subject: 'first' });
      lock.release();
    },
  }));

  it('leaves a message unread', async () => {
    await connector().read('INBOX', (await itemsOf('INBOX'))[0] as never);
    const lock = await writer.getMailboxLock('INBOX');
    const [unseen] = [await writer.search({ seen: false }, { uid: true })];
    lock.release();
    expect(unseen).toHaveLength(1);
  });

  it('says why it cannot be opened', async () => {
    await expect(connector('wrong').check()).rejects.toMatchObject({ field: 'secret' });
    const [port = 0] = await freePorts(1);
    await expect(connector('x', port).check()).rejects.toMatchObject({ field: 'host' });
  });
});

describe('a message that is replaced', () => {
  const fresh = async (subject: string, flags: string[] = []) => {
    await writer.append(
      'INBOX',
      `From: a@b.example\r\nSubject: ${subject}\r\n\r\nold ${subject}\r\n`,
      flags,
      new Date('2026-07-02T10:00:00Z'),
    );
    const found = (await itemsOf('INBOX')).find((i) => i.title === subject);
    if (!found) throw new Error(`${subject} did not arrive.`);
    return found;
  };
  const newOne = (subject: string) =>
    Buffer.from(`Yare-Level: open\r\nFrom: a@b.example\r\nSubject: ${subject}\r\n\r\nnew ${subject}\r\n`);

  let c: ReturnType<typeof connector>;
  beforeAll(() => {
    c = connector();
  });
  afterAll(() => c.close());
  const replace = (place: string, item: Awaited<ReturnType<typeof fresh>>, subject: string) =>
    c.replace!(place, item, newOne(subject));

  it('is another of the same day and flags, alone in its place', async () => {
    const before = await fresh('replaced', ['\\Seen', '$Important']);
    const now = await replace('INBOX', before, 'replaced');
    expect(now).toMatchObject({ created: before.created, size: newOne('replaced').length });
    expect(now.name).not.toBe(before.name);
    const all = (await itemsOf('INBOX')).filter((i) => i.title === 'replaced');
    expect(all).toEqual([now]);
    expect(await contentText(c, 'INBOX', now)).toContain('new replaced');
    const lock = await writer.getMailboxLock('INBOX');
    await writer.noop();
    const message = await writer.fetchOne(now.name.split('-')[1] ?? '', { flags: true }, { uid: true });
    lock.release();
    expect(message && [...(message.flags ?? [])].filter((f) => f !== '\\Recent').toSorted()).toEqual([
      '$Important',
      '\\Seen',
    ]);
  });

  it('is not put there twice where the first try was cut off before the old one went', async () => {
    const before = await fresh('cut off');
    await writer.append('INBOX', newOne('cut off'), ['$YareNew']);
    await replace('INBOX', before, 'cut off');
    expect((await itemsOf('INBOX')).filter((i) => i.title === 'cut off')).toHaveLength(1);
  });

  it('takes no other message of the same bytes for it', async () => {
    const before = await fresh('twins');
    await writer.append('INBOX', newOne('twins'));
    await replace('INBOX', before, 'twins');
    expect((await itemsOf('INBOX')).filter((i) => i.title === 'twins')).toHaveLength(2);
  });

  it('stays as it is where somebody changed or deleted it meanwhile', async () => {
    const before = await fresh('kept');
    await expect(replace('INBOX', { ...before, version: '7' }, 'kept')).rejects.toThrow(
      'somebody changed it',
    );
    await expect(replace('INBOX', { ...before, name: '1-99999' }, 'kept')).rejects.toThrow('deleted');
    await expect(replace('Nowhere', before, 'kept')).rejects.toThrow('folder is gone');
    expect((await itemsOf('INBOX')).filter((i) => i.title === 'kept')).toEqual([before]);
  });
});

async function itemsOf(place: string) {
  const c = connector();
  try {
    return await c.details(place, (await c.list(place)).items);
  } finally {
    // A server lets one user in so many times at once.
    await c.close();
  }
}
