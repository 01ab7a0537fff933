import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { logFailure } from './failure-log.ts';

export type Answer = (request: IncomingMessage, response: ServerResponse) => void | Promise<void>;

export interface Patience {
  /** Milliseconds until the head of a request must be here, and until the whole of it. */
  readonly headMs: number;
  readonly wholeMs: number;
}

/**
 * A server in which no request can end the process: what `answer` throws or rejects is logged and answered with 500, or
 * with a broken connection once part of an answer is out. Whoever sends slowly is cut.
 */
export function guardedServer(name: string, patience: Patience, answer: Answer): Server {
  const server = createServer({ connectionsCheckingInterval: 1000 }, (request, response) => {
    // Without a listener a broken connection would be thrown.
    request.on('error', () => {});
    response.on('error', () => {});
    void guarded(name, answer, request, response);
  });
  server.headersTimeout = patience.headMs;
  server.requestTimeout = patience.wholeMs;
  return server;
}

/** Cuts a request whose body is not here in time, where less patience will do than the server has for others. */
export function cutSlowBody(request: IncomingMessage, ms: number): void {
  const timer = setTimeout(() => {
    if (!request.complete) request.destroy();
  }, ms);
  request.once('close', () => clearTimeout(timer));
}

async function guarded(
  name: string,
  answer: Answer,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  try {
    await answer(request, response);
  } catch (error) {
    logFailure(`${name} could not answer`, error, { method: request.method });
    if (response.headersSent || response.writableEnded) return void response.destroy();
    response.writeHead(500, { 'content-type': 'text/plain; charset=utf-8', connection: 'close' });
    response.end('Something went wrong on our side. Nothing of this was changed.');
  }
}

/**
 * What no callback caught is logged, and the process goes on: whatever a stranger can throw into one request must not
 * take the others with it. To be called once everything is up; before that, an error should end the start.
 */
export function surviveErrors(name: string): void {
  process.on('uncaughtException', (error) => logFailure(`${name}: nobody caught an error`, error));
  process.on('unhandledRejection', (reason) => logFailure(`${name}: nobody caught a rejection`, reason));
}
