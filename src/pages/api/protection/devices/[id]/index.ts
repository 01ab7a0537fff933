import { z } from 'zod';
import { endpoint } from '../../../../../server/http/endpoint.ts';
import { endDevice, viewDevice } from '../../../../../server/protection/devices/devices.ts';

const Input = z.object({ id: z.coerce.number().int().positive() });

export const GET = endpoint({
  action: 'protection.read',
  input: Input,
  run: ({ ctx, input }) => viewDevice(ctx, input.id),
});

/** Its token opens nothing any more. */
export const DELETE = endpoint({
  action: 'protection.devices',
  input: Input,
  run: ({ ctx, account, input }) => endDevice(ctx, account.id, input.id),
});
