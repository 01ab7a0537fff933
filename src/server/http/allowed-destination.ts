import { lookup } from 'node:dns/promises';
import { isIP } from 'node:net';
import { isPublicAddress } from '../../core/address.ts';
import type { Settings } from '../settings.ts';

/** Where an outgoing request may go: the address to connect to (`localhost` for either loopback), or why not. */
export type Destination = { readonly address: string } | { readonly refused: string };

export interface DestinationRules {
  /** `host:port` pairs that may be private; a `*.localhost` host counts as `localhost`. */
  readonly privateAllowed: ReadonlySet<string>;
  /** Everything on private addresses may be reached: for a sweep that its own user started there. */
  readonly anyPrivate?: boolean;
}

export function destinationRules(
  settings: Pick<Settings, 'STANDIN_PORT' | 'STANDIN_TLS_PORT' | 'VISITOR_ORIGIN' | 'ALLOWED_PRIVATE'>,
): DestinationRules {
  const visitor = new URL(settings.VISITOR_ORIGIN);
  const listed = settings.ALLOWED_PRIVATE.split(',')
    .map((s) => s.trim())
    .filter(Boolean);
  return {
    privateAllowed: new Set([
      `localhost:${settings.STANDIN_PORT}`,
      `localhost:${settings.STANDIN_TLS_PORT}`,
      `${loopbackName(visitor.hostname)}:${visitor.port || (visitor.protocol === 'https:' ? '443' : '80')}`,
      ...listed,
    ]),
  };
}

/**
 * Looks a host up once and says which address to connect to, so that a name cannot answer differently a moment later.
 * Every address of the name must be public, unless `host:port` is allowed by the rules.
 */
export async function destination(
  hostname: string,
  port: number,
  rules: DestinationRules,
): Promise<Destination> {
  const host = hostname.replace(/^\[|\]$/g, '').toLowerCase();
  const allowed = rules.anyPrivate === true || isAllowedPrivate(host, port, rules);
  if (loopbackName(host) === 'localhost')
    return allowed ? { address: 'localhost' } : { refused: `${host}:${port} is on this machine` };
  if (isIP(host))
    return allowed || isPublicAddress(host) ? { address: host } : { refused: `${host} is a private address` };
  let found: { address: string }[];
  try {
    found = await lookup(host, { all: true });
  } catch {
    return { refused: `No address is known for ${host}` };
  }
  const inside = found.find((f) => !isPublicAddress(f.address));
  if (inside && !allowed) return { refused: `${host} leads to a private address` };
  return found[0] ? { address: found[0].address } : { refused: `No address is known for ${host}` };
}

/** Whether a private address was allowed by name. */
export function isAllowedPrivate(host: string, port: number, rules: DestinationRules): boolean {
  return rules.privateAllowed.has(`${loopbackName(host)}:${port}`);
}

function loopbackName(host: string): string {
  return host === 'localhost' || host.endsWith('.localhost') ? 'localhost' : host;
}
