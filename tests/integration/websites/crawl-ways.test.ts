import { readdirSync, readFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NO_PATHS, readClickPath } from '../../../src/core/websites/sweeps/click-path.ts';
import { WHOLE_SITE } from '../../../src/core/websites/sweeps/scope.ts';
import type { Visitor } from '../../../src/core/websites/trackers/visitor.ts';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import type { CrawlPlan, CrawlResult } from '../../../src/server/websites/crawl/crawl-plan.ts';
import { CrawlGround } from './crawl-plan.ts';

let server: Server;
let ground: CrawlGround;
/** What GPC said to each path of the signalling site. */
const signals: (string | undefined)[] = [];

beforeAll(async () => {
  server = createServer(answer);
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ground = await CrawlGround.on((server.address() as AddressInfo).port);
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await ground.leave();
});

const sweep = (host: string, visitor: Visitor, over: Partial<CrawlPlan> = {}): Promise<CrawlResult> =>
  crawl(ground.plan(host, { visitor, ...over }), new AbortController().signal, () => {});
const paths = (r: CrawlResult) => r.pages.map((p) => new URL(p.url).pathname).toSorted();
const cookies = (r: CrawlResult) => r.sightings.filter((s) => s.kind === 'cookie').map((s) => s.name);

describe('a sweep keeps to its scope', () => {
  it('leaves out what robots.txt asks it to, and takes it with a reason', async () => {
    const kept = await sweep('shop', 'before');
    expect(paths(kept)).not.toContain('/private');
    expect(kept.notes).toContain('1 page was left out, as robots.txt asks.');
    const taken = await sweep('shop', 'before', {
      scope: { ...WHOLE_SITE, robotsOverride: 'our own site', maxPages: 60 },
    });
    expect(paths(taken)).toContain('/private');
    expect(taken.notes).toContain('robots.txt was not kept to: our own site');
  });

  it('samples pages of one shape and says so; takes in and leaves out by pattern', async () => {
    const result = await sweep('shop', 'before', {
      scope: { ...WHOLE_SITE, perShape: 2, exclude: ['/about'], startPaths: ['/hidden/door'] },
    });
    expect(paths(result).filter((p) => p.startsWith('/item/'))).toHaveLength(2);
    expect(result.notes).toContain('Of 12 pages like /item/*, 2 were swept as a sample.');
    expect(paths(result)).not.toContain('/about');
    expect(paths(result)).toContain('/hidden/door');
  });

  it('goes behind a sign-in by a recorded path, and says which step cannot be done', async () => {
    const signIn = (on: string) =>
      readClickPath(
        `go to /enter\ntype "ines" in #user\ntype secret "ports" in #word\nclick ${on}\nwait for #welcome`,
      );
    const result = await sweep('members', 'before', { paths: { ...NO_PATHS, signIn: signIn('"Come in"') } });
    expect(paths(result)).toEqual(['/', '/roster']);
    expect(cookies(result)).toContain('member');
    await expect(
      sweep('members', 'before', { paths: { ...NO_PATHS, signIn: signIn('"Go away"') } }),
    ).rejects.toThrow(/^Step 4 \(click "Go away"\) could not be done: nothing on the page is that/);
  }, 40_000);

  it('sends Global Privacy Control in the header and to scripts, only as that visitor', async () => {
    signals.length = 0;
    const result = await sweep('signal', 'gpc', { scope: { ...WHOLE_SITE, maxPages: 1 } });
    expect(signals.length).toBeGreaterThan(2);
    expect(new Set(signals)).toEqual(new Set(['1']));
    expect(cookies(result)).toEqual(['heard_true']);
    signals.length = 0;
    expect(cookies(await sweep('signal', 'before', { scope: { ...WHOLE_SITE, maxPages: 1 } }))).toEqual([
      'heard_undefined',
    ]);
    expect(new Set(signals)).toEqual(new Set([undefined]));
  });
});

describe('a page', () => {
  it('is not waited for where an answer is not read, a beacon and a picture get none, or a stream stays open', async () => {
    const result = await sweep('unread', 'before');
    expect(paths(result)).toEqual(['/', '/two']);
    // A picture that never came is told; nothing else was the matter.
    const never = 'Something on it never finished loading';
    expect(result.pages.map((p) => p.note)).toEqual([never, never]);
    expect(cookies(result)).toEqual(['read_the_first_words']);
  });
});

describe('notices of many makes', () => {
  it.each([
    ['shadow', 'refused', 'chose_refuse'],
    ['shadow', 'accepted', 'chose_accept'],
    ['framed', 'refused', 'chose_refuse'],
    ['links', 'refused', 'chose_refuse'],
    ['links', 'accepted', 'chose_accept'],
    ['switches', 'refused', 'chose_none'],
    ['switches', 'chosen', 'chose_measurement'],
    ['danish', 'refused', 'chose_refuse'],
    ['danish', 'chosen', 'chose_measurement'],
  ] as const)('%s, as %s', async (make, visitor, cookie) => {
    const result = await sweep(`notice-${make}`, visitor, { scope: { ...WHOLE_SITE, maxPages: 1 } });
    expect(result.couldChoose).toBe(true);
    expect(cookies(result)).toContain(cookie);
  });

  it('is waited for where it comes late, and what ran until then is not put down to the choice', async () => {
    const result = await sweep('notice-late', 'refused', { scope: { ...WHOLE_SITE, maxPages: 1 } });
    expect(cookies(result)).toEqual(['chose_refuse']);
    expect(result.sightings.map((s) => s.name)).not.toContain('early');
  });

  it('is left alone where there is none, and the visitor said not to have been tried', async () => {
    const result = await sweep('shop', 'refused', { scope: { ...WHOLE_SITE, maxPages: 1 } });
    expect(result).toMatchObject({ couldChoose: false, pages: [], sightings: [] });
  });

  it('is answered by a recorded path where its controls say nothing', async () => {
    const accept = readClickPath('click #b');
    const result = await sweep('notice-silent', 'accepted', {
      paths: { ...NO_PATHS, accept },
      scope: { ...WHOLE_SITE, maxPages: 1 },
    });
    expect(result.operated).toBe('the recorded path, “1 steps”');
    expect(cookies(result)).toContain('chose_accept');
    expect(
      (await sweep('notice-silent', 'accepted', { scope: { ...WHOLE_SITE, maxPages: 1 } })).couldChoose,
    ).toBe(false);
  });
});

it('goes on with another browser when the first is killed, and leaves none behind', async () => {
  const ours = () =>
    readdirSync('/proc').filter((pid) => {
      try {
        return /^\d+$/.test(pid) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(ground.visits);
      } catch {
        return false;
      }
    });
  let killed = 0;
  const result = await crawl(
    ground.plan('shop', { scope: { ...WHOLE_SITE, maxPages: 60, paceMs: 60 } }),
    new AbortController().signal,
    ({ pages }) => {
      if (pages !== 4 || killed > 0) return;
      for (const pid of ours()) {
        try {
          process.kill(Number(pid), 'SIGKILL');
          killed++;
        } catch {
          // It went with the one before.
        }
      }
    },
  );
  expect(killed).toBeGreaterThan(0);
  expect(result.notes).toContain('The browser ended by itself; the sweep went on with another.');
  const urls = result.pages.map((p) => p.url);
  expect(urls.toSorted()).toEqual([...new Set(urls)].toSorted());
  const whole = await sweep('shop', 'before');
  expect(urls).toEqual(expect.arrayContaining(whole.pages.map((p) => p.url)));
  expect(result.pages.every((p) => p.status === 200)).toBe(true);
  expect(ours()).toEqual([]);
  expect(await ground.leftVisits()).toEqual([]);
}, 60_000);

const CHOOSE = `function choose(what) { document.cookie = 'chose_' + what + '=1; Path=/'; for (const n of document.querySelectorAll('.n')) n.remove() }`;
const NOTICES: Readonly<Record<string, string>> = {
  shadow: `<div class="n" id="host"></div><script>${CHOOSE}
    const root = host.attachShadow({ mode: 'open' });
    root.innerHTML = '<p>We use cookies.</p><button>Accept all cookies</button><button>Reject all</button>';
    root.querySelectorAll('button').forEach((b, i) => b.onclick = () => choose(i ? 'refuse' : 'accept'));</script>`,
  framed: `<iframe class="n" src="/frame" width="400" height="200"></iframe><script>${CHOOSE} onmessage = (e) => choose(e.data)</script>`,
  links: `<script>${CHOOSE}</script><nav><a href="/ok">OK</a> <a href="/no">No</a></nav>
    <div class="n" role="dialog">Cookies? <a href="#" onclick="choose('accept')">Accept &amp; close</a> <a href="#" onclick="choose('accept')">I agree</a>
    <a href="#" onclick="choose('refuse')">Continue without accepting</a></div>`,
  switches: `<script>${CHOOSE}</script><div class="n">This site uses cookies. <button onclick="choose('accept')">Got it</button>
    <button onclick="more.hidden = false">Manage preferences</button>
    <div id="more" hidden><div><span>Analytics and statistics</span> <button role="switch" aria-checked="true" aria-label="Analytics" onclick="this.setAttribute('aria-checked', this.getAttribute('aria-checked') !== 'true')">~</button></div>
    <div><span>Marketing</span> <button role="switch" aria-checked="true" aria-label="Marketing" onclick="this.setAttribute('aria-checked', this.getAttribute('aria-checked') !== 'true')">~</button></div>
    <button onclick="const on = [...document.querySelectorAll('[aria-checked=true]')].map((s) => s.ariaLabel); choose(on.join() === 'Analytics' ? 'measurement' : on.length ? 'other' : 'none')">Confirm my choices</button></div></div>`,
  danish: `<script>${CHOOSE}</script><div class="n"><p>Vi bruger cookies til statistik og markedsføring.</p><button onclick="choose('accept')">Tillad alle</button>
    <button onclick="choose('refuse')">Kun nødvendige</button><button onclick="mere.hidden = false">Vælg selv</button>
    <div id="mere" hidden><label><input type="checkbox" name="s"> Statistik</label><label><input type="checkbox" name="m" checked> Markedsføring</label>
    <button onclick="choose(document.querySelector('[name=s]').checked && !document.querySelector('[name=m]').checked ? 'measurement' : 'other')">Gem valg</button></div></div>`,
  late: `<script>${CHOOSE}
    setTimeout(() => { document.cookie = 'early=1; Path=/'; localStorage.setItem('early', '1') }, 9000);
    setTimeout(() => document.body.insertAdjacentHTML('beforeend', '<div class="n">Cookies? <button onclick="choose(\\'refuse\\')">Reject all</button></div>'), 20000)</script>`,
  silent: `<script>${CHOOSE}</script><div class="n">About cookies <button id="a">◀</button><button id="b" onclick="choose('accept')">▶</button></div>`,
};

function answer(request: IncomingMessage, response: ServerResponse): void {
  const url = new URL(request.url ?? '/', `http://${request.headers.host}`);
  const [site = ''] = url.hostname.split('.');
  const html = (body: string, headers: Record<string, string> = {}) =>
    response
      .writeHead(200, { 'content-type': 'text/html; charset=utf-8', ...headers })
      .end(`<!doctype html><title>${site}</title>${body}`);
  const links = (list: readonly string[]) => html(list.map((p) => `<p><a href="${p}">${p}</a></p>`).join(''));
  if (url.pathname === '/robots.txt' && site === 'shop')
    return void response
      .writeHead(200, { 'content-type': 'text/plain' })
      .end('User-agent: *\nDisallow: /private\n');
  if (url.pathname === '/sitemap.xml' || url.pathname === '/robots.txt')
    return void response.writeHead(404).end();
  switch (site) {
    case 'shop':
      return void links(['/', '/private', '/about', ...Array.from({ length: 12 }, (_, i) => `/item/${i}`)]);
    case 'unread':
      if (url.pathname === '/drip')
        return void response.writeHead(200, { 'content-type': 'text/plain' }).write('x'.repeat(10));
      // Never answered.
      if (url.pathname === '/silent') return;
      return void html(`<a href="/two">two</a><script>
        fetch('/drip');
        fetch('/drip').then((r) => r.body.getReader().read()).then(() => { document.cookie = 'read_the_first_words=1'; });
        navigator.sendBeacon('/silent');
        new Image().src = '/silent';
      </script>`);
    case 'members': {
      const member = /member=1/.test(request.headers.cookie ?? '');
      if (url.pathname === '/enter')
        return void html(
          '<form method="post" action="/in"><input id="user"><input id="word" type="password"><button>Come in</button></form>',
        );
      if (url.pathname === '/in')
        return void response
          .writeHead(303, { location: '/', 'set-cookie': 'member=1; Path=/; HttpOnly' })
          .end();
      if (url.pathname === '/roster') return void html(member ? 'roster' : 'nothing');
      return void html(
        member ? '<h1 id="welcome">Welcome</h1><a href="/roster">Roster</a>' : '<a href="/enter#x">…</a>',
      );
    }
    case 'across':
      // The signal must not make a request ask for leave first, which this company would not give.
      if (request.method === 'OPTIONS') return void response.writeHead(403).end();
      signals.push(request.headers['sec-gpc'] as string | undefined);
      return void response
        .writeHead(200, { 'content-type': 'application/json', 'access-control-allow-origin': '*' })
        .end('{}');
    case 'signal':
      signals.push(request.headers['sec-gpc'] as string | undefined);
      if (url.pathname === '/s.js')
        return void response
          .writeHead(200, { 'content-type': 'text/javascript' })
          .end(
            `document.cookie = 'heard_' + navigator.globalPrivacyControl + '=1'; fetch('//across.localhost:${new URL(url).port}/json')`,
          );
      return void html('<script src="/s.js"></script>');
    default:
      if (url.pathname === '/frame')
        return void html(
          `<p>Wir nutzen Cookies</p><button onclick="parent.postMessage('accept', '*')">Alle akzeptieren</button><button onclick="parent.postMessage('refuse', '*')">Ablehnen</button>`,
        );
      return void html(
        /chose_/.test(request.headers.cookie ?? '')
          ? 'thank you'
          : (NOTICES[site.replace('notice-', '')] ?? ''),
      );
  }
}
