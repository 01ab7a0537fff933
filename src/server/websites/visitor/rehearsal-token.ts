import { createHmac, timingSafeEqual } from 'node:crypto';

/** Opens rehearsed notices to sweeps of one site, for a day. */
export function rehearsalToken(secret: string, siteKey: string, now: Date): string {
  return createHmac('sha256', Buffer.from(secret, 'hex'))
    .update(`rehearsal ${siteKey} ${now.toISOString().slice(0, 10)}`)
    .digest('hex');
}

export function isRehearsalToken(
  secret: string,
  siteKey: string,
  now: Date,
  token: string | undefined,
): boolean {
  if (!token || !/^[0-9a-f]{64}$/.test(token)) return false;
  const days = [now, new Date(now.getTime() - 86_400_000)];
  return days.some((day) =>
    timingSafeEqual(Buffer.from(rehearsalToken(secret, siteKey, day)), Buffer.from(token)),
  );
}
