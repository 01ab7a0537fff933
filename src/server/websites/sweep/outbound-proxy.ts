import {
  Agent,
  createServer,
  request as httpRequest,
  type IncomingMessage,
  type Server,
  type ServerResponse,
} from 'node:http';
import { connect, type AddressInfo, type Socket } from 'node:net';
import type { Duplex } from 'node:stream';
import { destination, type DestinationRules } from './allowed-destination.ts';

const WORKERS = /^(worker|sharedworker|serviceworker)$/;
const WORKER_WAIT_MS = 120;

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
    this.#server = createServer((request, response) => void this.#forward(request, response));
    this.#server.on(
      'connect',
      (request: IncomingMessage, socket: Duplex, head: Buffer) => void this.#tunnel(request, socket, head),
    );
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
    const port = Number(url.port || 80);
    const to = await destination(url.hostname, port, this.rules);
    if ('refused' in to) {
      this.refused.set(url.host, to.refused);
      return refuse(response, to.refused);
    }
    const { 'proxy-connection': _hop, ...headers } = request.headers;
    const outgoing = httpRequest(
      {
        host: to.address,
        port,
        method: request.method,
        path: url.pathname + url.search,
        headers: { ...headers, host: url.host },
        agent: this.#agent,
        setHost: false,
      },
      (answer) => {
        response.writeHead(answer.statusCode ?? 502, answer.rawHeaders);
        const pass = () => {
          let bytes = 0;
          answer.on('data', (chunk: Buffer) => {
            bytes += chunk.length;
            if (bytes <= this.mostBytes) return;
            this.cut.add(url.href);
            answer.destroy();
            response.destroy();
          });
          answer.pipe(response);
        };
        answer.on('error', () => response.destroy());
        // A worker begins with its script's first byte: by then it has to be watched.
        if (WORKERS.test(String(request.headers['sec-fetch-dest'] ?? ''))) {
          response.flushHeaders();
          setTimeout(pass, WORKER_WAIT_MS);
        } else pass();
      },
    );
    outgoing.on('error', () =>
      response.headersSent ? response.destroy() : refuse(response, 'no answer', 502),
    );
    response.on('close', () => outgoing.destroy());
    request.pipe(outgoing);
  }

  async #tunnel(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    socket.on('error', () => socket.destroy());
    const [host, port] = splitAuthority(request.url ?? '');
    const to = await destination(host, port, this.rules);
    if ('refused' in to) {
      this.refused.set(request.url ?? '', to.refused);
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
      this.cut.add(request.url ?? '');
      out.destroy();
      socket.destroy();
    });
    out.on('error', () => socket.destroy());
    out.on('close', () => socket.destroy());
    socket.on('close', () => out.destroy());
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
