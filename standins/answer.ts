import type { IncomingMessage, ServerResponse } from 'node:http';

export function send(response: ServerResponse, type: string, body: string | Buffer, status = 200): void {
  response.writeHead(status, { 'content-type': type, 'cache-control': 'no-store' });
  response.end(body);
}

/** What was sent. Throws an Error for more than `most` bytes. */
export async function readBody(request: IncomingMessage, most: number): Promise<Buffer> {
  const parts: Buffer[] = [];
  let length = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    length += part.length;
    if (length > most) throw new Error('That is more than this takes.');
    parts.push(part);
  }
  return Buffer.concat(parts);
}
