import type { ServerResponse } from 'node:http';

export function send(response: ServerResponse, type: string, body: string | Buffer, status = 200): void {
  response.writeHead(status, { 'content-type': type, 'cache-control': 'no-store' });
  response.end(body);
}
