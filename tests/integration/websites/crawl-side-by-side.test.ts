import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import type { CrawlResult } from '../../../src/server/websites/crawl/crawl-plan.ts';
import { CrawlGround } from './crawl-plan.ts';

let server: Server;
let ground: CrawlGround;
let result: CrawlResult;
/** How often each page was asked for. */
const asked = new Map<string, number>();

const OTHERS = ['/b', '/c', '/d', '/e', '/f', '/cut', '/always-cut'];

/** One page lets another company's script register a worker that from then on does something on every page; some lines fail. */
beforeAll(async () => {
  server = createServer((request, response) => {
    const { port } = server.address() as AddressInfo;
    const { pathname } = new URL(request.url ?? '/', 'http://x');
    const send = (type: string, body: string) =>
      response
        .writeHead(200, { 'content-type': type })
        .end(body.replaceAll('//T/', `//tool.localhost:${port}/`));
    const times = (asked.get(pathname) ?? 0) + 1;
    asked.set(pathname, times);
    switch (pathname) {
      case '/robots.txt':
      case '/sitemap.xml':
        return void response.writeHead(404).end();
      case '/reg.js':
        return void send('text/javascript', `\n\nnavigator.serviceWorker.register('/sw.js')`);
      case '/sw.js':
        return void send(
          'text/javascript',
          `oninstall = () => skipWaiting(); onactivate = (e) => e.waitUntil(clients.claim());
onfetch = (e) => { if (e.request.mode === 'navigate') e.waitUntil(caches.open('kept').then((c) => c.put('/x', new Response('1'))).then(() => fetch('//T/each', { mode: 'no-cors' }))); };`,
        );
      case '/always-cut':
        return void request.socket.destroy();
      case '/cut':
        if (times === 1) return void request.socket.destroy();
    }
    const links = ['/a', ...OTHERS].map((p) => `<a href="${p}">${p}</a>`).join(' ');
    send(
      'text/html',
      `<!doctype html><h1>${pathname}</h1>${links}${pathname === '/a' ? '<script src="//T/reg.js"></script>' : ''}`,
    );
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ground = await CrawlGround.on((server.address() as AddressInfo).port);
  result = await crawl(ground.plan('beside', { tabs: 4 }), new AbortController().signal, () => {});
}, 120_000);
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await ground.leave();
});

it('tells from the page on who put a cached file and a worker there, whichever tab was told of it', () => {
  const causes = result.sightings
    .filter((s) => ['kept', '/each', '/sw.js'].includes(s.name))
    .map((s) => [s.name, ...s.sighting.cause.map((c) => new URL(c.url).pathname)].join(' < '))
    .toSorted();
  expect(causes).toEqual([
    '/each < /a < /reg.js < /sw.js',
    '/sw.js < /a < /reg.js',
    'kept < /a < /reg.js < /sw.js',
  ]);
});

it('asks once more for a page whose line failed, and tells of one whose line always fails', () => {
  expect(result.pages.find((p) => p.url.endsWith('/cut'))).toMatchObject({ status: 200, note: '' });
  expect(result.pages.filter((p) => p.url.endsWith('/always-cut'))).toMatchObject([
    { note: 'Answered with an error, or not at all' },
  ]);
  expect(asked.get('/cut')).toBeGreaterThan(1);
  expect(result.pages.map((p) => new URL(p.url).pathname).toSorted()).toEqual(
    ['/', '/a', ...OTHERS].toSorted(),
  );
});
