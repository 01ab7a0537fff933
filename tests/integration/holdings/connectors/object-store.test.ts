import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { objectStoreConnector } from '../../../../src/server/holdings/connectors/object-store.ts';
import { objectStore } from '../../../../standins/object-store.ts';
import { connectorSuite } from './suite.ts';

const home = mkdtempSync(join(tmpdir(), 'yare-store-'));
const bucket = join(home, 'archive');
let server: Server;
beforeAll(async () => {
  const files = [
    '2024/manifests/a.txt',
    '2024/manifests/b.txt',
    '2024/ ø+=&.txt',
    'top.txt',
    '2024-old/x.txt',
  ];
  for (const [i, f] of [...files, ...Array.from({ length: 30 }, (_, n) => `many/${n}.txt`)].entries()) {
    mkdirSync(join(bucket, f, '..'), { recursive: true });
    writeFileSync(join(bucket, f), `object ${i} of ${f}`);
  }
  const answer = objectStore({ folder: home, user: 'reader', secret: 'kept from sight', page: 7 });
  server = createServer((q, r) => void answer(q, r, new URL(q.url ?? '/', 'http://x')));
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
});
afterAll(() => {
  server.close();
  server.closeAllConnections();
  rmSync(home, { recursive: true, force: true });
});

const connector = (more: { bucket?: string; user?: string; secret?: string; prefix?: string } = {}) =>
  objectStoreConnector(
    {
      kind: 'object store',
      endpoint: `http://store.localhost:${(server.address() as AddressInfo).port}`,
      region: 'eu',
      bucket: 'archive',
      prefix: '',
      user: 'reader',
      ...more,
    },
    more.secret ?? 'kept from sight',
    'localhost',
  );

describe('a bucket of an object store', () => {
  const sample = join(bucket, '2024/manifests/b.txt');
  connectorSuite(() => ({
    connector: () => Promise.resolve(connector()),
    expected: { '': 1, '2024': 1, '2024/manifests': 2, '2024-old': 1, many: 30 },
    sample: { place: '2024/manifests', text: 'of 2024/manifests/b.txt' },
    change: () => Promise.resolve(writeFileSync(sample, 'changed, of 2024/manifests/b.txt')),
    remove: () => Promise.resolve(rmSync(sample)),
  }));

  it('is read below a prefix alone', async () => {
    const c = connector({ prefix: '2024' });
    expect((await c.list('')).places).toEqual(['manifests']);
    expect((await c.list('manifests')).items).toEqual(['a.txt']);
  });

  it.each([
    [{ secret: 'wrong' }, 'secret'],
    [{ user: 'nobody' }, 'secret'],
    [{ bucket: 'never' }, 'bucket'],
  ])('says why %j cannot be opened', async (more, field) => {
    await expect(connector(more).check()).rejects.toMatchObject({ field });
  });
});
