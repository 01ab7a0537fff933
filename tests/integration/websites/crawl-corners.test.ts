import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import type { CrawlResult } from '../../../src/server/websites/crawl/crawl-plan.ts';
import { CrawlGround } from './crawl-plan.ts';

let server: Server;
let ground: CrawlGround;
let result: CrawlResult;

/** What stands on each page; `T` is the other company, `/x` its pixel of that name. */
const PAGES: Readonly<Record<string, string>> = {
  '/worker': `<script>new Worker('/w.js')</script>`,
  '/service': `<script>navigator.serviceWorker.register('/sw.js')</script>`,
  '/module': `<script type="module">import('/m1.js')</script>`,
  '/style': `<link rel="stylesheet" href="/s.css"><p class="b">x</p>`,
  '/srcdoc': `<iframe srcdoc="<script>document.cookie='in_srcdoc=4f9d0a77c2b14e5b8a31d6e0'; localStorage.in_srcdoc='1'</script>"></iframe>`,
  '/written': `<script>document.write('<scr' + 'ipt src="//T/written.js"></scr' + 'ipt>')</script>`,
  '/lazy': `<div style="height:4000px"></div><img loading="lazy" src="//T/lazy.gif" width="9" height="9"><i id="end">end</i>
    <script>new IntersectionObserver((es) => es.some((e) => e.isIntersecting) && fetch('//T/seen', { mode: 'no-cors' })).observe(document.getElementById('end'))</script>`,
  '/clock': `<script>const began = Date.now(), born = new Date(); const t = setInterval(() => { if (Date.now() - began > 9000 && new Date() - born > 9000) { clearInterval(t); new Image().src = '//T/clock.gif' } }, 1000)</script>`,
  '/first-move': `<script>for (const n of ['keydown', 'touchstart', 'mousemove']) addEventListener(n, () => new Image().src = '//T/' + n + '.gif', { once: true })</script>`,
  '/button': `<p>Sail</p><button type="button" onclick="new Image().src = '//T/more.gif'">Show more</button>
    <button type="button" onclick="new Image().src = '//T/bought.gif'">Buy now</button>
    <div class="bar"><span>We use cookies to know you.</span> <button onclick="new Image().src = '//T/consent.gif'">Sounds good</button></div>`,
  '/trial': `<script>document.cookie = 'probe=1'; document.cookie = 'probe=; Max-Age=0'; indexedDB.open('probe'); indexedDB.deleteDatabase('probe');
    const c = document.createElement('canvas'); c.getContext('2d').fillRect(0, 0, 9, 9); c.toDataURL();</script>`,
  '/refused': `<script>document.cookie = 'foreign=4f9d0a77c2b14e5b8a31d6e0; Domain=other.example';
    document.cookie = '__Host-x=1; Path=/y'</script>`,
  '/away': `<script>setTimeout(() => location.href = 'http://T/away', 8000)</script>`,
  '/names': `<script>localStorage.setItem('__proto__', 'a'); localStorage['constructor'] = 'b'; localStorage.setItem('', 'c'); document.cookie = '=nameless'</script>`,
};
const SCRIPTS: Readonly<Record<string, readonly [string, string]>> = {
  '/w.js': [
    'text/javascript',
    `fetch('//T/from-worker', { mode: 'no-cors' }); indexedDB.open('in-worker', 1)`,
  ],
  '/sw.js': [
    'text/javascript',
    `self.addEventListener('install', (e) => { self.skipWaiting(); e.waitUntil(fetch('//T/from-service', { mode: 'no-cors' })) })`,
  ],
  '/m1.js': ['text/javascript', `import './m2.js'`],
  '/m2.js': ['text/javascript', `\n\nsessionStorage.deep = '1'; navigator.sendBeacon('//T/module')`],
  '/s.css': ['text/css', `.b { background: url(//T/from-style.gif) }`],
  '/written.js': ['text/javascript', `document.cookie = 'written=4f9d0a77c2b14e5b8a31d6e0'`],
};

beforeAll(async () => {
  server = createServer((request, response) => {
    const { port } = server.address() as AddressInfo;
    const path = new URL(request.url ?? '/', 'http://x').pathname;
    const fill = (text: string) => text.replaceAll('//T/', `//tally.localhost:${port}/`);
    const script = SCRIPTS[path];
    const page =
      path === '/'
        ? Object.keys(PAGES)
            .map((p) => `<a href="${p}">${p}</a>`)
            .join(' ')
        : PAGES[path];
    const [type, body] = script ?? [
      'text/html; charset=utf-8',
      `<!doctype html><title>x</title><h1>${path}</h1>${page ?? ''}`,
    ];
    response
      .writeHead(path === '/robots.txt' || path === '/sitemap.xml' ? 404 : 200, { 'content-type': type })
      .end(fill(body));
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ground = await CrawlGround.on((server.address() as AddressInfo).port);
  result = await crawl(ground.plan('corners', { region: 'ZZ' }), new AbortController().signal, () => {});
}, 300_000);
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await ground.leave();
});

/** Kind, name, whether it was only tried, and the paths of its cause. */
const found = () =>
  result.sightings
    .map((s) => {
      const cause = s.sighting.cause.map(
        (c) => `${new URL(c.url).pathname}${c.line && c.what === 'script' ? `:${c.line}` : ''}`,
      );
      return `${s.kind} ${s.name}${s.sighting.refused ? ' (refused)' : ''} < ${cause.join(' > ')}`;
    })
    .toSorted();

it('sees what happens in the corners of pages, by whom, and nothing that is not there', () => {
  expect(found()).toEqual(
    [
      'IndexedDB in-worker < /worker > /w.js:1',
      'request /from-worker < /worker > /w.js:1',
      'service worker /sw.js < /service',
      'request /from-service < /service > /sw.js:1',
      'session storage deep < /module > /m1.js:1 > /m2.js:3',
      'request /module < /module > /m1.js:1 > /m2.js:3',
      'request /from-style.gif < /style > /s.css',
      'cookie in_srcdoc < /srcdoc',
      'local storage in_srcdoc < /srcdoc',
      'request /written.js < /written',
      'cookie written < /written > /written.js:1',
      'request /lazy.gif < /lazy',
      'request /seen < /lazy',
      'request /clock.gif < /clock',
      'request /keydown.gif < /first-move',
      'request /mousemove.gif < /first-move',
      'request /touchstart.gif < /first-move',
      'request /more.gif < /button',
      'cookie foreign (refused) < /refused',
      'cookie __Host-x (refused) < /refused',
      'local storage __proto__ < /names',
      'local storage constructor < /names',
      'local storage  < /names',
      'cookie  < /names',
    ].toSorted(),
  );
});

it('stays on the site, whatever a page tries', () => {
  expect(result.pages.map((p) => new URL(p.url).pathname).toSorted()).toEqual(
    ['/', ...Object.keys(PAGES)].toSorted(),
  );
  expect(result.pages.filter((p) => p.note !== '')).toEqual([]);
});
