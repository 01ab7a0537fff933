import { toDatetime } from '../store/columns.ts';

/** Whether the session `s` is open, with `openAt` for its two marks. */
export const OPEN = 's.expires_at > ? AND s.seen_at > ? - INTERVAL s.idle_seconds SECOND';

export function openAt(now: Date): readonly [string, string] {
  return [toDatetime(now), toDatetime(now)];
}
