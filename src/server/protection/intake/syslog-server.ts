import { createServer, type Server, type TLSSocket } from 'node:tls';
import { TOLD_KINDS } from '../../../core/protection/activity/event.ts';
import { fromSyslog, OctetFrames } from '../../../core/protection/intake/syslog.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { programOf } from '../../accounts/programs/program.ts';
import type { Context } from '../../context.ts';
import { logFailure } from '../../processes/failure-log.ts';
import { takeEvents } from '../activity/take-events.ts';
import { eventIdOf } from './event-id.ts';

const MOST_OCTETS = 64 * 1024;
const MOST_CONNECTIONS = 200;
const IDLE_MS = 10 * 60_000;
const AT_ONCE = 500;
/** What waits longer is not gathered further. */
const GATHER_MS = 200;
/** Nobody reads on while so many wait to be committed. */
const MOST_BEHIND = 5000;

export interface SyslogCounts {
  taken: number;
  refused: number;
}

/**
 * Takes acts by syslog: messages of RFC 5424 over TLS as RFC 5425 frames them, each with the token of a program. Syslog
 * acknowledges nothing: what is read before a death may be lost, and a sender that must not lose uses HTTPS.
 */
export class SyslogServer {
  readonly #server: Server;
  readonly counts: SyslogCounts = { taken: 0, refused: 0 };
  #waiting: string[] = [];
  /** Those that are being committed included. */
  #behind = 0;
  #timer: NodeJS.Timeout | undefined;
  #turn: Promise<void> = Promise.resolve();
  readonly #sockets = new Set<TLSSocket>();

  constructor(
    readonly ctx: Context,
    tls: { readonly cert: string; readonly key: string },
  ) {
    this.#server = createServer({ ...tls, minVersion: 'TLSv1.2' }, (socket) => this.#serve(socket));
    this.#server.maxConnections = MOST_CONNECTIONS;
    // A handshake that fails is the sender's.
    this.#server.on('tlsClientError', () => {});
  }

  async start(port: number, host: string): Promise<void> {
    await new Promise<void>((ready, failed) => {
      this.#server.once('error', failed);
      this.#server.listen(port, host, ready);
    });
  }

  async close(): Promise<void> {
    const closed = new Promise<void>((done) => this.#server.close(() => done()));
    for (const socket of this.#sockets) socket.destroy();
    await closed;
    await this.flush();
  }

  #serve(socket: TLSSocket): void {
    const frames = new OctetFrames(MOST_OCTETS);
    this.#sockets.add(socket);
    socket.setTimeout(IDLE_MS, () => socket.destroy());
    socket.on('error', () => {});
    socket.on('close', () => this.#sockets.delete(socket));
    socket.on('data', (bytes) => {
      let messages: readonly string[];
      try {
        messages = frames.add(bytes);
      } catch {
        this.counts.refused++;
        socket.destroy();
        return;
      }
      this.#waiting.push(...messages);
      this.#behind += messages.length;
      if (this.#waiting.length >= AT_ONCE) void this.flush();
      else this.#timer ??= setTimeout(() => void this.flush(), GATHER_MS);
      if (this.#behind < MOST_BEHIND) return;
      socket.pause();
      void this.flush().then(() => socket.resume());
    });
  }

  /** Commits what was read so far. */
  flush(): Promise<void> {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    const messages = this.#waiting;
    this.#waiting = [];
    if (messages.length > 0)
      this.#turn = this.#turn
        .then(() => this.#take(messages))
        .catch((error: unknown) => logFailure('syslog was not taken', error, { messages: messages.length }))
        .finally(() => (this.#behind -= messages.length));
    return this.#turn;
  }

  async #take(messages: readonly string[]): Promise<void> {
    const byToken = new Map<string, string[]>();
    for (const message of messages) {
      const read = fromSyslog(message);
      if ('why' in read) {
        this.counts.refused++;
        continue;
      }
      const id = read.id ?? eventIdOf('syslog', message);
      const lines = byToken.get(read.token) ?? [];
      byToken.set(read.token, lines);
      lines.push(JSON.stringify({ id, ...read.event }));
    }
    for (const [token, lines] of byToken) {
      if (!(await this.#mayTell(token))) {
        this.counts.refused += lines.length;
        continue;
      }
      const teller = { kinds: TOLD_KINDS, device: 0, aheadMs: 0 };
      const { taken, refused } = await takeEvents(this.ctx, teller, lines.join('\n'));
      this.counts.taken += taken;
      this.counts.refused += refused.length;
    }
  }

  async #mayTell(token: string): Promise<boolean> {
    try {
      await programOf(this.ctx.store, this.ctx.now(), `Bearer ${token}`, 'activity');
      return true;
    } catch (error) {
      if (error instanceof RefusedError) return false;
      throw error;
    }
  }
}
