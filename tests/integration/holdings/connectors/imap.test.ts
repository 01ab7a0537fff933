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
import { connectorSuite } from './suite.ts';

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

async function itemsOf(place: string) {
  const c = connector();
  return c.details(place, (await c.list(place)).items);
}
