import type { Settings } from '../settings.ts';

const LOOPBACK = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * Whether a request comes from the desk itself: scheme, host and port together are those of `WEB_ORIGIN`, or, for a desk
 * on loopback, of another name of it.
 */
export function isDeskOrigin(origin: string, { WEB_ORIGIN }: Pick<Settings, 'WEB_ORIGIN'>): boolean {
  if (!URL.canParse(origin) || !URL.canParse(WEB_ORIGIN)) return false;
  const from = new URL(origin);
  const desk = new URL(WEB_ORIGIN);
  if (from.origin !== origin.toLowerCase() || from.origin === 'null') return false;
  if (from.origin === desk.origin) return true;
  return (
    LOOPBACK.has(desk.hostname) &&
    LOOPBACK.has(from.hostname) &&
    from.protocol === desk.protocol &&
    from.port === desk.port
  );
}

/**
 * Why a request is not taken as one of the desk's; `undefined` where it is. One that writes has to say where it comes
 * from; one that reads must not come from a page of another site, since reading may export and write to the ledger.
 */
export function foreign(request: Request, settings: Pick<Settings, 'WEB_ORIGIN'>): string | undefined {
  const origin = request.headers.get('origin');
  const site = request.headers.get('sec-fetch-site');
  const reads = request.method === 'GET' || request.method === 'HEAD';
  if (origin !== null && !isDeskOrigin(origin, settings)) return 'This request did not come from the desk.';
  if (reads)
    return site === null || site === 'same-origin' || site === 'none'
      ? undefined
      : 'This address is for the desk’s own pages. Open it from there.';
  return origin !== null || site === 'same-origin' ? undefined : 'This request did not come from the desk.';
}
