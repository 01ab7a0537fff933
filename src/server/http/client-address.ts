import type { IncomingMessage } from 'node:http';
import type { Settings } from '../settings.ts';

/** The address a request came from; behind a trusted proxy, the last one it adds to X-Forwarded-For. */
export function clientAddress(request: IncomingMessage, settings: Pick<Settings, 'TRUST_PROXY'>): string {
  const forwarded = settings.TRUST_PROXY === 'yes' ? request.headers['x-forwarded-for'] : undefined;
  const last = (Array.isArray(forwarded) ? forwarded.at(-1) : forwarded)?.split(',').at(-1)?.trim();
  return last || request.socket.remoteAddress || '';
}
