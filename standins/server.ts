import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { send } from './answer.ts';
import { archiveStore, STORE_HOST } from './archive-store.ts';
import { OFFICE_HOST, type office } from './office/office.ts';
import { DEVICE_HOST, type device } from './device/device.ts';
import { DIRECTORY_HOST, type directory } from './directory/directory.ts';
import { LIBRARY_HOST, type library } from './library/library.ts';
import type { login } from './login/login.ts';
import { LOGIN_HOST } from './login/people.ts';
import { MAILING_HOST, type Mailing } from './mailing.ts';
import { MAILBOX_HOST, type Mailbox } from './mailbox.ts';
import { MODELS_HOST, modelCatalogue } from './models/model-catalogue.ts';
import { thirdParties } from './third-parties.ts';
import { SITES } from './sites.ts';
import { straitPost } from './strait-post/strait-post.ts';
import { TagBoard } from './tag-board.ts';
import { renderPage, sitemap } from './page.ts';

export interface StandinOptions {
  readonly port: number;
  readonly visitorOrigin: string;
  /** Keeps what the web team set on the tag boards. */
  readonly dataDir: string;
  /** An editor and a mail composer, at `office.localhost`. */
  readonly office?: ReturnType<typeof office>;
  /** An employee’s computer, at `device.localhost`. */
  readonly device?: ReturnType<typeof device>;
  /** People and groups, at `directory.localhost`. */
  readonly directory?: ReturnType<typeof directory>;
  /** Who may do what in the shares, at `library.localhost`. */
  readonly library?: ReturnType<typeof library>;
  /** Where people sign on, at `login.localhost`. */
  readonly login?: ReturnType<typeof login>;
  /** Shown at `mailbox.localhost`. */
  readonly mailbox?: Mailbox;
  /** Is told how people stand, at `mailing.localhost`. */
  readonly mailing?: Mailing;
  /** Keys of the sites as the desk gave them, by host without port; asked at each page, since the desk may start later. */
  readonly siteKeys: () => Readonly<Record<string, string>>;
}

/** The simulated outside: the ferry line's websites and the companies they use, all on one port, by host. */
export function startStandins(options: StandinOptions): Promise<Server> {
  const board = new TagBoard(options.dataDir);
  const store = archiveStore(options.dataDir);
  const post = straitPost();
  const server = createServer((request, response) => {
    answer(request, response, options, board, store, post).catch(() => {
      if (!response.headersSent) response.writeHead(500);
      response.end();
    });
  });
  // Chat asks for a socket; nobody is there to talk to.
  server.on('upgrade', (_request, socket) => socket.end('HTTP/1.1 503 Service Unavailable\r\n\r\n'));
  return new Promise((ready, failed) => {
    server.once('error', failed);
    server.listen(options.port, '127.0.0.1', () => ready(server));
  });
}

async function answer(
  request: IncomingMessage,
  response: ServerResponse,
  options: StandinOptions,
  board: TagBoard,
  store: ReturnType<typeof archiveStore>,
  post: ReturnType<typeof straitPost>,
): Promise<void> {
  const url = new URL(request.url ?? '/', `http://${request.headers.host ?? 'localhost'}`);
  if (url.pathname === '/healthz') return send(response, 'text/plain', 'ok');
  if (url.hostname === STORE_HOST) return store(request, response, url);
  if (url.hostname === MAILBOX_HOST && options.mailbox) return options.mailbox.answer(response, url.pathname);
  if (url.hostname === MAILING_HOST && options.mailing) return options.mailing.answer(request, response, url);
  if (url.hostname === OFFICE_HOST && options.office) return options.office(request, response, url);
  if (url.hostname === DEVICE_HOST && options.device) return options.device(request, response, url);
  if (url.hostname === DIRECTORY_HOST && options.directory) return options.directory(request, response, url);
  if (url.hostname === LIBRARY_HOST && options.library) return options.library(request, response, url);
  if (url.hostname === LOGIN_HOST && options.login) return options.login(request, response);
  if (url.hostname === MODELS_HOST) return modelCatalogue(response, url);
  const ofPost = post(url.hostname);
  if (ofPost) return ofPost(request, response, url);
  const third = thirdParties(url.hostname);
  if (third) return third(request, response, url);
  const site = SITES.find((s) => s.host === url.hostname);
  if (!site) return send(response, 'text/plain', 'No stand-in has this name.', 404);
  if (url.pathname === '/sitemap.xml') return send(response, 'application/xml', sitemap(site, url.origin));
  if (url.pathname === '/-/tags') return board.answer(request, response, site);
  if (url.pathname === '/site.js') return send(response, 'text/javascript', site.script);
  if (url.pathname === '/offline.js' && site.worker) return send(response, 'text/javascript', site.worker);
  if (url.pathname === '/site.css') return send(response, 'text/css', STYLE);
  if (!/(?:^|; )[a-z]+_s(?:ession|id)=/.test(request.headers.cookie ?? ''))
    response.setHeader(
      'set-cookie',
      `${site.sessionCookie}=${crypto.randomUUID().replaceAll('-', '')}; Path=/; HttpOnly; SameSite=Lax`,
    );
  const page = site.pages.find((p) => p.path === url.pathname);
  if (!page)
    return send(
      response,
      'text/html; charset=utf-8',
      '<!doctype html><title>Not found</title><h1>Not found</h1>',
      404,
    );
  for (const [name, value] of Object.entries(site.headers?.(page) ?? {})) response.setHeader(name, value);
  const html = renderPage(site, page, {
    port: url.port,
    snippet: board.isInstalled(site) ? options.siteKeys()[site.host] : undefined,
    visitorOrigin: options.visitorOrigin,
    held: board.heldOf(site),
  });
  return send(response, 'text/html; charset=utf-8', html);
}

const STYLE = `body{font:16px/1.5 sans-serif;margin:0;color:#1b2a33}header{background:#0f3b57;color:#fff;padding:1rem 2rem}header a{color:#fff;margin-right:1rem}main{max-width:50rem;margin:2rem auto;padding:0 1rem}footer{padding:2rem;background:#eef2f4}.map,.video{width:100%;height:220px;border:0;background:#dde6ea}`;
