import { z } from 'zod';
import type { SlotOption } from '../../../core/rules/sentence.ts';
import { DeviceGroup } from '../../../core/protection/devices/device.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const TABLE: NamedTable<DeviceGroup> = {
  table: 'device_group',
  object: 'device group',
  content: DeviceGroup,
};

/** Devices that rules name together. */
export const DEVICE_GROUP: PlainKind<DeviceGroup> = {
  object: 'device group',
  content: DeviceGroup,
  vocabulary: () => Promise.resolve({ path: () => 'The name', value: () => undefined }),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: (tx, key, content, _before, now) => writeNamed(tx, TABLE, key, content, now),
};

export function addDeviceGroup(tx: Queries, now: Date, by: number | null, name: string): Promise<number> {
  return addNamed(tx, TABLE, now, by, { name });
}

/** By name, with how many devices are in each. */
export async function listDeviceGroups(store: Queries) {
  return store.all(
    z.object({ id: z.coerce.string(), name: z.string(), devices: Count }),
    'SELECT g.id, g.name, (SELECT COUNT(*) FROM device_membership m WHERE m.group_id = g.id) AS devices FROM device_group g ORDER BY g.name',
  );
}

/** As rules name them. */
export async function deviceGroupNames(store: Queries): Promise<readonly SlotOption[]> {
  return (await listDeviceGroups(store)).map((g) => ({
    value: g.id,
    words: g.name,
    detail: `${g.devices} devices`,
  }));
}
