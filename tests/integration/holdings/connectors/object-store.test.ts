import { GetObjectCommand, GetObjectTaggingCommand, PutObjectCommand, S3Client } from '@aws-sdk/client-s3';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { objectStoreConnector } from '../../../../src/server/holdings/connectors/object-store.ts';
import { objectStore } from '../../../../standins/object-store.ts';
import { connectorSuite, contentText } from './suite.ts';

const home = mkdtempSync(join(tmpdir(), 'yare-store-'));
const bucket = join(home, 'archive');
let server: Server;
let noTags = false;
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
  server = createServer((q, r) => {
    const url = new URL(q.url ?? '/', 'http://x');
    if (noTags && url.searchParams.has('tagging'))
      r.writeHead(501).end('<Error><Code>NotImplemented</Code><Message>No tags here.</Message></Error>');
    else void answer(q, r, url);
  });
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
    removes: true,
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

describe('an object that is replaced', () => {
  const put = async (key: string, headers: Record<string, string>) => {
    const { port } = server.address() as AddressInfo;
    const client = new S3Client({
      endpoint: `http://127.0.0.1:${port}`,
      region: 'eu',
      forcePathStyle: true,
      credentials: { accessKeyId: 'reader', secretAccessKey: 'kept from sight' },
      requestChecksumCalculation: 'WHEN_REQUIRED',
    });
    await client.send(
      new PutObjectCommand({
        Bucket: 'archive',
        Key: key,
        Body: 'old',
        ContentType: headers['type'],
        Metadata: { ship: 'Hale' },
        Tagging: 'keep=7+years&of=a%26b',
      }),
    );
    return client;
  };
  const listed = async (name: string) => (await connector().details('put', [name]))[0]!;

  it('keeps what the store knows of it: its type, what was told of it, its tags', async () => {
    const client = await put('put/a.docx', { type: 'application/x-old' });
    const c = connector();
    const now = await c.replace!('put', await listed('a.docx'), Buffer.from('quite new'));
    const is = await client.send(new GetObjectCommand({ Bucket: 'archive', Key: 'put/a.docx' }));
    expect(await is.Body?.transformToString()).toBe('quite new');
    expect(is).toMatchObject({
      ContentType: 'application/x-old',
      Metadata: { ship: 'Hale' },
      ETag: now.version,
    });
    const tags = await client.send(new GetObjectTaggingCommand({ Bucket: 'archive', Key: 'put/a.docx' }));
    expect(tags.TagSet).toEqual([
      { Key: 'keep', Value: '7 years' },
      { Key: 'of', Value: 'a&b' },
    ]);
    expect(await listed('a.docx')).toEqual(now);
    expect((await connector().list('')).places).not.toContain('.about-archive');
  });

  it('is replaced in a store that has no tags', async () => {
    await put('put/plain.docx', {});
    noTags = true;
    try {
      const c = connector();
      const now = await c.replace!('put', await listed('plain.docx'), Buffer.from('quite new'));
      expect(await contentText(c, 'put', now)).toBe('quite new');
    } finally {
      noTags = false;
    }
  });

  it('stays as it is where somebody changed it meanwhile, or it is gone', async () => {
    await put('put/b.docx', {});
    const before = await listed('b.docx');
    await connector().replace!('put', before, Buffer.from('theirs'));
    await expect(connector().replace!('put', before, Buffer.from('mine'))).rejects.toThrow(
      'somebody changed it',
    );
    expect(await contentText(connector(), 'put', await listed('b.docx'))).toBe('theirs');
    await expect(
      connector().replace!('put', { ...before, name: 'never.docx' }, Buffer.from('mine')),
    ).rejects.toThrow('deleted');
  });

  it('is not written where two write at once: one of them is told', async () => {
    await put('put/c.docx', {});
    const before = await listed('c.docx');
    const done = await Promise.allSettled(
      ['one', 'two'].map((text) => connector().replace!('put', before, Buffer.from(text))),
    );
    expect(done.filter((d) => d.status === 'fulfilled').length).toBe(1);
    const kept = done[0]?.status === 'fulfilled' ? 'one' : 'two';
    expect(await contentText(connector(), 'put', await listed('c.docx'))).toBe(kept);
  });
});

describe('an object of a bucket that keeps versions', () => {
  it('goes with all of them, and leaves no mark under which it could be had again', async () => {
    mkdirSync(join(home, '.versions-kept'), { recursive: true });
    mkdirSync(join(home, 'kept'), { recursive: true });
    const c = connector({ bucket: 'kept' });
    writeFileSync(join(home, 'kept', 'a.txt'), 'first');
    writeFileSync(join(home, 'kept', 'a.txt.more'), 'another, that begins alike');
    for (const text of ['second', 'third']) {
      const [item] = await c.details('', ['a.txt']);
      await c.replace?.('', item!, Buffer.from(text));
    }
    const folder = join(home, '.versions-kept', createHash('sha256').update('a.txt').digest('hex'));
    expect(readdirSync(folder)).toHaveLength(2);
    const [item] = await c.details('', ['a.txt']);
    expect((await c.remove?.('', item!))?.method).toBe('deleted with 2 older versions');
    expect(readdirSync(folder)).toEqual([]);
    expect((await c.list('')).items).toEqual(['a.txt.more']);
  });

  it('stays with all of them where it was changed meanwhile', async () => {
    const c = connector({ bucket: 'kept' });
    const [item] = await c.details('', ['a.txt.more']);
    await c.replace?.('', item!, Buffer.from('changed'));
    await expect(c.remove?.('', item!)).rejects.toThrow('somebody changed it meanwhile');
    expect((await c.list('')).items).toEqual(['a.txt.more']);
  });
});
