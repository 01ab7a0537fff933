import { expect, it } from 'vitest';
import { behindBecause, DeviceTold, type DeviceStanding } from './device.ts';

const NOW = Date.parse('2026-11-30T10:00:00Z');
const IN_STEP: DeviceStanding = {
  ...{ seenAt: '2026-11-30T09:00:00Z', bundle: 7, aheadMs: 0, trouble: '', endedAt: null },
};

it.each<[Partial<DeviceStanding>, readonly string[]]>([
  [{}, []],
  [{ seenAt: null, bundle: null }, ['it has not come in since it was enrolled']],
  [{ seenAt: '2026-11-23T10:00:01Z' }, []],
  [{ seenAt: '2026-11-23T10:00:00Z' }, ['it was silent for 7 days']],
  [{ bundle: 6 }, ['its rules are one bundle behind']],
  [{ bundle: 3 }, ['its rules are 4 bundles behind']],
  [{ bundle: null }, ['it has taken no rules']],
  [{ aheadMs: 5 * 60_000 }, []],
  [{ aheadMs: 11 * 60_000 }, ['its clock is 11 minutes ahead']],
  [{ aheadMs: -5 * 3_600_000 }, ['its clock is 5 hours behind']],
  [{ aheadMs: 365 * 86_400_000 }, ['its clock is 365 days ahead']],
  [
    { trouble: 'it cannot verify its rules', bundle: 6 },
    ['its rules are one bundle behind', 'it cannot verify its rules'],
  ],
  [{ endedAt: '2026-11-29T00:00:00Z', seenAt: null, bundle: null }, []],
])('a device with %j is behind because of %j', (over, why) =>
  expect(behindBecause({ ...IN_STEP, ...over }, 7, NOW)).toEqual(why),
);

it('tells of itself within bounds', () => {
  const told = { name: 'L', person: ' Jonas@Line.example ', can: ['mail'] };
  expect(DeviceTold.parse(told)).toMatchObject({ person: 'jonas@line.example', platform: '' });
  expect(DeviceTold.safeParse({ ...told, can: ['telepathy'] }).success).toBe(false);
  expect(DeviceTold.safeParse({ ...told, extra: 1 }).success).toBe(false);
});
