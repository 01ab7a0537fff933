import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WHOLE_SITE } from '../../../src/core/websites/sweeps/scope.ts';
import type { Visitor } from '../../../src/core/websites/trackers/visitor.ts';
import { crawl } from '../../../src/server/websites/crawl/crawl.ts';
import type { CrawlResult } from '../../../src/server/websites/crawl/crawl-plan.ts';
import { CrawlGround } from './crawl-plan.ts';

let server: Server;
let port = 0;
let ground: CrawlGround;

/** A shop with a notice of another make, in German, and a company that loads itself by two scripts. */
const PAGE = (path: string) => `<!doctype html><html lang="de"><head><title>Laden</title></head><body>
<a href="/zwei">zwei</a> <a href="/abmelden">abmelden</a> <a href="/datei.pdf">Datei</a>
<div id="hinweis" hidden><p>Wir verwenden …</p><button id="nein">Alle ablehnen</button><button id="ja">Alle akzeptieren</button></div>
<script>
localStorage.setItem('zuerst', 'gesetzt');
localStorage.benannt = 'als Eigenschaft';
document.cookie = 'vorher=${'x'.repeat(30)}; Path=/';
const wahl = /wahl=(ja|nein)/.exec(document.cookie)?.[1];
const laden = () => { const s = document.createElement('script'); s.src = '//eins.localhost:${'PORT'}/eins.js'; document.head.append(s); };
if (!wahl) hinweis.hidden = false;
if (wahl === 'ja') laden();
ja.onclick = () => { document.cookie = 'wahl=ja; Path=/; Max-Age=9999'; hinweis.hidden = true; laden(); };
nein.onclick = () => { document.cookie = 'wahl=nein; Path=/; Max-Age=9999'; hinweis.hidden = true; };
window.open('/neu?' + Math.random());
</script>${path === '/' ? '<iframe src="//rahmen.localhost:PORT/rahmen"></iframe>' : ''}</body></html>`;

beforeAll(async () => {
  server = createServer((request, response) => {
    const url = new URL(request.url ?? '/', `http://${request.headers.host}`);
    const send = (type: string, body: string, headers: Record<string, string> = {}) =>
      response
        .writeHead(200, { 'content-type': type, ...headers })
        .end(body.replaceAll('PORT', String(port)));
    if (url.hostname === 'eins.localhost' && url.pathname === '/eins.js')
      return send(
        'text/javascript',
        `\n\nconst s = document.createElement('script'); s.src = '//zwei.localhost:PORT/zwei.js'; document.head.append(s);`,
      );
    if (url.hostname === 'zwei.localhost' && url.pathname === '/zwei.js')
      return send(
        'text/javascript',
        `fetch('//zwei.localhost:PORT/sammeln', { mode: 'no-cors', credentials: 'include' }); sessionStorage.setItem('zaehler_12345678', '1');`,
      );
    if (url.hostname === 'zwei.localhost')
      return send('text/plain', '', {
        'set-cookie': 'kennung=4f9d0a77c2b14e5b8a31d6e0; Max-Age=31536000; Path=/; SameSite=None; Secure',
      });
    if (url.hostname === 'rahmen.localhost')
      return send('text/html', `<script>localStorage.setItem('im_rahmen', '1')</script>`);
    if (url.pathname === '/sitemap.xml')
      return send(
        'application/xml',
        `<urlset><url><loc>http://laden.localhost:PORT/nur-in-der-karte</loc></url><url><loc>http://fremd.localhost:PORT/</loc></url></urlset>`,
      );
    return send('text/html; charset=utf-8', PAGE(url.pathname));
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  port = (server.address() as AddressInfo).port;
  ground = await CrawlGround.on(port);
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await ground.leave();
});

const sweep = (visitor: Visitor, signal = new AbortController().signal): Promise<CrawlResult> =>
  crawl(
    ground.plan('laden', { visitor, region: 'DE', scope: { ...WHOLE_SITE, maxPages: 10 } }),
    signal,
    () => {},
  );
const names = (r: CrawlResult) => r.sightings.map((s) => `${s.kind} ${s.name}`).toSorted();

describe('a visitor of a site with a notice of another make', () => {
  it('before any choice sees what runs at once, in frames too, and follows links and sitemap but no way out', async () => {
    const result = await sweep('before');
    expect(result.pages.map((p) => new URL(p.url).pathname).toSorted()).toEqual([
      '/',
      '/nur-in-der-karte',
      '/zwei',
    ]);
    expect(names(result)).toEqual([
      'cookie vorher',
      'local storage benannt',
      'local storage im_rahmen',
      'local storage zuerst',
      'request /rahmen',
    ]);
    expect(result.sightings.find((s) => s.name === 'im_rahmen')).toMatchObject({
      host: 'rahmen.localhost',
      sighting: { party: 'third', cause: [{ what: 'page' }, { what: 'frame' }] },
    });
    expect(result.sightings.find((s) => s.name === 'zuerst')?.sighting.pages).toBe(3);
  });

  it('refuses by the button that says so, and what stood before and came back is still told', async () => {
    const result = await sweep('refused');
    expect(result.operated).toBe('another notice, “alle ablehnen”');
    expect(names(result)).toEqual([
      'cookie vorher',
      'cookie wahl',
      'local storage benannt',
      'local storage im_rahmen',
      'local storage zuerst',
      'request /rahmen',
    ]);
  });

  it('accepts, and the whole chain to what was set is told, with lines', async () => {
    const result = await sweep('accepted');
    expect(result.operated).toBe('another notice, “alle akzeptieren”');
    const kennung = result.sightings.find((s) => s.name === 'kennung');
    expect(kennung).toMatchObject({
      kind: 'cookie',
      host: 'zwei.localhost',
      sighting: { party: 'third', setBy: 'http', lifetime: expect.closeTo(31_536_000, -2), pages: 3 },
    });
    expect(kennung?.sighting.cause.map((c) => [c.what, new URL(c.url).hostname.split('.')[0]])).toEqual([
      ['page', 'laden'],
      ['script', 'eins'],
      ['script', 'zwei'],
      ['response', 'zwei'],
    ]);
    expect(kennung?.sighting.cause[1]?.line).toBe(3);
    expect(names(result)).toEqual(
      expect.arrayContaining([
        'session storage zaehler_*',
        'request /sammeln',
        'request /eins.js',
        'request /zwei.js',
      ]),
    );
  });

  it('is called off at once, keeps what there is, and leaves nothing behind', async () => {
    const abort = new AbortController();
    setTimeout(() => abort.abort('cancelled'), 1500);
    const begun = Date.now();
    const result = await sweep('before', abort.signal);
    expect(Date.now() - begun).toBeLessThan(60_000);
    expect(result.visitor).toBe('before');
    expect(await ground.leftVisits()).toEqual([]);
  });
});
