import { vi } from 'vitest';

export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

export interface StandInServer {
  readonly asked: Asked[];
  /** By method and path without its query; one with an `error` is a refusal. What is not named is answered `{ done: true }`. */
  readonly answers: Record<string, unknown>;
}

/** Stands in for the server of a part that is tested alone, until globals are unstubbed. */
export function standInForServer(): StandInServer {
  const server: StandInServer = { asked: [], answers: {} };
  vi.stubGlobal('fetch', async (input: string | URL, init: RequestInit = {}) => {
    const method = init.method ?? 'GET';
    const { pathname } = new URL(String(input), 'http://desk.example');
    server.asked.push({
      method,
      path: pathname,
      body: init.body ? JSON.parse(String(init.body)) : undefined,
    });
    const answer = server.answers[`${method} ${pathname}`] ?? { done: true };
    const refused = typeof answer === 'object' && answer !== null && 'error' in answer;
    return new Response(JSON.stringify(answer), {
      status: refused ? 400 : 200,
      headers: { 'content-type': 'application/json' },
    });
  });
  return server;
}
