import { z } from 'zod';
import { DeviceGroup } from '../../../../core/protection/devices/device.ts';
import { endpoint } from '../../../../server/http/endpoint.ts';
import { addDeviceGroup, listDeviceGroups } from '../../../../server/protection/devices/device-groups.ts';

export const GET = endpoint({
  action: 'protection.read',
  input: z.object({}),
  run: ({ ctx }) => listDeviceGroups(ctx.store),
});

export const POST = endpoint({
  action: 'protection.devices',
  input: DeviceGroup,
  run: async ({ ctx, account, input }) => ({
    id: await ctx.store.transaction((tx) => addDeviceGroup(tx, ctx.now(), account.id, input.name)),
  }),
});
