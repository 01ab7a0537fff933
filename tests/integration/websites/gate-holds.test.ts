import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { build } from 'esbuild';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { VISITOR_SCRIPTS } from '../../../launcher/build.ts';
import type { GateHold } from '../../../src/core/websites/trackers/fix.ts';
import { firstNotice } from '../../../src/core/websites/notice/notice.ts';
import type { Visitor } from '../../../src/core/websites/trackers/visitor.ts';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import { CrawlGround } from './crawl-plan.ts';

const KEY = 'a1'.repeat(10);
const hold = (kind: GateHold['kind'], name: string, host = 'tally.localhost'): GateHold => ({
  kind,
  name,
  host,
  purpose: 'measurement',
});
const HOLDS = [
  hold('request', '/t.js'),
  hold('request', '/p*.gif'),
  hold('request', '/sent'),
  hold('cookie', 'held_*', 'held.localhost'),
  hold('storage', 'held_key', 'held.localhost'),
];
/** What a page's own script does: some of it is held, some is not. */
const DOES = `
const s = document.createElement('script'); s.src = '//T/t.js'; document.head.append(s);
new Image().src = '//T/p1.gif';
const i = new Image(); i.setAttribute('src', '//T/p2.gif');
fetch('//T/sent', { mode: 'no-cors' });
navigator.sendBeacon('//T/sent');
const x = new XMLHttpRequest(); x.open('GET', '//T/sent'); x.send();
document.cookie = 'held_id=4f9d0a77c2b14e5b8a31d6e0; Path=/';
localStorage.setItem('held_key', '1');
new Image().src = '//T/free.gif';
document.cookie = 'free_id=4f9d0a77c2b14e5b8a31d6e0; Path=/';
localStorage.setItem('free_key', '1');`;

let server: Server;
let ground: CrawlGround;

beforeAll(async () => {
  const { outdir: _outdir, entryPoints, ...options } = VISITOR_SCRIPTS;
  const [notice] = [(entryPoints as Record<string, string>)['notice'] as string];
  const { outputFiles } = await build({ ...options, entryPoints: [notice], write: false });
  server = createServer((request, response) => {
    const { port } = server.address() as AddressInfo;
    const send = (type: string, body: string) =>
      response
        .writeHead(200, { 'content-type': type, 'access-control-allow-origin': '*' })
        .end(body.replaceAll('//T/', `//tally.localhost:${port}/`));
    if (request.url === `/${KEY}.js`) {
      const { texts, colours, purposes } = firstNotice();
      const settings = {
        key: KEY,
        origin: `http://held.localhost:${port}`,
        version: 1,
        asksSince: 1,
        months: 6,
        ...{ starts: [], signal: [], asks: true, layout: 'strip' },
        purposes,
        texts,
        colours,
        policyUrl: '',
        rehearsal: false,
        shown: '',
        language: '',
      };
      return void send(
        'text/javascript',
        `(()=>{const YARE_SITE='${KEY}',YARE_ORIGIN='',YARE_SETTINGS=${JSON.stringify(settings)},YARE_HOLDS=${JSON.stringify(HOLDS)};${outputFiles[0]?.text}})();`,
      );
    }
    if (request.url?.endsWith('/choices')) return void send('application/json', '{"receipt":{"id":"r1"}}');
    if (request.url !== '/') return void send('text/javascript', '');
    return void send(
      'text/html; charset=utf-8',
      `<!doctype html><html lang="en"><head><script src="/${KEY}.js"></script></head><body><h1>Held</h1><script>${DOES}</script></body></html>`,
    );
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ground = await CrawlGround.on((server.address() as AddressInfo).port);
});
afterAll(async () => {
  await ground.leave();
  server.closeAllConnections();
  server.close();
});

const seen = async (visitor: Visitor) => {
  const result = await crawl(ground.plan('held', { visitor }), new AbortController().signal, () => {});
  return result.sightings
    .map((s) => s.name)
    .filter((name) => !/^yare_/.test(name))
    .toSorted();
};
const FREE = ['/free.gif', 'free_id', 'free_key'];

it('holds what the page’s scripts ask for and write, and nothing else, until it is allowed', async () => {
  expect(await seen('before')).toEqual(FREE);
  expect(await seen('refused')).toEqual(FREE);
});

it('lets go of it once its purpose is allowed, at once and on the pages after', async () => {
  const all = ['/p1.gif', '/p2.gif', '/sent', '/t.js', 'held_id', 'held_key', ...FREE].toSorted();
  expect(await seen('accepted')).toEqual(all);
  expect(await seen('chosen')).toEqual(all);
});
