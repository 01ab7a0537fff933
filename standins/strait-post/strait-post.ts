import type { IncomingMessage, ServerResponse } from 'node:http';
import { READS_DEVICE } from '../device-reads.ts';
import { send } from '../answer.ts';

export const POST_HOST = 'post.localhost';

type Answer = (request: IncomingMessage, response: ServerResponse, url: URL) => void;

const GIF = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');
const YEAR = 365 * 86400;

const SECTIONS = { news: 12, sport: 8, weather: 6 } as const;
export const POST_PAGES: readonly string[] = [
  '/',
  ...Object.entries(SECTIONS).flatMap(([s, n]) => Array.from({ length: n }, (_, i) => `/${s}/${i + 1}`)),
  '/about',
  '/contact',
];

/** The pages whose first connection is cut, as on a bad line; once each, until the server is made anew. */
const CUT_ONCE = new Set(['/news/7', '/sport/3']);

/**
 * A newspaper that nothing here knows by name: its notice comes late, says nothing that a list of words holds, and lies below
 * a letter to subscribe to; the names of what it sets tell nothing, change from page to page, and begin before the answer, with it and
 * against it. `undefined` for another host.
 */
export function straitPost(): (host: string) => Answer | undefined {
  const cut = new Set<string>();
  return (host) => {
    if (host === POST_HOST) return (request, response, url) => paper(request, response, url, cut);
    return HOSTS[host];
  };
}

function paper(request: IncomingMessage, response: ServerResponse, url: URL, cut: Set<string>): void {
  if (url.pathname === '/sitemap.xml' || url.pathname === '/robots.txt')
    return send(response, 'text/plain', '', 404);
  if (url.pathname === '/live') {
    // A stream that never ends.
    response.writeHead(200, { 'content-type': 'text/event-stream' });
    return void response.write('data: tide\n\n');
  }
  if (url.pathname === '/weather.json') return send(response, 'application/json', '{"tide":3}');
  if (!POST_PAGES.includes(url.pathname)) return send(response, 'text/html', '<h1>Not found</h1>', 404);
  if (CUT_ONCE.has(url.pathname) && !cut.has(url.pathname)) {
    cut.add(url.pathname);
    return void request.socket.destroy();
  }
  if (!/ps=/.test(request.headers.cookie ?? ''))
    response.setHeader(
      'set-cookie',
      `ps=${crypto.randomUUID().replaceAll('-', '')}; Path=/; HttpOnly; SameSite=Lax`,
    );
  send(response, 'text/html; charset=utf-8', page(url));
}

function page({ pathname, port }: URL): string {
  const at = (host: string) => `//${host}:${port}`;
  const section = pathname.split('/')[1] ?? '';
  const links = POST_PAGES.map((p) => `<a href="${p}">${p === '/' ? 'Front page' : p.slice(1)}</a>`).join(
    ' ',
  );
  return `<!doctype html><html lang="en"><head><title>The Strait Post ${pathname}</title>
<link rel="stylesheet" href="${at('static.post.localhost')}/post.css">
<script src="${at('static.post.localhost')}/base.js"></script>
${section === 'sport' ? `<script src="${at('kestrel.localhost')}/b.js"></script>` : ''}
</head><body>
<header style="position:sticky;top:0;background:#fff"><b>The Strait Post</b> <button type="button" id="menu">Sections</button></header>
<main><h1>${pathname}</h1><img alt="" src="${at('static.post.localhost')}/ship.gif">
<p>All about the strait, its ships and its weather.</p><nav>${links}</nav>
<p><a href="http://market.localhost:${port}/stall">A stall on the market</a></p></main>
${section === 'weather' ? `<script src="${at('ombra.localhost')}/w.js"></script>` : ''}
<script>${NOTICE}</script></body></html>`;
}

/** The site's own script: the notice, and what it lets run. */
const NOTICE = `
const KEY = 'p2';
const at = (host) => '//' + host + '.localhost:' + location.port;
const load = (src) => { const s = document.createElement('script'); s.src = src; document.head.append(s); };
const run = (list) => {
  if (list.includes(1)) load(at('kestrel') + '/k.js');
  if (list.includes(2)) load(at('ombra') + '/o.js');
  if (list.includes(3)) load(at('fennel') + '/f.js');
  // Comes with an answer, whichever it is.
  load(at('quill') + '/q.js');
  if (list.length === 0) navigator.sendBeacon(at('ombra') + '/z', 'p=' + location.pathname);
};
const kept = localStorage.getItem(KEY);
if (kept !== null) run(JSON.parse(kept));
fetch('/weather.json').then((r) => r.json());
if (location.pathname === '/') new EventSource('/live');
const put = (html) => { const t = document.createElement('template'); t.innerHTML = html; const e = t.content.firstElementChild; document.body.append(e); return e; };
if (localStorage.getItem('nl') === null) setTimeout(() => {
  const d = put('<div style="position:fixed;inset:25% 30%;z-index:20;background:#fff;border:1px solid"><h2>The morning letter</h2><p>What happened on the strait, before your coffee.</p><input type="email" aria-label="Address"><button>Put me on it</button><button id="nl">Another time</button></div>');
  d.querySelector('#nl').onclick = () => { localStorage.setItem('nl', '1'); d.remove(); };
}, 400);
const answer = (list) => { localStorage.setItem(KEY, JSON.stringify(list)); run(list); };
if (kept === null) setTimeout(() => {
  const d = put('<div style="position:fixed;left:0;right:0;bottom:0;z-index:10;background:#eef;padding:12px"><div class="one"><p>This paper is free, and some who pay for it would like to be present while you read.</p><span class="x" aria-label="">✕</span><div class="y">Sounds good</div><div class="n">Maybe later</div><div class="c">Pick and choose</div></div><div class="two" hidden><p><label><input type="checkbox" checked> Newsroom</label> lets us see which stories are read to the end</p><p><label><input type="checkbox" checked> Sponsors</label> paid notices that suit you, by firms we work with</p><p><label><input type="checkbox"> Corner</label> what readers add</p><p><label><input type="checkbox" checked disabled> Printing</label> without it there is no paper</p><div class="s">Save these</div></div></div>');
  const $ = (c) => d.querySelector('.' + c);
  for (const c of 'xyncs') $(c).style.cursor = 'pointer';
  const end = (list) => { d.remove(); answer(list); };
  $('x').addEventListener('click', () => d.remove());
  $('y').addEventListener('click', () => end([1, 2, 3]));
  $('n').addEventListener('click', () => end([]));
  $('c').addEventListener('click', () => { $('one').hidden = true; $('two').hidden = false; });
  $('s').addEventListener('click', () => end([...d.querySelectorAll('input:not(:disabled)')].flatMap((b, i) => b.checked ? [i + 1] : [])));
}, 1600);
`;

const id = (bytes: number) =>
  `Array.from(crypto.getRandomValues(new Uint8Array(${bytes})), (b) => (b + 256).toString(16).slice(1)).join('')`;

const script = (response: ServerResponse, body: string) =>
  send(response, 'text/javascript', `(() => {${body}})();`);

const HOSTS: Readonly<Record<string, Answer>> = {
  /** Files of the paper itself: nothing that recognises anybody. */
  'static.post.localhost': (_request, response, url) => {
    if (url.pathname === '/post.css') return send(response, 'text/css', 'body{font:16px serif}');
    if (url.pathname === '/base.js')
      return script(
        response,
        `document.addEventListener('click', (e) => { if (e.target.id === 'menu') e.target.textContent = 'Sections ▾'; });`,
      );
    return send(response, 'image/gif', GIF);
  },
  /** The paper's own counter, under a name of its own. */
  'pulse.post.localhost': (_request, response, url) =>
    url.pathname === '/in'
      ? send(response, 'text/html', '<!doctype html><title>.</title>')
      : send(response, 'text/plain', '', 204),
  'kestrel.localhost': (_request, response, url) => {
    if (url.pathname === '/k.js')
      return script(
        response,
        `const had = (document.cookie.match(/kx=([0-9a-f]+)/) || [])[1];
const v = had || ${id(10)};
document.cookie = 'kx=' + v + '; Max-Age=${YEAR}; Path=/';
document.cookie = 'vz_' + ${id(3)} + '=1; Max-Age=3600; Path=/';
localStorage.setItem('kx_q', '[' + location.pathname.length + ']');
fetch('//kestrel.localhost:' + location.port + '/e?v=' + v, { mode: 'no-cors' });
fetch('//pulse.post.localhost:' + location.port + '/p', { method: 'POST', mode: 'no-cors', body: v });
const f = document.createElement('iframe'); f.src = '//pulse.post.localhost:' + location.port + '/in'; f.width = 1; f.height = 1; document.body.append(f);`,
      );
    if (url.pathname === '/b.js')
      return script(response, `document.cookie = 'kb=' + ${id(10)} + '; Max-Age=${YEAR}; Path=/';`);
    return send(response, 'text/plain', 'ok');
  },
  'ombra.localhost': (request, response, url) => {
    if (url.pathname === '/o.js')
      return script(
        response,
        `new Image().src = '//ombra.localhost:' + location.port + '/x.gif';
const v = localStorage.getItem('o1') || ${id(8)}; localStorage.setItem('o1', v);
for (const a of document.querySelectorAll('a[href*="market"]')) { const u = new URL(a.href); u.searchParams.set('oc', v); a.href = u.href; }`,
      );
    if (url.pathname === '/w.js') return script(response, READS_DEVICE);
    if (url.pathname === '/x.gif') {
      if (!/om=/.test(request.headers.cookie ?? ''))
        response.setHeader(
          'set-cookie',
          `om=${crypto.randomUUID().replaceAll('-', '')}; Max-Age=${YEAR}; Path=/; SameSite=None; Secure`,
        );
      return send(response, 'image/gif', GIF);
    }
    return send(response, 'text/plain', '', 204);
  },
  'fennel.localhost': (_request, response, url) =>
    url.pathname === '/f.js'
      ? script(
          response,
          `localStorage.setItem('fx', 'wide'); fetch('//fennel.localhost:' + location.port + '/list', { mode: 'no-cors' });`,
        )
      : send(response, 'application/json', '[]'),
  'quill.localhost': (_request, response) =>
    script(response, `document.cookie = 'qv=' + ${id(9)} + '; Max-Age=${YEAR}; Path=/';`),
  'market.localhost': (_request, response) => send(response, 'text/html', '<h1>The market</h1>'),
};
