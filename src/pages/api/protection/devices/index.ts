import { z } from 'zod';
import { DEVICE_LIST } from '../../../../core/protection/devices/device-list.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { pageShape } from '../../../../server/lists/list-source.ts';
import { listDevices } from '../../../../server/protection/devices/device-list.ts';
import { groupDevices } from '../../../../server/protection/devices/devices.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object(pageShape(DEVICE_LIST)),
  run: ({ ctx, input }) => listDevices(ctx, input, input.after, input.size),
});

const Ids = z.array(z.int().positive()).max(500, 'At most 500 at once');

/** Says in which groups devices are. */
export const PUT = endpoint({
  action: 'protection.devices',
  input: z.object({ devices: Ids.min(1, 'Choose at least one device'), groups: Ids }),
  run: ({ ctx, account, input }) => groupDevices(ctx, account.id, input),
});
