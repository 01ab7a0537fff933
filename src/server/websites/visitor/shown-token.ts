import { createHmac, timingSafeEqual } from 'node:crypto';

const HOUR_MS = 3600_000;
/** A page may stay open, and a choice may wait in a browser without a line, for this long. */
export const SHOWN_FOR_DAYS = 35;

/**
 * Travels with a notice that is in force, and comes back with the choice made on it: proof that this version was shown
 * to visitors of this site in that hour.
 */
export function shownToken(secret: string, siteKey: string, version: number, now: Date): string {
  return tokenOf(secret, siteKey, version, Math.floor(now.getTime() / HOUR_MS));
}

function tokenOf(secret: string, siteKey: string, version: number, hour: number): string {
  const mac = createHmac('sha256', Buffer.from(secret, 'hex'))
    .update(`shown ${siteKey} ${version} ${hour}`)
    .digest('base64url')
    .slice(0, 27);
  return `${hour.toString(36)}.${mac}`;
}

export function wasShown(
  secret: string,
  siteKey: string,
  version: number,
  now: Date,
  token: string,
): boolean {
  const hour = parseInt(token.split('.')[0] ?? '', 36);
  const age = Math.floor(now.getTime() / HOUR_MS) - hour;
  if (!(age >= -1 && age <= SHOWN_FOR_DAYS * 24)) return false;
  const right = Buffer.from(tokenOf(secret, siteKey, version, hour));
  const given = Buffer.from(token);
  return right.length === given.length && timingSafeEqual(right, given);
}
