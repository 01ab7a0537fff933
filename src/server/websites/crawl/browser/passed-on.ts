import { validateHeaderName, validateHeaderValue, type IncomingHttpHeaders } from 'node:http';

/** Of one connection alone (RFC 9110, section 7.6.1), and what a proxy must not hand on. */
const OF_ONE_HOP = new Set([
  'connection',
  'keep-alive',
  'proxy-authenticate',
  'proxy-authorization',
  'proxy-connection',
  'te',
  'trailer',
  'transfer-encoding',
  'upgrade',
]);

/**
 * The headers of an answer that may be written again, in their order and with their doubles; whatever a server sends that
 * no header may be is left out.
 */
export function headersToPass(raw: readonly string[]): string[] {
  const named = new Set(
    valuesOf(raw, 'connection').flatMap((v) => v.split(',').map((n) => n.trim().toLowerCase())),
  );
  const passed: string[] = [];
  for (let i = 0; i + 1 < raw.length; i += 2) {
    const [name, value] = [raw[i] as string, raw[i + 1] as string];
    const lower = name.toLowerCase();
    if (!OF_ONE_HOP.has(lower) && !named.has(lower) && isHeader(name, value)) passed.push(name, value);
  }
  return passed;
}

/** The headers of a request as they go on. */
export function requestHeaders(headers: IncomingHttpHeaders): IncomingHttpHeaders {
  return Object.fromEntries(Object.entries(headers).filter(([name]) => !OF_ONE_HOP.has(name)));
}

/** A status that an answer may have; 502 for what is none. */
export function statusToPass(status: number | undefined): number {
  return status !== undefined && status >= 200 && status <= 599 ? status : 502;
}

function isHeader(name: string, value: string): boolean {
  try {
    validateHeaderName(name);
    validateHeaderValue(name, value);
    return true;
  } catch {
    return false;
  }
}

function valuesOf(raw: readonly string[], wanted: string): string[] {
  return raw.flatMap((name, i) => (i % 2 === 0 && name.toLowerCase() === wanted ? [raw[i + 1] ?? ''] : []));
}
