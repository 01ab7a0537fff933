import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';

/** A small website of the test's own, with another company on it, and a hostile one beside them. */
export class OwnSite {
  readonly #server: Server;
  port = 0;
  /** The notice's line, once the web team has put it in. */
  snippet = '';
  /** Whether the counting tag waits for Measurement. */
  held = false;
  /** Requests that reached the other company, by path. */
  readonly reached: string[] = [];
  /** Milliseconds each page takes to answer. */
  slow = 0;

  constructor() {
    this.#server = createServer((request, response) => void this.#answer(request, response));
  }

  async start(): Promise<void> {
    await new Promise<void>((ready) => this.#server.listen(0, '127.0.0.1', ready));
    this.port = (this.#server.address() as AddressInfo).port;
  }

  stop(): void {
    this.#server.closeAllConnections();
    this.#server.close();
  }

  get host(): string {
    return `harbour.localhost:${this.port}`;
  }

  async #answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const url = new URL(request.url ?? '/', `http://${request.headers.host}`);
    if (url.hostname === 'tally.localhost') return this.#tally(url, response);
    if (url.hostname === 'hostile.localhost') return this.#hostile(url, response);
    if (this.slow) await new Promise((done) => setTimeout(done, this.slow));
    if (url.pathname === '/sitemap.xml') {
      response.writeHead(404).end();
      return;
    }
    const pages = ['/', '/fish', '/boats', '/boats/red', '/contact'];
    if (!pages.includes(url.pathname)) {
      response.writeHead(404, { 'content-type': 'text/html' }).end('<h1>Not here</h1>');
      return;
    }
    const tag = `src="//tally.localhost:${this.port}/count.js"`;
    response.writeHead(200, {
      'content-type': 'text/html; charset=utf-8',
      'set-cookie': [
        'harbour_session=4f9d0a77c2b14e5b8a31d6e0; Path=/; HttpOnly',
        '+1+1|calc=1; Path=/',
        '<script>alert(1)</script>=1; Path=/',
      ],
    });
    response.end(`<!doctype html><html lang="en"><head><title>Harbour of Test</title>
${this.snippet}
<script ${this.held ? 'type="text/plain" data-yare-purpose="measurement" ' : ''}${tag}></script>
<script type="text/plain" data-yare-purpose="advertising" src="//tally.localhost:${this.port}/ads.js"></script>
</head><body><h1>${url.pathname}</h1>${pages.map((p) => `<a href="${p}">${p}</a>`).join(' ')}
${url.pathname === '/contact' ? '' : '<button type="button" data-yare-open>Privacy choice</button>'}</body></html>`);
  }

  #tally(url: URL, response: ServerResponse): void {
    this.reached.push(url.pathname);
    const cookie = {
      'set-cookie': 'tally_visitor=9c1f2ab47de0553188ffab; Max-Age=33696000; Path=/; SameSite=None; Secure',
    };
    if (url.pathname === '/count.js')
      response
        .writeHead(200, { 'content-type': 'text/javascript' })
        .end(
          `localStorage.setItem('tally_buffer', '1');new Image().src = '//${url.host}/hit.gif?page=' + location.pathname;`,
        );
    else if (url.pathname === '/ads.js')
      response
        .writeHead(200, { 'content-type': 'text/javascript' })
        .end(`new Image().src = '//${url.host}/adsync.gif';`);
    else
      response
        .writeHead(200, { 'content-type': 'image/gif', ...cookie })
        .end(Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64'));
  }

  #hostile(url: URL, response: ServerResponse): void {
    const html = (body: string) =>
      response
        .writeHead(200, { 'content-type': 'text/html' })
        .end(`<!doctype html><title>Hostile</title>${body}`);
    switch (url.pathname) {
      case '/never':
        return;
      case '/circle':
        response.writeHead(302, { location: '/circle2' }).end();
        return;
      case '/circle2':
        response.writeHead(302, { location: '/circle' }).end();
        return;
      case '/huge': {
        response.writeHead(200, { 'content-type': 'text/html', 'content-length': 1024 ** 3 });
        const chunk = Buffer.alloc(1024 * 1024, 'a');
        const more = () => {
          while (!response.destroyed && response.write(chunk));
          if (!response.destroyed) response.once('drain', more);
        };
        more();
        return;
      }
      case '/dialogs':
        html(
          '<script>for (let i = 0; i < 3; i++) alert(i); onbeforeunload = () => "stay"; confirm("?"); print && 0;</script>',
        );
        return;
      case '/restless':
        html('<script>setInterval(() => fetch("/tick?" + Math.random()), 15)</script>');
        return;
      case '/download':
        response
          .writeHead(200, {
            'content-type': 'application/octet-stream',
            'content-disposition': 'attachment; filename="x.exe"',
          })
          .end('MZ');
        return;
      case '/tick':
        // Slower than they are asked for, so that one is under way on a slow machine too.
        setTimeout(() => response.writeHead(204).end(), 150);
        return;
      default: {
        const n = Number(/^\/more\/(\d+)$/.exec(url.pathname)?.[1] ?? 0);
        html(
          [
            '/dialogs',
            '/restless',
            '/circle',
            '/huge',
            '/download',
            '/never',
            `/more/${n + 1}`,
            `/more/${n + 2}`,
          ]
            .map((p) => `<a href="${p}">${p}</a>`)
            .join(' '),
        );
      }
    }
  }
}
