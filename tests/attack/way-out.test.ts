import { createServer, request as httpRequest } from 'node:http';
import { connect, createServer as createTcp, type AddressInfo, type Server } from 'node:net';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { gzipSync } from 'node:zlib';
import { readSettings } from '../../src/server/settings.ts';
import { checkSite } from '../../src/server/websites/sites/site-check.ts';
import { destinationRules } from '../../src/server/http/allowed-destination.ts';
import { OutboundProxy } from '../../src/server/websites/crawl/browser/outbound-proxy.ts';
import { readSitemapXml, readSiteFiles } from '../../src/server/websites/crawl/site-map.ts';

/** What a server answers, byte by byte. */
let says = '';
let server: Server;
let guard: OutboundProxy;
let proxy: URL;
const crashes: unknown[] = [];
const crashed = (reason: unknown) => void crashes.push(reason);

beforeAll(async () => {
  server = createTcp((socket) => {
    socket.on('error', () => {});
    socket.once('data', () => {
      socket.write(Buffer.from(says, 'latin1'));
      setTimeout(() => socket.end(), 50);
    });
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  process.on('uncaughtException', crashed);
  process.on('unhandledRejection', crashed);
});
const port = () => (server.address() as AddressInfo).port;
const rules = () =>
  destinationRules(
    readSettings({ ALLOWED_PRIVATE: `localhost:${port()}`, STANDIN_PORT: '1', SECRET_KEY: 'ab'.repeat(32) }),
  );
beforeEach(async () => {
  guard = new OutboundProxy(rules(), 1_000_000);
  proxy = new URL(await guard.listen());
});
afterAll(() => {
  process.off('uncaughtException', crashed);
  process.off('unhandledRejection', crashed);
  server.close();
});

function through(target: string, method = 'GET'): Promise<{ status: number; body: string }> {
  return new Promise((resolve) => {
    const asking = httpRequest(
      { host: proxy.hostname, port: proxy.port, path: target, method, headers: { host: 'x' } },
      (answer) => {
        let body = '';
        answer.on('data', (c: Buffer) => (body += c.toString()));
        answer.on('error', () => {});
        answer.on('close', () => resolve({ status: answer.statusCode ?? 0, body }));
      },
    );
    asking.on('error', () => resolve({ status: 0, body: '' }));
    asking.end();
  });
}

const ANSWERS: readonly (readonly [string, string])[] = [
  ['a status that is none', 'HTTP/1.1 000 Nothing\r\ncontent-length: 2\r\n\r\nok'],
  ['a status beyond all', 'HTTP/1.1 999 Much\r\ncontent-length: 2\r\n\r\nok'],
  ['a status of one digit', 'HTTP/1.1 7\r\n\r\n'],
  ['a forbidden trailer', 'HTTP/1.1 200 OK\r\ntrailer: content-length\r\ncontent-length: 2\r\n\r\nok'],
  ['a trailer with a length', 'HTTP/1.1 200 OK\r\ncontent-length: 2\r\ntrailer: x-a\r\n\r\nok'],
  [
    'a trailer that comes',
    'HTTP/1.1 200 OK\r\ntransfer-encoding: chunked\r\ntrailer: x-a\r\n\r\n2\r\nok\r\n0\r\nx-a: \x01\r\n\r\n',
  ],
  ['101', 'HTTP/1.1 101 Switching\r\nconnection: upgrade\r\nupgrade: nonsense\r\n\r\nbytes'],
  ['103 for ever', 'HTTP/1.1 103 Early\r\n\r\n'.repeat(500)],
  ['a header with a control', 'HTTP/1.1 200 OK\r\nx-a: a\x01b\r\ncontent-length: 2\r\n\r\nok'],
  ['a header beyond ASCII', 'HTTP/1.1 200 OK\r\nx-a: \xff\xfe\xe9\r\ncontent-length: 2\r\n\r\nok'],
  ['two lengths', 'HTTP/1.1 200 OK\r\ncontent-length: 2\r\ncontent-length: 9\r\n\r\nok'],
  [
    'a length and chunks',
    'HTTP/1.1 200 OK\r\ncontent-length: 2\r\ntransfer-encoding: chunked\r\n\r\n2\r\nok\r\n0\r\n\r\n',
  ],
  ['a chunk that is none', 'HTTP/1.1 200 OK\r\ntransfer-encoding: chunked\r\n\r\nzz\r\nok\r\n'],
  ['too little', 'HTTP/1.1 200 OK\r\ncontent-length: 900\r\n\r\nok'],
  ['a body to HEAD', 'HTTP/1.1 204 None\r\ncontent-length: 5\r\n\r\nhello'],
  [
    'a connection header that names its own',
    'HTTP/1.1 200 OK\r\nconnection: x-a, content-length\r\nx-a: 1\r\ncontent-length: 2\r\n\r\nok',
  ],
  ['no HTTP', 'SSH-2.0-OpenSSH_9\r\n'],
  ['nothing', ''],
];

describe('a server that answers', () => {
  it.each(ANSWERS)('%s harms no more than its own answer', async (_, answer) => {
    says = answer;
    for (const method of ['GET', 'HEAD', 'POST']) await through(`http://a.localhost:${port()}/`, method);
    says = 'HTTP/1.1 200 OK\r\ncontent-length: 4\r\n\r\nfine';
    expect(await through(`http://a.localhost:${port()}/`)).toEqual({ status: 200, body: 'fine' });
    expect(crashes).toEqual([]);
    await guard.close();
  });

  it.each(ANSWERS)('%s is told to whoever types its address, in time', async (_, answer) => {
    says = answer;
    const begun = Date.now();
    const check = await checkSite(`http://a.localhost:${port()}/`, rules());
    expect(check.ok === false ? check.why : 'taken').toMatch(/\w/);
    expect(Date.now() - begun).toBeLessThan(11_000);
    expect(crashes).toEqual([]);
    await guard.close();
  });

  it('a redirect of more than 2,000 characters is refused in words', async () => {
    says = `HTTP/1.1 302 Found\r\nlocation: http://a.localhost:${port()}/?${'x'.repeat(3000)}\r\ncontent-length: 0\r\n\r\n`;
    expect(await checkSite(`http://a.localhost:${port()}/`, rules())).toMatchObject({
      ok: false,
      why: expect.stringContaining('2,000 characters'),
    });
    await guard.close();
  });
});

describe('a browser that is made to ask', () => {
  it.each([
    'CONNECT a.localhost:99999 HTTP/1.1\r\nhost: x\r\n\r\n',
    'CONNECT : HTTP/1.1\r\nhost: x\r\n\r\n',
    'CONNECT [::1 HTTP/1.1\r\nhost: x\r\n\r\n',
    'GET ftp://a.localhost/ HTTP/1.1\r\nhost: x\r\n\r\n',
    'GET http://[ HTTP/1.1\r\nhost: x\r\n\r\n',
    'GET / HTTP/1.1\r\nhost: x\r\n\r\n',
    'GET http://a.localhost:1/ HTTP/1.1\r\nhost: x\r\nconnection: upgrade\r\nupgrade: websocket\r\n\r\n',
    '\x00\x01\x02',
  ])('%j is refused, and goes nowhere', async (bytes) => {
    const answer = await new Promise<string>((resolve) => {
      let text = '';
      const socket = connect(Number(proxy.port), '127.0.0.1', () => socket.write(bytes));
      const late = setTimeout(() => socket.destroy(), 2000);
      socket.on('data', (c) => {
        text += c.toString();
        socket.end();
      });
      socket.on('error', () => {});
      socket.on('close', () => (clearTimeout(late), resolve(text)));
    });
    expect(answer).toMatch(/^(HTTP\/1\.1 [45]\d\d|$)/);
    expect(crashes).toEqual([]);
    await guard.close();
  });
});

describe('what a site says to robots', () => {
  it('is counted as it is unpacked', async () => {
    const bomb = gzipSync(Buffer.alloc(400_000_000, 'x'));
    const site = createServer((request, response) => {
      response.writeHead(200, { 'content-type': 'text/plain', 'content-encoding': 'gzip' });
      response.end(request.url === '/robots.txt' ? bomb : gzipSync('<urlset/>'));
    });
    await new Promise<void>((ready) => site.listen(0, '127.0.0.1', ready));
    const at = (site.address() as AddressInfo).port;
    const own = new OutboundProxy({ privateAllowed: new Set([`localhost:${at}`]) }, 25e6);
    const url = await own.listen();
    const before = process.memoryUsage().rss;
    const files = await readSiteFiles(`http://a.localhost:${at}/`, url, true);
    expect(files.allows(`http://a.localhost:${at}/`)).toBe(true);
    expect(process.memoryUsage().rss - before).toBeLessThan(300_000_000);
    await own.close();
    site.closeAllConnections();
    site.close();
  });

  it.each([
    ['endless nesting', '<a>'.repeat(200_000)],
    [
      'entities of entities',
      `<!DOCTYPE x [<!ENTITY a "${'b'.repeat(9000)}">]><urlset><url><loc>&a;&a;</loc></url></urlset>`,
    ],
    ['one long address', `<urlset><url><loc>http://a/${'x'.repeat(5_000_000)}</loc></url></urlset>`],
    ['no XML', '{"urls": []}'],
  ])('%s is read without harm', (_, text) => {
    const begun = Date.now();
    const { pages } = readSitemapXml(text);
    expect(pages.every((p) => p.length < 6_000_000)).toBe(true);
    expect(Date.now() - begun).toBeLessThan(3000);
  });
});
