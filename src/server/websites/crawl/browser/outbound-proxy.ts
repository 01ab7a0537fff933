import {
  Agent,
  request as httpRequest,
  type IncomingMessage,
  type Server,
  type ServerResponse,
} from 'node:http';
import { connect, type AddressInfo, type Socket } from 'node:net';
import type { Duplex } from 'node:stream';
import { logFailure } from '../../../processes/failure-log.ts';
import { guardedServer } from '../../../processes/guarded-server.ts';
import { destination, type DestinationRules } from '../../../http/allowed-destination.ts';
import { headersToPass, requestHeaders, statusToPass } from './passed-on.ts';

const WORKERS = /^(worker|sharedworker|serviceworker)$/;
const WORKER_WAIT_MS = 120;
/** Asking twice does no more than asking once (RFC 9110, section 9.2.2). */
const REPEATABLE = new Set(['GET', 'HEAD', 'OPTIONS']);
/** The browser on the other side is ours; what it is made to send is not. */
const PATIENCE = { headMs: 20_000, wholeMs: 60_000 };
/** A server that says nothing for so long says nothing. */
const SILENCE_MS = 60_000;
const MOST_TOLD = 1000;
const MOST_NAME = 300;
/** What the proxy says of a server that closed the line without an answer, in `x-yare-refused`. */
export const NO_ANSWER = 'no answer';

/**
 * The only way out for a sweeping browser: a forward proxy on loopback that checks where each request goes and cuts
 * what is too large. One a sweep.
 */
export class OutboundProxy {
  readonly #server: Server;
  readonly #sockets = new Set<Duplex>();
  readonly #agent = new Agent({ keepAlive: true, maxSockets: 32 });
  /** `host: why`, for the sweep's notes. */
  readonly refused = new Map<string, string>();
  readonly cut = new Set<string>();

  constructor(
    readonly rules: DestinationRules,
    /** Bytes of one response, or of one tunnel. */
    readonly mostBytes: number,
  ) {
    this.#server = guardedServer('the way out of a sweep', PATIENCE, (request, response) =>
      this.#forward(request, response),
    );
    this.#server.on('connect', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      socket.on('error', () => socket.destroy());
      this.#tunnel(request, socket, head).catch((error: unknown) => {
        logFailure('the way out of a sweep could not open a tunnel', error);
        socket.destroy();
      });
    });
    this.#server.on('connection', (socket) => this.#keep(socket));
  }

  async listen(): Promise<string> {
    await new Promise<void>((ready) => this.#server.listen(0, '127.0.0.1', ready));
    return `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}`;
  }

  async close(): Promise<void> {
    for (const socket of this.#sockets) socket.destroy();
    this.#agent.destroy();
    await new Promise((closed) => this.#server.close(closed));
  }

  async #forward(request: IncomingMessage, response: ServerResponse): Promise<void> {
    let url: URL;
    try {
      url = new URL(request.url ?? '');
    } catch {
      return refuse(response, 'not a proxied request');
    }
    if (url.protocol !== 'http:') return refuse(response, 'not a proxied request');
    const to = await destination(url.hostname, Number(url.port || 80), this.rules);
    if ('refused' in to) {
      this.#refuse(url.host, to.refused);
      return refuse(response, to.refused);
    }
    this.#ask(request, response, url, to.address, this.#agent);
  }

  #ask(
    request: IncomingMessage,
    response: ServerResponse,
    url: URL,
    address: string,
    agent: Agent | false,
  ): void {
    const outgoing = httpRequest({
      host: address,
      port: Number(url.port || 80),
      method: request.method,
      path: url.pathname + url.search,
      headers: { ...requestHeaders(request.headers), host: url.host },
      agent,
      setHost: false,
    });
    outgoing.on('response', (answer) => {
      try {
        this.#answer(request, response, answer, url);
      } catch (error) {
        // Whatever a server says, it is its own answer alone that is lost.
        logFailure('an answer to a sweep could not be passed on', error);
        answer.destroy();
        response.destroy();
      }
    });
    // A browser that goes by a proxy asks for another protocol through a tunnel only.
    outgoing.on('upgrade', (_answer, socket) => {
      socket.destroy();
      if (!response.headersSent) refuse(response, 'switches to a protocol that nobody asked for', 502);
    });
    outgoing.on('error', () => {
      if (response.headersSent) return void response.destroy();
      // A line that was kept open may have been closed just then: as a browser does, it is asked once more.
      if (outgoing.reusedSocket && REPEATABLE.has(request.method ?? '') && !response.destroyed)
        return this.#ask(request, response, url, address, false);
      refuse(response, NO_ANSWER, 502);
    });
    outgoing.setTimeout(SILENCE_MS, () => outgoing.destroy(new Error('no answer in time')));
    response.on('close', () => outgoing.destroy());
    if (REPEATABLE.has(request.method ?? '')) outgoing.end();
    else request.pipe(outgoing);
  }

  #answer(request: IncomingMessage, response: ServerResponse, answer: IncomingMessage, url: URL): void {
    answer.on('error', () => response.destroy());
    response.writeHead(statusToPass(answer.statusCode), headersToPass(answer.rawHeaders));
    const pass = () => {
      let bytes = 0;
      answer.on('data', (chunk: Buffer) => {
        bytes += chunk.length;
        if (bytes <= this.mostBytes) return;
        this.#cut(url.href);
        answer.destroy();
        response.destroy();
      });
      answer.pipe(response);
    };
    // A worker begins with its script's first byte: by then it has to be watched.
    if (WORKERS.test(String(request.headers['sec-fetch-dest'] ?? ''))) {
      response.flushHeaders();
      setTimeout(pass, WORKER_WAIT_MS);
    } else pass();
  }

  async #tunnel(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const authority = (request.url ?? '').slice(0, MOST_NAME);
    const [host, port] = splitAuthority(authority);
    const to = port > 65_535 ? { refused: 'no such port' } : await destination(host, port, this.rules);
    if (socket.destroyed) return;
    if ('refused' in to) {
      this.#refuse(authority, to.refused);
      socket.end('HTTP/1.1 403 Forbidden\r\n\r\n');
      return;
    }
    const out = connect(port, to.address, () => {
      socket.write('HTTP/1.1 200 Connection Established\r\n\r\n');
      if (head.length) out.write(head);
      out.pipe(socket);
      socket.pipe(out);
    });
    this.#keep(out);
    let bytes = 0;
    out.on('data', (chunk: Buffer) => {
      bytes += chunk.length;
      if (bytes <= this.mostBytes) return;
      this.#cut(authority);
      out.destroy();
      socket.destroy();
    });
    out.on('error', () => socket.destroy());
    out.on('close', () => socket.destroy());
    socket.on('close', () => out.destroy());
  }

  #refuse(host: string, why: string): void {
    if (this.refused.size < MOST_TOLD) this.refused.set(host.slice(0, MOST_NAME), why);
  }

  #cut(address: string): void {
    if (this.cut.size < MOST_TOLD) this.cut.add(address);
  }

  #keep(socket: Duplex | Socket): void {
    this.#sockets.add(socket);
    socket.on('close', () => this.#sockets.delete(socket));
  }
}

function refuse(response: ServerResponse, why: string, status = 403): void {
  response.writeHead(status, {
    'content-type': 'text/plain',
    'x-yare-refused': why.replace(/[^\x20-\x7e]/g, '?'),
  });
  response.end();
}

function splitAuthority(authority: string): [string, number] {
  const at = authority.lastIndexOf(':');
  return [authority.slice(0, at), Number(authority.slice(at + 1)) || 443];
}
