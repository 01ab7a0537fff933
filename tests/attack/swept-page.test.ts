import { createSocket, type Socket } from 'node:dgram';
import { readFile, readdir } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { crawl } from '../../src/server/websites/crawl/crawl.ts';
import type { CrawlResult } from '../../src/server/websites/crawl/crawl-plan.ts';
import { commandOf, family, processes } from '../../src/server/websites/crawl/browser/process-table.ts';
import { CrawlGround } from '../integration/websites/crawl-plan.ts';

/** What a page may do to whoever looks at it. Each also sets one honest cookie, which has to be found all the same. */
const PAGES: Readonly<Record<string, string>> = {
  '/array': 'Array.prototype.toJSON = () => 7',
  '/object': 'Object.prototype.toJSON = () => null',
  '/string': `String.prototype.toJSON = () => 1; Number.prototype.toJSON = () => 'x'`,
  '/stringify': `JSON.stringify = () => '{'; JSON.parse = () => null`,
  '/slice': `for (const m of ['slice', 'indexOf', 'split', 'replace', 'toLowerCase']) String.prototype[m] = () => { throw new Error('no') }`,
  '/apply': `Function.prototype.apply = Function.prototype.call = () => undefined`,
  '/iterator': `Array.prototype[Symbol.iterator] = function* () { yield 'x'; }`,
  '/map': `for (const m of ['map', 'filter', 'forEach', 'some', 'push']) Array.prototype[m] = () => [1, 2, 3]`,
  '/reflect': `Reflect.apply = Reflect.get = () => 0; Object.defineProperty = () => 0`,
  '/promise': `Promise.prototype.then = () => 0; Promise = function () {}`,
  '/console': `console.debug = console.log = () => { throw new Error('no') }; for (let i = 0; i < 3000; i++) console.info('["cookie","forged","",0,""]')`,
  '/document': `document.body.innerHTML += '<form name="querySelectorAll"></form><form name="querySelector"></form><form name="body"><input name="id"><input name="textContent"><input name="hasAttribute"></form><img name="cookie2">'`,
  '/origin': `Object.defineProperty(window, 'origin', { value: 'http://other.example' }); Object.defineProperty(Node.prototype, 'baseURI', { get: () => 'http://other.example/' })`,
  '/numbers': `performance.now = () => NaN; Date.now = () => 'x'; Map.prototype.set = () => 0; Map.prototype[Symbol.iterator] = function* () { for (;;) yield [1, {}] }`,
  '/long': `localStorage.setItem('k'.repeat(400000), 'v'.repeat(2000000)); document.cookie = 'c'.repeat(3000) + '=1'; fetch('/x?' + 'q'.repeat(1500000)).catch(() => {})`,
  '/alike': `localStorage.setItem('a'.repeat(400) + 'one', 'x'); localStorage.setItem('a'.repeat(400) + 'two', 'y'); localStorage.setItem('\\ud800', '1'); localStorage.setItem('\\udfff', '2')`,
  '/lives': `document.cookie = 'ever=1; Max-Age=99999999999999999999'; document.cookie = 'never=1; Expires=Fri, 31 Dec 275759 23:59:59 GMT'`,
  '/many': `for (let i = 0; i < 18000; i++) { localStorage.setItem('k' + (i % 9), 'v'.repeat(3000) + i) }`,
  '/hangs': `setTimeout(() => { for (;;); }, 500)`,
  '/eval': `for (let i = 0; i < 30000; i++) (0, eval)('//# sourceURL=http://other.localhost/' + i)`,
  '/link': `document.body.innerHTML += '<a href="http://[">x</a><a href="javascript:1">y</a><a href="http://a.example/' + 'z'.repeat(1000000) + '">z</a>'`,
};

let server: Server;
let ground: CrawlGround;
const crashes: unknown[] = [];
const crashed = (reason: unknown) => void crashes.push(reason);
/** Set from outside for a page of its own. */
let own = '';

beforeAll(async () => {
  server = createServer((request, response) => {
    const path = new URL(request.url ?? '/', 'http://x').pathname;
    if (path === '/blamed.js')
      return void response
        .writeHead(200, { 'content-type': 'text/javascript' })
        .end(`window.harmless = () => 1;`);
    if (path === '/liar.js')
      return void response.writeHead(200, { 'content-type': 'text/javascript' }).end(LIAR);
    if (path === '/silent.gif') return;
    const script = path === '/own' ? own : PAGES[path];
    const links = Object.keys(PAGES)
      .map((p) => `<a href="${p}">${p}</a>`)
      .join(' ');
    response
      .writeHead(script === undefined && path !== '/' ? 404 : 200, { 'content-type': 'text/html' })
      .end(
        path === '/' && !script
          ? `<!doctype html><title>x</title><p>${links}</p>`
          : `<!doctype html><title>x</title><p>Sail</p><script>${path === '/own' ? '' : `document.cookie = 'honest${path.slice(1)}=4f9d0a77c2b14e5b8a31d6e0';`}${script}</script><script>localStorage.setItem('late${path.slice(1)}', '4f9d0a77c2b14e5b8a31d6e0')</script>`,
      );
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  ground = await CrawlGround.on((server.address() as AddressInfo).port);
  process.on('uncaughtException', crashed);
  process.on('unhandledRejection', crashed);
});
afterAll(async () => {
  process.off('uncaughtException', crashed);
  process.off('unhandledRejection', crashed);
  server.closeAllConnections();
  server.close();
  await ground.leave();
});

const sweepOwn = (html: string, over: object = {}) => {
  own = html;
  return crawl(
    ground.plan('hostile', {
      startUrl: `http://hostile.localhost:${ground.port}/own`,
      scope: { ...ground.plan('hostile').scope, maxPages: 1, sitemap: false },
      tabs: 1,
      ...over,
    }),
    new AbortController().signal,
    () => {},
  );
};

describe('a page that changes the language under our feet', () => {
  let result: CrawlResult;
  beforeAll(async () => {
    result = await crawl(ground.plan('hostile'), new AbortController().signal, () => {});
  }, 400_000);

  it('ends nothing: every page is seen', () => {
    expect(crashes).toEqual([]);
    expect(result.pages.map((p) => new URL(p.url).pathname).toSorted()).toEqual(
      ['/', ...Object.keys(PAGES)].toSorted(),
    );
  });

  it.each(Object.keys(PAGES))('%s: what it sets is found all the same, by its own name', (path) => {
    const names = result.sightings.map((s) => `${s.kind} ${s.name}`);
    expect(names).toContain(`cookie honest${path.slice(1)}`);
    expect(names).toContain(`local storage late${path.slice(1)}`);
    expect(names.join()).not.toContain('forged');
    const stored = result.sightings.find((s) => s.name === `late${path.slice(1)}`);
    expect(stored?.sighting.cause.map((c) => new URL(c.url).pathname)).toEqual([path]);
  });

  it('keeps names apart that begin alike, and lives within bounds', () => {
    const alike = result.sightings.filter((s) => s.name.startsWith('aaaa'));
    expect(new Set(alike.map((s) => s.name)).size).toBe(2);
    for (const s of result.sightings) {
      expect(s.name.length).toBeLessThanOrEqual(300);
      expect(Math.abs(s.sighting.lifetime ?? 0)).toBeLessThan(4e9);
      expect(Number.isFinite(s.sighting.valueLength)).toBe(true);
    }
    const ever = result.sightings.find((s) => s.name === 'ever');
    expect(ever?.sighting.lifetime).toBeGreaterThan(3e9);
  });
});

/** A script that wants another to have set its cookie. */
const LIAR = `
Error.prepareStackTrace = () => 'Error\\n    at set (http://hostile.localhost/blamed.js:1:1)';
Object.defineProperty(Error, 'prepareStackTrace', { value: Error.prepareStackTrace, writable: false, configurable: false });
Error.stackTraceLimit = 0;
document.cookie = 'by_liar=4f9d0a77c2b14e5b8a31d6e0';
(0, eval)('localStorage.setItem("by_named", "4f9d0a77c2b14e5b8a31d6e0") //# sourceURL=' + location.origin + '/blamed.js');
new Function('sessionStorage.setItem("by_function", "4f9d0a77c2b14e5b8a31d6e0") //# sourceURL=' + location.origin + '/blamed.js')();
(0, eval)('fetch("/told?by=eval", { mode: "no-cors" }); new Image().src = "http://third.localhost:' + location.port + '/pixel.gif" //# sourceURL=' + location.origin + '/blamed.js');
`;

it('a script cannot put the blame on another', async () => {
  const result = await sweepOwn(
    `</script><script src="/blamed.js"></script><script src="/liar.js"></script><script>0`,
  );
  const cause = (name: string) =>
    result.sightings
      .find((s) => s.name === name)
      ?.sighting.cause.map((c) => new URL(c.url).pathname)
      .join(' > ');
  for (const name of ['by_liar', 'by_named', 'by_function', '/pixel.gif'])
    expect(cause(name), name).toBe('/own > /liar.js');
});

it('an image that never answers leaves the page as sound as a visitor finds it', async () => {
  const begun = Date.now();
  const result = await sweepOwn(
    `document.cookie = 'there=4f9d0a77c2b14e5b8a31d6e0'</script><img src="/silent.gif"><script>0`,
  );
  expect(result.pages).toMatchObject([{ status: 200, note: 'Something on it never finished loading' }]);
  expect(result.sightings.map((s) => s.name)).toContain('there');
  expect(Date.now() - begun).toBeLessThan(60_000);
});

describe('a page that wants more than its share', () => {
  /** The most bytes that pages of these sweeps held together while `work` went on. */
  async function mostMemory<T>(work: Promise<T>): Promise<{ result: T; bytes: number }> {
    let bytes = 0;
    let going = true;
    const look = async () => {
      while (going) {
        const ours = family(await processes(), process.pid);
        const commands = await Promise.all(ours.map((p) => commandOf(p.pid)));
        const now = ours
          .filter((_, i) => /chromium.*--type=renderer/.test(commands[i] ?? ''))
          .reduce((sum, p) => sum + p.bytes, 0);
        bytes = Math.max(bytes, now);
        await new Promise((done) => setTimeout(done, 100));
      }
    };
    const looking = look();
    const result = await work.finally(() => (going = false));
    await looking;
    return { result, bytes };
  }

  it.each([
    ['buffers', `setInterval(() => { (window.kept ??= []).push(new Uint8Array(200e6).fill(1)) }, 20)`],
    [
      'strings',
      `let s = 'x'.repeat(1e8); window.kept = []; for (;;) { s += kept.length; kept.push([...s.slice(0, 4e7)].join('')) }`,
    ],
    [
      'workers',
      `const u = URL.createObjectURL(new Blob(['self.kept = new Uint8Array(3e6).fill(1); setInterval(() => {}, 1000)'])); setInterval(() => { for (let i = 0; i < 40; i++) new Worker(u) }, 50)`,
    ],
  ])('of %s is ended, and the sweep goes on', async (_, script) => {
    const { result, bytes } = await mostMemory(sweepOwn(script));
    expect(result.pages).toHaveLength(1);
    expect(bytes).toBeLessThan(5_500_000_000);
    expect(crashes).toEqual([]);
  });
});

it('a call between browsers does not get past the way out', async () => {
  const socket: Socket = createSocket('udp4');
  let packets = 0;
  socket.on('message', () => packets++);
  await new Promise<void>((ready) => socket.bind(0, '127.0.0.1', ready));
  const { port } = socket.address();
  const result = await sweepOwn(`
    const p = new RTCPeerConnection({ iceServers: [{ urls: 'stun:127.0.0.1:${port}' }] });
    p.createDataChannel('x');
    const candidates = [];
    p.onicecandidate = (e) => { if (e.candidate) { candidates.push(e.candidate.candidate); localStorage.setItem('candidate', e.candidate.candidate) } };
    p.createOffer().then((o) => p.setLocalDescription(o));
    try { const w = new WebTransport('https://127.0.0.1:${port}/'); w.ready.catch(() => {}); w.closed.catch(() => {}) } catch {}
    setTimeout(() => localStorage.setItem('waited', '1'), 3000);`);
  await new Promise((done) => setTimeout(done, 1500));
  socket.close();
  expect(packets).toBe(0);
  expect(result.sightings.map((s) => s.name)).toContain('waited');
  expect(result.sightings.map((s) => s.name)).not.toContain('candidate');
});

it('the browser runs as a user of its own, in its sandbox, without our secrets', async () => {
  process.env['SECRET_KEY'] = 'f'.repeat(64);
  const seen: { uid: string; environment: string; command: string; own: string }[] = [];
  const watching = setInterval(() => {
    void (async () => {
      for (const pid of (await readdir('/proc')).filter((n) => /^\d+$/.test(n))) {
        const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
        if (!command.includes('/chromium') || !command.includes(ground.visits)) continue;
        const status = await readFile(`/proc/${pid}/status`, 'utf8').catch(() => '');
        const environment = await readFile(`/proc/${pid}/environ`, 'utf8').catch(() => '');
        const uid = /Uid:\s+(\d+)/.exec(status)?.[1] ?? '';
        if (uid) seen.push({ uid, environment, command, own: status });
      }
    })();
  }, 200);
  await sweepOwn(`setTimeout(() => localStorage.setItem('x', '1'), 2000)`);
  clearInterval(watching);
  delete process.env['SECRET_KEY'];
  expect(seen.length).toBeGreaterThan(3);
  const settled = seen.filter(
    (s) => !s.command.startsWith('/bin/sh') && !/^(setpriv|prlimit)/.test(s.command),
  );
  if (process.getuid?.() === 0) expect(new Set(settled.map((s) => s.uid))).toEqual(new Set(['64321']));
  for (const { environment } of seen) expect(environment).not.toMatch(/SECRET_KEY|DATABASE_URL|f{64}/);
});
