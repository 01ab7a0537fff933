import type { IncomingMessage, ServerResponse } from 'node:http';
import { createServer, type Server } from 'node:https';
import { send } from './answer.ts';
import { standinCertificate } from './certificate.ts';
import { cloudStores } from './cloud-stores.ts';

/** Where a made-up company lists the stores of the ferry line's account. */
export const CLOUD_HOST = 'cloud.localhost';
export const CLOUD_KEY = 'lists-made-up-stores-and-nothing-else';

const PAGE = 100;

export function cloudUrl(port: number): string {
  return `https://${CLOUD_HOST}:${port}/stores`;
}

export interface CloudOptions {
  readonly dataDir: string;
  /** To listen on; 0 for any that is free. */
  readonly port: number;
  /** Where the stand-in object store is. */
  readonly storePort: number;
}

/** Lists the stores of a made-up account in pages, by HTTPS, to whoever has its key. */
export async function startCloudListing({ dataDir, port, storePort }: CloudOptions): Promise<Server> {
  const server = createServer(await standinCertificate(dataDir, [CLOUD_HOST]), (request, response) =>
    answer(request, response, storePort),
  );
  await new Promise<void>((ready, failed) => {
    server.once('error', failed);
    server.listen(port, '127.0.0.1', ready);
  });
  return server;
}

function answer(request: IncomingMessage, response: ServerResponse, storePort: number): void {
  const url = new URL(request.url ?? '/', `https://${CLOUD_HOST}`);
  if (request.headers.authorization !== `Bearer ${CLOUD_KEY}`)
    return send(response, 'application/json', '{"error":"This key opens nothing."}', 401);
  if (url.pathname !== '/stores') return send(response, 'application/json', '{"error":"Nothing here."}', 404);
  const all = cloudStores(storePort, 'now');
  const from = Number(url.searchParams.get('from') ?? 0);
  const next = from + PAGE < all.length ? `/stores?from=${from + PAGE}` : undefined;
  send(response, 'application/json', JSON.stringify({ stores: all.slice(from, from + PAGE), next }));
}
