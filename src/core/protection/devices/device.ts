import { z } from 'zod';
import { CHANNELS } from '../handling/channel.ts';

export const DeviceGroup = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
});
export type DeviceGroup = z.infer<typeof DeviceGroup>;

/** How a device tells of itself when it comes in. */
export const DeviceTold = z.strictObject({
  name: z.string().trim().min(1, 'Say what it is called').max(120),
  /** Whose it is, as the list of staff has it. */
  person: z.string().trim().toLowerCase().min(1, 'Say whose it is').max(254),
  platform: z.string().trim().max(60).default(''),
  /** Channels that it can watch. */
  can: z.array(z.enum(CHANNELS)).max(CHANNELS.length),
});
export type DeviceTold = z.infer<typeof DeviceTold>;

/** A device that was silent so long is behind, in days. */
export const SILENT_DAYS = 7;
/** A clock that is farther off is told, in milliseconds. */
export const CLOCK_OFF_MS = 5 * 60_000;

export interface DeviceStanding {
  readonly seenAt: string | null;
  readonly bundle: number | null;
  readonly aheadMs: number;
  readonly trouble: string;
  readonly endedAt: string | null;
}

/** Why a device does not do what the rules say now; none where it is in step. `now` in milliseconds. */
export function behindBecause(
  { seenAt, bundle, aheadMs, trouble, endedAt }: DeviceStanding,
  newest: number,
  now: number,
): readonly string[] {
  if (endedAt !== null) return [];
  if (seenAt === null) return ['it has not come in since it was enrolled'];
  const why: string[] = [];
  const days = Math.floor((now - Date.parse(seenAt)) / 86_400_000);
  if (days >= SILENT_DAYS) why.push(`it was silent for ${days} days`);
  if (bundle === null) why.push('it has taken no rules');
  else if (bundle < newest)
    why.push(`its rules are ${newest - bundle === 1 ? 'one bundle' : `${newest - bundle} bundles`} behind`);
  if (Math.abs(aheadMs) > CLOCK_OFF_MS)
    why.push(`its clock is ${spanWords(Math.abs(aheadMs))} ${aheadMs > 0 ? 'ahead' : 'behind'}`);
  if (trouble !== '') why.push(trouble);
  return why;
}

function spanWords(ms: number): string {
  const minutes = Math.round(ms / 60_000);
  if (minutes < 120) return `${minutes} minutes`;
  const hours = Math.round(minutes / 60);
  return hours < 48 ? `${hours} hours` : `${Math.round(hours / 24)} days`;
}
